// Mattes by numbers of a pass: how far away something lies, and how a matte rises between two ends.

/** t to 0 ... 1, no number as 0; smooth is 3t^2 - 2t^3. */
// @ts-ignore: decorator
@inline
function held(t: v128, smooth: bool): v128 {
  const zero = f32x4.splat(0);
  const h = v128.bitselect(f32x4.min(t, f32x4.splat(1)), zero, f32x4.gt(t, zero));
  if (!smooth) return h;
  return f32x4.mul(f32x4.mul(h, h), f32x4.sub(f32x4.splat(3), f32x4.add(h, h)));
}

/** v less `low`, over `width`; a step to 1 at `high` where that is not above 0. */
// @ts-ignore: decorator
@inline
function between(v: v128, low: f32, high: f32, smooth: bool): v128 {
  if (!(high > low)) return v128.and(f32x4.splat(1), f32x4.ge(v, f32x4.splat(high)));
  return held(f32x4.div(f32x4.sub(v, f32x4.splat(low)), f32x4.splat(high - low)), smooth);
}

/** In place: 0 up to `low`, 1 from `high` on, and between them straight or smooth; a step at `high` where it is not above `low`. */
export function rampPlane(p: usize, n: i32, low: f32, high: f32, smooth: i32): void {
  for (let i = 0; i < n; i += 4) {
    const o = p + ((<usize>i) << 2);
    v128.store(o, between(v128.load(o), low, high, smooth != 0));
  }
}

/** 1 from `near` to `far`, rising from `before` before and falling to `behind` behind; 0 from `none` on. */
export function rangePlane(
  to: usize,
  from: usize,
  n: i32,
  near: f32,
  far: f32,
  before: f32,
  behind: f32,
  smooth: i32,
  none: f32,
): void {
  const one = f32x4.splat(1);
  for (let i = 0; i < n; i += 4) {
    const o = (<usize>i) << 2;
    const d = v128.load(from + o);
    const rising = between(d, near - before, near, smooth != 0);
    const falling = f32x4.sub(one, between(d, far, far + behind, smooth != 0));
    const within = v128.and(f32x4.ge(d, f32x4.splat(near)), f32x4.le(d, f32x4.splat(far)));
    const value = v128.bitselect(one, f32x4.mul(rising, falling), within);
    v128.store(to + o, v128.and(value, f32x4.lt(d, f32x4.splat(none))));
  }
}

/** In place, of distances: 1 at 0 and below, 0 from `falloff` on. */
export function falloffPlane(p: usize, n: i32, falloff: f32, smooth: i32): void {
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  const f4 = f32x4.splat(falloff);
  for (let i = 0; i < n; i += 4) {
    const o = p + ((<usize>i) << 2);
    const off = v128.load(o);
    const outside = falloff > 0 ? held(f32x4.sub(one, f32x4.div(off, f4)), smooth != 0) : zero;
    v128.store(o, v128.bitselect(one, outside, f32x4.le(off, zero)));
  }
}

/** Infinity where a place is (0, 0, 0): no surface lies there. */
// @ts-ignore: decorator
@inline
function orNowhere(off: v128, x: v128, y: v128, z: v128): v128 {
  const zero = f32x4.splat(0);
  const nowhere = v128.and(v128.and(f32x4.eq(x, zero), f32x4.eq(y, zero)), f32x4.eq(z, zero));
  return v128.bitselect(f32x4.splat(Infinity), off, nowhere);
}

/** How far places lie outside a sphere. `shape` points at its middle and its radius. */
export function sphereDistance(to: usize, xs: usize, ys: usize, zs: usize, n: i32, shape: usize): void {
  for (let i = 0; i < n; i += 4) {
    const o = (<usize>i) << 2;
    const x = v128.load(xs + o);
    const y = v128.load(ys + o);
    const z = v128.load(zs + o);
    const dx = f32x4.sub(x, v128.load_splat<f32>(shape));
    const dy = f32x4.sub(y, v128.load_splat<f32>(shape, 4));
    const dz = f32x4.sub(z, v128.load_splat<f32>(shape, 8));
    const squares = f32x4.add(f32x4.add(f32x4.mul(dx, dx), f32x4.mul(dy, dy)), f32x4.mul(dz, dz));
    const off = f32x4.sub(f32x4.sqrt(squares), v128.load_splat<f32>(shape, 12));
    v128.store(to + o, orNowhere(off, x, y, z));
  }
}

/** How far places lie outside a box. `shape` points at its middle and its three half sizes. */
export function boxDistance(to: usize, xs: usize, ys: usize, zs: usize, n: i32, shape: usize): void {
  const zero = f32x4.splat(0);
  for (let i = 0; i < n; i += 4) {
    const o = (<usize>i) << 2;
    const x = v128.load(xs + o);
    const y = v128.load(ys + o);
    const z = v128.load(zs + o);
    const a = f32x4.sub(f32x4.abs(f32x4.sub(x, v128.load_splat<f32>(shape))), v128.load_splat<f32>(shape, 12));
    const b = f32x4.sub(f32x4.abs(f32x4.sub(y, v128.load_splat<f32>(shape, 4))), v128.load_splat<f32>(shape, 16));
    const c = f32x4.sub(f32x4.abs(f32x4.sub(z, v128.load_splat<f32>(shape, 8))), v128.load_splat<f32>(shape, 20));
    const u = f32x4.max(a, zero);
    const v = f32x4.max(b, zero);
    const w = f32x4.max(c, zero);
    const squares = f32x4.add(f32x4.add(f32x4.mul(u, u), f32x4.mul(v, v)), f32x4.mul(w, w));
    const outside = f32x4.sqrt(squares);
    const inside = f32x4.max(f32x4.max(a, b), c);
    v128.store(to + o, orNowhere(v128.bitselect(outside, inside, f32x4.gt(outside, zero)), x, y, z));
  }
}

/** How far places lie behind a plane. `shape` points at a place on it and at the direction that it faces, of length 1. */
export function planeDistance(to: usize, xs: usize, ys: usize, zs: usize, n: i32, shape: usize): void {
  for (let i = 0; i < n; i += 4) {
    const o = (<usize>i) << 2;
    const x = v128.load(xs + o);
    const y = v128.load(ys + o);
    const z = v128.load(zs + o);
    const dx = f32x4.mul(f32x4.sub(x, v128.load_splat<f32>(shape)), v128.load_splat<f32>(shape, 12));
    const dy = f32x4.mul(f32x4.sub(y, v128.load_splat<f32>(shape, 4)), v128.load_splat<f32>(shape, 16));
    const dz = f32x4.mul(f32x4.sub(z, v128.load_splat<f32>(shape, 8)), v128.load_splat<f32>(shape, 20));
    v128.store(to + o, orNowhere(f32x4.neg(f32x4.add(f32x4.add(dx, dy), dz)), x, y, z));
  }
}
