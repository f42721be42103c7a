import { exp2x4, log2x4, powx4 } from './transcendental';

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
    v128.store(o, f32x4.pmin(f32x4.pmax(v128.load(o), f32x4.splat(low)), f32x4.splat(high)));
  }
}

/** x > cut ? a * log2(b * x + c) + d : e * x + f: the camera log curves and ACEScct. Seven floats at k: cut, a, b, c, d, e, f. */
export function encodeLog(p: usize, n: i32, k: usize): void {
  const cut = v128.load_splat<f32>(k);
  const a = v128.load_splat<f32>(k, 4);
  const b = v128.load_splat<f32>(k, 8);
  const c = v128.load_splat<f32>(k, 12);
  const d = v128.load_splat<f32>(k, 16);
  const e = v128.load_splat<f32>(k, 20);
  const g = v128.load_splat<f32>(k, 24);
  for (let i = 0; i < n; i += 4) {
    const o = p + ((<usize>i) << 2);
    const x = v128.load(o);
    const bent = f32x4.add(f32x4.mul(a, log2x4(f32x4.add(f32x4.mul(b, x), c))), d);
    const straight = f32x4.add(f32x4.mul(e, x), g);
    v128.store(o, v128.bitselect(bent, straight, f32x4.gt(x, cut)));
  }
}

/** y > cut ? (2^((y - d) / a) - c) / b : (y - f) / e. Seven floats at k: cut (on the log side), a, b, c, d, e, f. */
export function decodeLog(p: usize, n: i32, k: usize): void {
  const cut = v128.load_splat<f32>(k);
  const a = v128.load_splat<f32>(k, 4);
  const b = v128.load_splat<f32>(k, 8);
  const c = v128.load_splat<f32>(k, 12);
  const d = v128.load_splat<f32>(k, 16);
  const e = v128.load_splat<f32>(k, 20);
  const g = v128.load_splat<f32>(k, 24);
  for (let i = 0; i < n; i += 4) {
    const o = p + ((<usize>i) << 2);
    const y = v128.load(o);
    const bent = f32x4.div(f32x4.sub(exp2x4(f32x4.div(f32x4.sub(y, d), a)), c), b);
    const straight = f32x4.div(f32x4.sub(y, g), e);
    v128.store(o, v128.bitselect(bent, straight, f32x4.gt(y, cut)));
  }
}

/** ST 2084 light (1 is 100 cd/m2) to code; 0 for negatives. */
export function encodePq(p: usize, n: i32): void {
  const one = f32x4.splat(1);
  for (let i = 0; i < n; i += 4) {
    const o = p + ((<usize>i) << 2);
    const l = powx4(f32x4.mul(v128.load(o), f32x4.splat(0.01)), f32x4.splat(0.1593017578125));
    const above = f32x4.add(f32x4.splat(0.8359375), f32x4.mul(f32x4.splat(18.8515625), l));
    const below = f32x4.add(one, f32x4.mul(f32x4.splat(18.6875), l));
    v128.store(o, powx4(f32x4.div(above, below), f32x4.splat(78.84375)));
  }
}

/** ST 2084 code to light (1 is 100 cd/m2); 0 for negatives. */
export function decodePq(p: usize, n: i32): void {
  const zero = f32x4.splat(0);
  for (let i = 0; i < n; i += 4) {
    const o = p + ((<usize>i) << 2);
    const v = powx4(v128.load(o), f32x4.splat(0.012683313515655966));
    const above = f32x4.max(f32x4.sub(v, f32x4.splat(0.8359375)), zero);
    const below = f32x4.sub(f32x4.splat(18.8515625), f32x4.mul(f32x4.splat(18.6875), v));
    v128.store(o, f32x4.mul(powx4(f32x4.div(above, below), f32x4.splat(6.277394636015326)), f32x4.splat(100)));
  }
}
