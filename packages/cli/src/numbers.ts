import { ciede2000, idHash, type Lab } from '@june-haze/core';
import { standardInput } from './standardInput.ts';

export async function deltaE(): Promise<void> {
  const pairs = pairsOf(await standardInput());
  process.stdout.write(`${JSON.stringify(pairs.map(([a, b]) => ciede2000(a, b)))}\n`);
}

const number = (x: unknown) => typeof x === 'number';
const isLab = (x: unknown): x is Lab => Array.isArray(x) && x.length === 3 && x.every(number);
const isPair = (x: unknown): x is [Lab, Lab] => Array.isArray(x) && x.length === 2 && x.every(isLab);

/** Pairs of CIELAB colours from a text. Throws a sentence when it is none. */
function pairsOf(text: string): [Lab, Lab][] {
  let read: unknown;
  try {
    read = JSON.parse(text);
  } catch {
    read = undefined;
  }
  if (!Array.isArray(read) || !read.every(isPair))
    throw new Error('Give pairs of CIELAB colours as JSON on standard input: [[[L,a,b],[L,a,b]], …].');
  return read;
}

export function hashes(names: string[]): Promise<void> {
  const found = Object.fromEntries(
    names.map((n) => [n, { hash: idHash(n).hash.toString(16).padStart(8, '0'), float: idHash(n).float }]),
  );
  process.stdout.write(`${JSON.stringify(found)}\n`);
  return Promise.resolve();
}
