import { exp2Float, log2Float, powFloat } from './transcendental.ts';

const f = Math.fround;

type SevenNumbers = [number, number, number, number, number, number, number];
const logCurve = (heap: ArrayBuffer, at: number) => [...new Float32Array(heap, at, 7)] as SevenNumbers;

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
      const [l, h] = [f(low), f(high)];
      for (let i = 0; i < n; i++) {
        const x = plane[i]! < l ? l : plane[i]!;
        plane[i] = h < x ? h : x;
      }
    },
    encodeLog(p: number, n: number, curve: number) {
      const plane = new Float32Array(heap(), p, n);
      const [cut, a, b, c, d, e, g] = logCurve(heap(), curve);
      for (let i = 0; i < n; i++) {
        const x = plane[i]!;
        plane[i] = x > cut ? f(a * log2Float(f(f(b * x) + c))) + d : f(e * x) + g;
      }
    },
    decodeLog(p: number, n: number, curve: number) {
      const plane = new Float32Array(heap(), p, n);
      const [cut, a, b, c, d, e, g] = logCurve(heap(), curve);
      for (let i = 0; i < n; i++) {
        const y = plane[i]!;
        plane[i] = y > cut ? f(exp2Float(f(f(y - d) / a)) - c) / b : f(y - g) / e;
      }
    },
    encodePq(p: number, n: number) {
      const plane = new Float32Array(heap(), p, n);
      const [hundredth, m1, m2] = [f(0.01), f(0.1593017578125), f(78.84375)];
      for (let i = 0; i < n; i++) {
        const l = powFloat(f(plane[i]! * hundredth), m1);
        plane[i] = powFloat(f(f(0.8359375 + f(18.8515625 * l)) / f(1 + f(18.6875 * l))), m2);
      }
    },
    decodePq(p: number, n: number) {
      const plane = new Float32Array(heap(), p, n);
      const [m1, m2] = [f(6.277394636015326), f(0.012683313515655966)];
      for (let i = 0; i < n; i++) {
        const v = powFloat(plane[i]!, m2);
        const above = Math.max(f(v - 0.8359375), 0);
        plane[i] = f(powFloat(f(above / f(18.8515625 - f(18.6875 * v))), m1) * 100);
      }
    },
  };
}
