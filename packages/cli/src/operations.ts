import { describeOperations, operationsPage } from '@june-haze/core';
import { jobJsonSchema } from '@june-haze/contract';

/** `june operations`: the registry, as JSON or as the page of the documentation; or the schema of jobs that is made from it. */
export function operations(options: { json?: boolean; jobSchema?: boolean }): Promise<void> {
  const json = (value: object) => `${JSON.stringify(value, undefined, 2)}\n`;
  if (options.jobSchema) process.stdout.write(json(jobJsonSchema()));
  else process.stdout.write(options.json ? json(describeOperations()) : operationsPage());
  return Promise.resolve();
}
