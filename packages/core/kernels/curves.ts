import { powx4 } from './transcendental';

/** x <= cut ? slope * x : scale * x^exponent - offset. Straight through 0 for negatives. */
export function encodeCurve(p: usize, n: i32, cut: f32, slope: f32, scale: f32, exponent: f32, offset: f32): void {
  const e = f32x4.splat(exponent);
  for (let i = 0; i < n; i += 4) {
    const o = p + ((<usize>i) << 2);
    const x = v128.load(o);
    const bent = f32x4.sub(f32x4.mul(f32x4.splat(scale), powx4(x, e)), f32x4.splat(offset));
    const straight = f32x4.mul(f32x4.splat(slope), x);
    v128.store(o, v128.bitselect(straight, bent, f32x4.le(x, f32x4.splat(cut))));
  }
}

/** x <= cut ? x / slope : ((x + offset) / scale)^exponent. */
export function decodeCurve(p: usize, n: i32, cut: f32, slope: f32, scale: f32, exponent: f32, offset: f32): void {
  const e = f32x4.splat(exponent);
  for (let i = 0; i < n; i += 4) {
    const o = p + ((<usize>i) << 2);
    const x = v128.load(o);
    const bent = powx4(f32x4.div(f32x4.add(x, f32x4.splat(offset)), f32x4.splat(scale)), e);
    const straight = f32x4.div(x, f32x4.splat(slope));
    v128.store(o, v128.bitselect(straight, bent, f32x4.le(x, f32x4.splat(cut))));
  }
}

/** x + offset. */
export function offsetPlane(p: usize, n: i32, offset: f32): void {
  for (let i = 0; i < n; i += 4) {
    const o = p + ((<usize>i) << 2);
    v128.store(o, f32x4.add(v128.load(o), f32x4.splat(offset)));
  }
}

/** Limits to low … high; NaN stays NaN. */
export function clampPlane(p: usize, n: i32, low: f32, high: f32): void {
  for (let i = 0; i < n; i += 4) {
    const o = p + ((<usize>i) << 2);
    v128.store(o, f32x4.min(f32x4.max(v128.load(o), f32x4.splat(low)), f32x4.splat(high)));
  }
}
