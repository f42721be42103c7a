const f = Math.fround;
const word = new Int32Array(1);
const real = new Float32Array(word.buffer);

const exp2Coefficients = [
  1.53533618e-4, 1.33988744e-3, 9.618437357e-3, 5.550332471e-2, 2.402264791e-1, 6.931472028e-1, 1,
].map(f);
const logCoefficients = [
  7.0376836292e-2, -1.151461031e-1, 1.167699874e-1, -1.2420140846e-1, 1.4249322787e-1, -1.6668057665e-1,
  2.0000714765e-1, -2.4999993993e-1, 3.3333331174e-1,
].map(f);
const log2eMinus1 = f(0.44269504088896340735992);
const smallestNormal = f(1.1754943508222875e-38);
const largest = f(3.4028234663852886e38);

function nearestEven(x: number): number {
  const r = Math.round(x);
  return r - x === 0.5 && r % 2 !== 0 ? r - 1 : r;
}

function powerOfTwo(e: number): number {
  word[0] = (e + 127) << 23;
  return real[0]!;
}

/** 2^x for a float32 x, as the kernel computes it: relative error below 2e-7; 0 below -126, infinite from 128. */
export function exp2Float(x: number): number {
  if (x !== x) return NaN;
  if (x < -126) return 0;
  if (x >= 128) return Infinity;
  const whole = nearestEven(x);
  const t = f(x - whole);
  let p = exp2Coefficients[0]!;
  for (let i = 1; i < 7; i++) p = f(f(p * t) + exp2Coefficients[i]!);
  const e1 = whole >> 1;
  return f(f(p * powerOfTwo(e1)) * powerOfTwo(whole - e1));
}

/** log2(x) for a float32 x; the argument is clamped to the smallest normal float. */
export function log2Float(x0: number): number {
  if (x0 !== x0) return NaN;
  real[0] = Math.min(Math.max(x0, smallestNormal), largest);
  const offset = (word[0]! - 0x3f3504f3) | 0;
  const e = offset >> 23;
  word[0] = ((offset & 0x007fffff) + 0x3f3504f3) | 0;
  const z = f(real[0]! - 1);
  const zz = f(z * z);
  let p = logCoefficients[0]!;
  for (let i = 1; i < 9; i++) p = f(f(p * z) + logCoefficients[i]!);
  const y = f(f(f(zz * z) * p) - f(0.5 * zz));
  let r = f(y * log2eMinus1);
  r = f(r + f(z * log2eMinus1));
  r = f(r + y);
  r = f(r + z);
  return f(r + e);
}

/** x^p for p > 0; 0 for x <= 0. */
export function powFloat(x: number, p: number): number {
  return x <= 0 ? 0 : exp2Float(f(p * log2Float(x)));
}

const [A0, A1, A2, A3] = [8.05374449538e-2, -1.38776856032e-1, 1.99777106478e-1, -3.33329491539e-1].map(f) as [
  number,
  number,
  number,
  number,
];
const eighthTurn = f(0.7853981633974483);

/** The angle of y over x, both positive, up to 67.5 degrees, in radians, as the kernel computes it. */
export function arctangentFloat(y: number, x: number): number {
  const far = y > f(x * f(0.414213562373095));
  const t = far ? f(f(y - x) / f(y + x)) : f(y / x);
  const z = f(t * t);
  let p = f(f(A0 * z) + A1);
  p = f(f(p * z) + A2);
  p = f(f(p * z) + A3);
  const angle = f(f(f(p * z) * t) + t);
  return f(angle + (far ? eighthTurn : 0));
}

/** Twins of kernels/transcendental.ts. */
export function twinTranscendental(heap: () => ArrayBuffer) {
  const each = (pointer: number, n: number, change: (x: number) => number) => {
    const plane = new Float32Array(heap(), pointer, n);
    for (let i = 0; i < n; i++) plane[i] = change(plane[i]!);
  };
  return {
    exp2Plane: (pointer: number, n: number) => each(pointer, n, exp2Float),
    log2Plane: (pointer: number, n: number) => each(pointer, n, log2Float),
    powPlane(pointer: number, n: number, exponent: number): void {
      const e = f(exponent);
      each(pointer, n, (x) => powFloat(x, e));
    },
    powKeepPlane(pointer: number, n: number, exponent: number): void {
      const e = f(exponent);
      each(pointer, n, (x) => (x > 0 ? powFloat(x, e) : x));
    },
    powMirrorPlane(pointer: number, n: number, exponent: number): void {
      const e = f(exponent);
      each(pointer, n, (x) => (x < 0 || Object.is(x, -0) ? -powFloat(-x, e) : powFloat(x, e)));
    },
  };
}
