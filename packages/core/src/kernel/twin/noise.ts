import { pcgHash } from '../pcgHash.ts';

const f = Math.fround;

/** Twins of kernels/noise.ts. */
export function twinNoise(heap: () => ArrayBuffer) {
  return {
    addNoise(
      to: number,
      light: number,
      strength: number,
      own: number,
      ofOwn: number,
      shared: number,
      ofShared: number,
      n: number,
    ): void {
      const [t, l, s, a, b] = [to, light, strength, own, shared].map((at) => new Float32Array(heap(), at, n)) as [
        Float32Array,
        Float32Array,
        Float32Array,
        Float32Array,
        Float32Array,
      ];
      for (let i = 0; i < n; i++) {
        const first = f(f(ofOwn) * a[i]!);
        const noise = shared === 0 ? first : f(first + f(f(ofShared) * b[i]!));
        t[i] = f(l[i]! + f(noise * s[i]!));
      }
    },
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
