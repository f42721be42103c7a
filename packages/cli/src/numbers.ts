import { ciede2000, idHash, type Lab } from '@june-haze/core';
import { standardInput } from './standardInput.ts';

export async function deltaE(): Promise<void> {
  const pairs = JSON.parse(await standardInput()) as [Lab, Lab][];
  process.stdout.write(`${JSON.stringify(pairs.map(([a, b]) => ciede2000(a, b)))}\n`);
}

export function hashes(names: string[]): Promise<void> {
  const found = Object.fromEntries(
    names.map((n) => [n, { hash: idHash(n).hash.toString(16).padStart(8, '0'), float: idHash(n).float }]),
  );
  process.stdout.write(`${JSON.stringify(found)}\n`);
  return Promise.resolve();
}
