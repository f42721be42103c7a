import { pcgHash } from '../pcgHash.ts';

const f = Math.fround;

/** Twins of kernels/noise.ts. */
export function twinNoise(heap: () => ArrayBuffer) {
  return {
    noiseRow(to: number, n: number, seed: number, spread: number): void {
      const t = new Float32Array(heap(), to, n);
      for (let i = 0; i < n; i++) {
        const h = pcgHash((seed + i) >>> 0);
        const sum = (h & 255) + ((h >>> 8) & 255) + ((h >>> 16) & 255) + (h >>> 24);
        t[i] = f((sum - 510) / f(spread));
      }
    },
  };
}
