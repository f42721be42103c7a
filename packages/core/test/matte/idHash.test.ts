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
  for (let i = 0; i < 5000; i++) {
    const { float } = idHash(`crate ${i}`);
    expect(Number.isFinite(float) && Math.abs(float) >= 2 ** -126).toBe(true);
  }
});
