/** A 32-bit hash of a number: PCG's output permutation (M. E. O'Neill, 2014), as published for shaders by Jarzynski and Olano (JCGT 9-3, 2020). */
export function pcgHash(value: number): number {
  const state = (Math.imul(value, 747796405) + 2891336453) >>> 0;
  const word = Math.imul(((state >>> ((state >>> 28) + 4)) ^ state) >>> 0, 277803737) >>> 0;
  return ((word >>> 22) ^ word) >>> 0;
}

/** The spread of a sum of four bytes of 0 … 255, each as likely: each has a variance of (256² − 1) / 12. */
const spreadOfFour = Math.sqrt((4 * (256 * 256 - 1)) / 12);

/** Fills rows of a plane with numbers of mean 0 and spread 1, nearly normal; each hangs on its place, the frame, a seed and a channel alone. */
export function gaussianNoise(
  plane: Float32Array,
  width: number,
  top: number,
  frame: number,
  seed: number,
  channel: number,
): void {
  const base = pcgHash(
    (pcgHash(Math.round(seed) + 0x9e37) ^ Math.imul(Math.round(frame) | 0, 0x85ebca6b) ^ (channel << 28)) >>> 0,
  );
  for (let i = 0, y = top; i < plane.length; y++) {
    const row = pcgHash((base ^ Math.imul(y + 1, 0xc2b2ae35)) >>> 0);
    for (let x = 0; x < width; x++, i++) {
      const h = pcgHash((row + x) >>> 0);
      const sum = (h & 255) + ((h >>> 8) & 255) + ((h >>> 16) & 255) + (h >>> 24);
      plane[i] = (sum - 510) / spreadOfFour;
    }
  }
}
