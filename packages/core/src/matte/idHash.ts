import { encodeUtf8 } from '../exr/attributes.ts';

/** MurmurHash3_x86_32 with seed 0, as the Cryptomatte specification 1.2 asks (A. Appleby, public domain). */
export function murmur3(bytes: Uint8Array): number {
  let h = 0;
  const blocks = bytes.length >> 2;
  const scramble = (k: number) => Math.imul(rotate(Math.imul(k, 0xcc9e2d51), 15), 0x1b873593);
  for (let i = 0; i < blocks; i++) {
    const k = bytes[4 * i]! | (bytes[4 * i + 1]! << 8) | (bytes[4 * i + 2]! << 16) | (bytes[4 * i + 3]! << 24);
    h = (Math.imul(rotate(h ^ scramble(k), 13), 5) + 0xe6546b64) | 0;
  }
  let tail = 0;
  for (let i = bytes.length - 1; i >= blocks * 4; i--) tail = (tail << 8) | bytes[i]!;
  if (bytes.length & 3) h ^= scramble(tail);
  h ^= bytes.length;
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return (h ^ (h >>> 16)) >>> 0;
}

const rotate = (x: number, by: number) => (x << by) | (x >>> (32 - by));

/** The hash of a name with bit 23 flipped where the bits would be no ordinary float (exponents 0 and 255). */
export function idHash(name: string): { hash: number; float: number } {
  let hash = murmur3(encodeUtf8(name));
  const exponent = (hash >>> 23) & 255;
  if (exponent === 0 || exponent === 255) hash = (hash ^ (1 << 23)) >>> 0;
  const word = new Uint32Array([hash]);
  return { hash, float: new Float32Array(word.buffer)[0]! };
}
