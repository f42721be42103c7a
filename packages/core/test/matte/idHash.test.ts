import { expect, test } from '@jest/globals';
import { idHash, murmur3 } from '../../src/matte/idHash.ts';

// Published vectors of MurmurHash3_x86_32, seed 0 (from memory; widely reproduced).
test.each([
  ['', 0],
  ['test', 0xba6bd213],
  ['Hello, world!', 0xc0363e43],
  ['The quick brown fox jumps over the lazy dog', 0x2e4ff723],
])('murmur3 of %j', (text, expected) => {
  expect(murmur3(new TextEncoder().encode(text))).toBe(expected);
});

test('an ID is always an ordinary float', () => {
  const floats = Array.from({ length: 5000 }, (_, i) => idHash(`crate ${i}`).float);
  expect(floats.filter((f) => !(Number.isFinite(f) && Math.abs(f) >= 2 ** -126))).toEqual([]);
});
