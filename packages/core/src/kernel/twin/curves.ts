import { powFloat } from './transcendental.ts';

const f = Math.fround;

/** Twins of kernels/curves.ts. */
export function twinCurves(heap: () => ArrayBuffer) {
  return {
    encodeCurve(p: number, n: number, cut: number, slope: number, scale: number, exponent: number, offset: number) {
      const plane = new Float32Array(heap(), p, n);
      const [c, m, k, e, o] = [f(cut), f(slope), f(scale), f(exponent), f(offset)];
      for (let i = 0; i < n; i++) {
        const x = plane[i]!;
        plane[i] = x <= c ? m * x : f(k * powFloat(x, e)) - o;
      }
    },
    decodeCurve(p: number, n: number, cut: number, slope: number, scale: number, exponent: number, offset: number) {
      const plane = new Float32Array(heap(), p, n);
      const [c, m, k, e, o] = [f(cut), f(slope), f(scale), f(exponent), f(offset)];
      for (let i = 0; i < n; i++) {
        const x = plane[i]!;
        plane[i] = x <= c ? x / m : powFloat(f(f(x + o) / k), e);
      }
    },
    offsetPlane(p: number, n: number, offset: number) {
      const plane = new Float32Array(heap(), p, n);
      for (let i = 0; i < n; i++) plane[i] = plane[i]! + f(offset);
    },
    clampPlane(p: number, n: number, low: number, high: number) {
      const plane = new Float32Array(heap(), p, n);
      for (let i = 0; i < n; i++) plane[i] = Math.min(Math.max(plane[i]!, f(low)), f(high));
    },
  };
}
