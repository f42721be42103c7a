import { exp2Float, log2Float } from './twin/transcendental.ts';

/**
 * Powers and logarithms for steps without a kernel: float32, the same bits in every engine (see kernels/transcendental.ts).
 * Math.pow and its kin differ between engines in their last bits and must not be used on pixels.
 */
const f = Math.fround;

/** x^p; 0 for x <= 0. */
export function powExact(x: number, p: number): number {
  return x <= 0 ? 0 : exp2Float(f(f(p) * log2Float(f(x))));
}

/** |x|^p with the sign of x. */
export function powMirrored(x: number, p: number): number {
  return x < 0 ? -powExact(-x, p) : powExact(x, p);
}

export function exp2Exact(x: number): number {
  return exp2Float(f(x));
}

export function log2Exact(x: number): number {
  return log2Float(f(x));
}

/** Arctangent for x >= 0 in float64 with exact operations only. S. L. Moshier, Cephes mathematical library (atan.c), coefficients from memory, checked in the tests. */
function arctangent(x0: number): number {
  let x = x0;
  let base = 0;
  if (x > 2.4142135623730950488) {
    base = Math.PI / 2;
    x = -1 / x;
  } else if (x > 0.66) {
    base = Math.PI / 4;
    x = (x - 1) / (x + 1);
  }
  const z = x * x;
  const above =
    (((-8.750608600031904122785e-1 * z - 1.615753718733365076637e1) * z - 7.50085579231470466734e1) * z -
      1.22886668449013617341e2) *
      z -
    6.485021904942025371773e1;
  const below =
    ((((z + 2.485846490142306297962e1) * z + 1.650270098316988542046e2) * z + 4.328810604912902668951e2) * z +
      4.853903996359136964868e2) *
      z +
    1.945506571482613964425e2;
  return base + ((z * above) / below) * x + x;
}

/** The angle of (x, y) in -π … π; the same bits in every engine, within 1e-14. */
export function arctangent2(y: number, x: number): number {
  if (x === 0 && y === 0) return 0;
  const angle = x === 0 ? Math.PI / 2 : arctangent(Math.abs(y / x));
  const half = x < 0 ? Math.PI - angle : angle;
  return y < 0 ? -half : half;
}
