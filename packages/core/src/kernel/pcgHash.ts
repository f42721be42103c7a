/** A 32-bit hash of a number: PCG's output permutation (M. E. O'Neill, 2014), as published for shaders by Jarzynski and Olano (JCGT 9-3, 2020). */
export function pcgHash(value: number): number {
  const state = (Math.imul(value, 747796405) + 2891336453) >>> 0;
  const word = Math.imul(((state >>> ((state >>> 28) + 4)) ^ state) >>> 0, 277803737) >>> 0;
  return ((word >>> 22) ^ word) >>> 0;
}
