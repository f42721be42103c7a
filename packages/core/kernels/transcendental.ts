// Float32 exp2, log2 and pow. The engines' own differ in their last bits; these do not.
// Polynomials: S. L. Moshier, Cephes mathematical library (single precision exp2f, logf), coefficients from memory,
// checked against float64 in the tests with the error bounds stated there.

// @ts-ignore: decorator
@inline
/** 2^x. Below -126 the result is 0, from 128 on infinity. */
export function exp2x4(x: v128): v128 {
  // Adding 1.5 * 2^23 rounds to the nearest whole number and leaves it in the low bits; what is too large for that is replaced below.
  const shifted = f32x4.add(x, f32x4.splat(12582912));
  const whole = f32x4.sub(shifted, f32x4.splat(12582912));
  const f = f32x4.sub(x, whole);
  let p = f32x4.splat(1.53533618e-4);
  p = f32x4.add(f32x4.mul(p, f), f32x4.splat(1.339887440e-3));
  p = f32x4.add(f32x4.mul(p, f), f32x4.splat(9.618437357e-3));
  p = f32x4.add(f32x4.mul(p, f), f32x4.splat(5.550332471e-2));
  p = f32x4.add(f32x4.mul(p, f), f32x4.splat(2.402264791e-1));
  p = f32x4.add(f32x4.mul(p, f), f32x4.splat(6.931472028e-1));
  p = f32x4.add(f32x4.mul(p, f), f32x4.splat(1));
  // Two factors, so that exponents up to 128 do not overflow the scale itself.
  const e = i32x4.sub(shifted, i32x4.splat(0x4b400000));
  const e1 = i32x4.shr_s(e, 1);
  const e2 = i32x4.sub(e, e1);
  const s1 = i32x4.shl(i32x4.add(e1, i32x4.splat(127)), 23);
  const s2 = i32x4.shl(i32x4.add(e2, i32x4.splat(127)), 23);
  let y = f32x4.mul(f32x4.mul(p, s1), s2);
  y = v128.bitselect(f32x4.splat(0), y, f32x4.lt(x, f32x4.splat(-126)));
  y = v128.bitselect(f32x4.splat(Infinity), y, f32x4.ge(x, f32x4.splat(128)));
  return v128.bitselect(y, f32x4.splat(NaN), f32x4.eq(x, x));
}

// @ts-ignore: decorator
@inline
/** log2(x); the argument is clamped to the smallest normal float, so 0 and below give -126. */
export function log2x4(x0: v128): v128 {
  // pmin and pmax: one instruction each; NaN is replaced below.
  const x = f32x4.pmin(f32x4.pmax(x0, f32x4.splat(1.1754943508222875e-38)), f32x4.splat(3.4028234663852886e38));
  const offset = i32x4.sub(x, i32x4.splat(0x3f3504f3)); // bits of sqrt(1/2)
  const e = i32x4.shr_s(offset, 23);
  const m = i32x4.add(v128.and(offset, i32x4.splat(0x007fffff)), i32x4.splat(0x3f3504f3));
  const z = f32x4.sub(m, f32x4.splat(1));
  const zz = f32x4.mul(z, z);
  let p = f32x4.splat(7.0376836292e-2);
  p = f32x4.add(f32x4.mul(p, z), f32x4.splat(-1.1514610310e-1));
  p = f32x4.add(f32x4.mul(p, z), f32x4.splat(1.1676998740e-1));
  p = f32x4.add(f32x4.mul(p, z), f32x4.splat(-1.2420140846e-1));
  p = f32x4.add(f32x4.mul(p, z), f32x4.splat(1.4249322787e-1));
  p = f32x4.add(f32x4.mul(p, z), f32x4.splat(-1.6668057665e-1));
  p = f32x4.add(f32x4.mul(p, z), f32x4.splat(2.0000714765e-1));
  p = f32x4.add(f32x4.mul(p, z), f32x4.splat(-2.4999993993e-1));
  p = f32x4.add(f32x4.mul(p, z), f32x4.splat(3.3333331174e-1));
  const y = f32x4.sub(f32x4.mul(f32x4.mul(zz, z), p), f32x4.mul(f32x4.splat(0.5), zz));
  const log2eMinus1 = f32x4.splat(0.44269504088896340735992);
  let r = f32x4.mul(y, log2eMinus1);
  r = f32x4.add(r, f32x4.mul(z, log2eMinus1));
  r = f32x4.add(r, y);
  r = f32x4.add(r, z);
  r = f32x4.add(r, f32x4.convert_i32x4_s(e));
  return v128.bitselect(r, f32x4.splat(NaN), f32x4.eq(x0, x0));
}

// @ts-ignore: decorator
@inline
/** x^p for p > 0; 0 for x <= 0 (a curve's argument never means anything there). */
export function powx4(x: v128, p: v128): v128 {
  const y = exp2x4(f32x4.mul(p, log2x4(x)));
  return v128.bitselect(f32x4.splat(0), y, f32x4.le(x, f32x4.splat(0)));
}

// @ts-ignore: decorator
@inline
/** The angle of y over x, both positive, up to 67.5 degrees, in radians: folded by 45 degrees once (Cephes atanf), so that one division does. */
export function arctangentx4(y: v128, x: v128): v128 {
  const far = f32x4.gt(y, f32x4.mul(x, f32x4.splat(0.414213562373095)));
  const t = f32x4.div(v128.bitselect(f32x4.sub(y, x), y, far), v128.bitselect(f32x4.add(y, x), x, far));
  const z = f32x4.mul(t, t);
  let p = f32x4.splat(8.05374449538e-2);
  p = f32x4.add(f32x4.mul(p, z), f32x4.splat(-1.38776856032e-1));
  p = f32x4.add(f32x4.mul(p, z), f32x4.splat(1.99777106478e-1));
  p = f32x4.add(f32x4.mul(p, z), f32x4.splat(-3.33329491539e-1));
  const angle = f32x4.add(f32x4.mul(f32x4.mul(p, z), t), t);
  return f32x4.add(angle, v128.and(f32x4.splat(0.7853981633974483), far));
}

export function exp2Plane(p: usize, n: i32): void {
  for (let i = 0; i < n; i += 4) v128.store(p + (<usize>i << 2), exp2x4(v128.load(p + (<usize>i << 2))));
}

export function log2Plane(p: usize, n: i32): void {
  for (let i = 0; i < n; i += 4) v128.store(p + (<usize>i << 2), log2x4(v128.load(p + (<usize>i << 2))));
}

export function powPlane(p: usize, n: i32, exponent: f32): void {
  const e = f32x4.splat(exponent);
  for (let i = 0; i < n; i += 4) v128.store(p + (<usize>i << 2), powx4(v128.load(p + (<usize>i << 2)), e));
}

/** x^exponent above 0; 0 and below stay as they are. */
export function powKeepPlane(p: usize, n: i32, exponent: f32): void {
  const e = f32x4.splat(exponent);
  for (let i = 0; i < n; i += 4) {
    const o = p + ((<usize>i) << 2);
    const x = v128.load(o);
    v128.store(o, v128.bitselect(powx4(x, e), x, f32x4.gt(x, f32x4.splat(0))));
  }
}

/** |x|^exponent with the sign of x. */
export function powMirrorPlane(p: usize, n: i32, exponent: f32): void {
  const e = f32x4.splat(exponent);
  const sign = i32x4.splat(0x80000000);
  for (let i = 0; i < n; i += 4) {
    const o = p + ((<usize>i) << 2);
    const x = v128.load(o);
    v128.store(o, v128.or(powx4(f32x4.abs(x), e), v128.and(x, sign)));
  }
}
