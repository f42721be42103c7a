import { pcgHash } from '../kernel/pcgHash.ts';

/**
 * Samples of 16 bits as 8-bit codes whose mean is what they were: what lies between two codes is given to the upper one as often as it is near to
 * it, by a chance that hangs on place, channel and `seed` alone. A number that is a code already stays it; none moves by a whole code.
 * (Non-subtractive dither of rectangular density: the mean of the error is zero; Lipshitz, Wannamaker and Vanderkooy, J. AES 40-5, 1992.)
 */
export function ditherCodes(samples: Uint16Array, seed: number): Uint8Array {
  const codes = new Uint8Array(samples.length);
  const base = pcgHash(Math.imul(seed | 0, 0x85ebca6b) >>> 0);
  for (let i = 0; i < samples.length; i++) {
    // 65535 is 255 times 257: the chance is one of 257, from 0 to 256.
    const chance = pcgHash((base + i) >>> 0) % 257;
    codes[i] = (samples[i]! + chance) / 257;
  }
  return codes;
}
