/**
 * Powers and logarithms for steps without a kernel: float64 by exact operations only (+ − × ÷ and bits), so the same in every engine.
 * Math.pow and its kin differ between engines in their last bits and must not be used on pixels. Relative error below 1e-11. Range and
 * limits are those of float32, as in the kernels (kernels/transcendental.ts), which are float32 throughout.
 */
const real = new Float64Array(1);
const words = new Uint32Array(real.buffer);
/** Which of the two words holds the sign and the exponent. */
const high = new Uint32Array(new Float64Array([1]).buffer)[1] === 0 ? 0 : 1;

const smallestNormal = 1.1754943508222875e-38;
const largest = 3.4028234663852886e38;
const ln2 = Math.LN2;
const inverseLn2 = Math.LOG2E;

const lowestPower = -126;
const powersOfTwo = Float64Array.from({ length: 255 }, (_, i) => 2 ** (i + lowestPower));

/** 2^x; 0 below -126, infinite from 128. Taylor's series to the ninth power on |x − n| <= 1/2. */
export function exp2Exact(x: number): number {
  if (!(x >= lowestPower && x < 128)) return x < lowestPower ? 0 : x >= 128 ? Infinity : NaN;
  const whole = Math.floor(x + 0.5);
  const t = (x - whole) * ln2;
  const tt = t * t;
  // Even and odd powers apart, so that the two chains run side by side.
  const even = (((tt * (1 / 40320) + 1 / 720) * tt + 1 / 24) * tt + 0.5) * tt + 1;
  const odd = (((tt * (1 / 362880) + 1 / 5040) * tt + 1 / 120) * tt + 1 / 6) * tt + 1;
  const p = even + t * odd;
  return whole === 128 ? p * 2 * powersOfTwo[127 - lowestPower]! : p * powersOfTwo[whole - lowestPower]!;
}

/** log2(x); the argument is held between the smallest normal and the largest float32. Series of the area tangent to the fifteenth power. */
export function log2Exact(x: number): number {
  if (x !== x) return NaN;
  real[0] = x < smallestNormal ? smallestNormal : x > largest ? largest : x;
  // Exponent and a fraction between sqrt(1/2) and sqrt(2): 0x3fe6a09e is the high word of sqrt(1/2).
  const offset = (words[high]! - 0x3fe6a09e) | 0;
  const exponent = offset >> 20;
  words[high] = (offset & 0x000fffff) + 0x3fe6a09e;
  const m = real[0];
  const s = (m - 1) / (m + 1);
  const z = s * s;
  const zz = z * z;
  const even = ((2 / 13) * zz + 2 / 9) * zz * zz + (2 / 5) * zz + 2;
  const odd = ((2 / 15) * zz + 2 / 11) * zz * zz + (2 / 7) * zz + 2 / 3;
  const p = even + z * odd;
  return exponent + p * s * inverseLn2;
}

/** x^p; 0 for x <= 0. */
export function powExact(x: number, p: number): number {
  return x <= 0 ? 0 : exp2Exact(p * log2Exact(x));
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
