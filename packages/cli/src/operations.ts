import { describeOperations, operationsPage } from '@june-haze/core';

/** `june operations`: the registry, as JSON or as the page of the documentation. */
export function operations(options: { json?: boolean }): Promise<void> {
  process.stdout.write(options.json ? `${JSON.stringify(describeOperations(), undefined, 2)}\n` : operationsPage());
  return Promise.resolve();
}
