// Depths, and where they jump.

/** Depths with what is no surface (no number, from `sky` on, 0 where `zeroIsSky`) at `sky`; none is below `least`. */
export function surfaceDepths(to: usize, from: usize, n: i32, sky: f32, zeroIsSky: i32, least: f32): void {
  const zero = f32x4.splat(0);
  const s4 = f32x4.splat(sky);
  const l4 = f32x4.splat(least);
  const none = i32x4.splat(zeroIsSky != 0 ? -1 : 0);
  for (let i = 0; i < n; i += 4) {
    const o = (<usize>i) << 2;
    const d = v128.load(from + o);
    const surface = v128.andnot(f32x4.lt(d, s4), v128.and(none, f32x4.eq(d, zero)));
    v128.store(to + o, v128.bitselect(f32x4.max(d, l4), s4, surface));
  }
}

/** max(-126, -k * (depth - start)), 0 before the start: the exponent of what is left of light, for exp2Plane. */
export function exponentsOfDepth(to: usize, depths: usize, n: i32, start: f32, k: f32): void {
  const zero = f32x4.splat(0);
  const s4 = f32x4.splat(start);
  const k4 = f32x4.splat(-k);
  const low = f32x4.splat(-126);
  for (let i = 0; i < n; i += 4) {
    const o = (<usize>i) << 2;
    const beyond = f32x4.max(f32x4.sub(v128.load(depths + o), s4), zero);
    v128.store(to + o, f32x4.max(f32x4.mul(beyond, k4), low));
  }
}

/** most * (1 - left) in place, and `ofSky` where the depth is that of the sky. */
export function lostOfLeft(left: usize, depths: usize, n: i32, most: f32, sky: f32, ofSky: f32): void {
  const one = f32x4.splat(1);
  const m4 = f32x4.splat(most);
  const s4 = f32x4.splat(sky);
  const o4 = f32x4.splat(ofSky);
  for (let i = 0; i < n; i += 4) {
    const o = (<usize>i) << 2;
    const lost = f32x4.mul(m4, f32x4.sub(one, v128.load(left + o)));
    v128.store(left + o, v128.bitselect(o4, lost, f32x4.eq(v128.load(depths + o), s4)));
  }
}

function isCalm(low: f32, high: f32, jump: f32): bool {
  return high - low <= jump * abs(low);
}

/** Bytes of 1 where the highest depth around lies no farther from the lowest than a share `jump` of it, else 0. */
export function calmBytes(to: usize, low: usize, high: usize, n: i32, jump: f32): void {
  const j4 = f32x4.splat(jump);
  const one = i8x16.splat(1);
  let i = 0;
  for (; i + 16 <= n; i += 16) {
    const o = (<usize>i) << 2;
    let masks0 = i32x4.splat(0);
    let masks1 = i32x4.splat(0);
    let masks2 = i32x4.splat(0);
    let masks3 = i32x4.splat(0);
    for (let k = 0; k < 4; k++) {
      const at = o + ((<usize>k) << 4);
      const l = v128.load(low + at);
      const calm = f32x4.le(f32x4.sub(v128.load(high + at), l), f32x4.mul(j4, f32x4.abs(l)));
      if (k == 0) masks0 = calm;
      else if (k == 1) masks1 = calm;
      else if (k == 2) masks2 = calm;
      else masks3 = calm;
    }
    const upper = i16x8.narrow_i32x4_s(masks0, masks1);
    const lower = i16x8.narrow_i32x4_s(masks2, masks3);
    v128.store(to + (<usize>i), v128.and(i8x16.narrow_i16x8_s(upper, lower), one));
  }
  for (; i < n; i++) {
    const o = (<usize>i) << 2;
    store<u8>(to + (<usize>i), isCalm(load<f32>(low + o), load<f32>(high + o), jump) ? 1 : 0);
  }
}

/** Each byte with that which lies `shift` behind it, by "or", in place. n is a multiple of 16. */
export function joinBytes(p: usize, n: i32, shift: i32): void {
  for (let i = 0; i < n; i += 16) {
    const at = p + (<usize>i);
    v128.store(at, v128.or(v128.load(at), v128.load(at + (<usize>shift))));
  }
}

/** Writes the places of bytes that are 0, counted from `first`, as integers to `list`; returns how many. The others are 1. */
export function listZeros(list: usize, bytes: usize, n: i32, first: i32): i32 {
  const zero = i8x16.splat(0);
  let count = 0;
  let i = 0;
  for (; i + 16 <= n; i += 16) {
    const row = v128.load(bytes + (<usize>i));
    if (i8x16.all_true(row)) continue;
    let bits = i8x16.bitmask(i8x16.eq(row, zero));
    while (bits != 0) {
      store<i32>(list + ((<usize>count) << 2), first + i + <i32>ctz(bits));
      bits &= bits - 1;
      count++;
    }
  }
  for (; i < n; i++)
    if (load<u8>(bytes + (<usize>i)) == 0) {
      store<i32>(list + ((<usize>count) << 2), first + i);
      count++;
    }
  return count;
}

/**
 * The two sides of the edges that run through `count` pixels, by their places at `list`: two places for each at `sides`, of the near side and of the
 * far one, or -1. Of the pixels around that lie as near (`same`, a share, apart), and as far, as anything close by, the closest that is calm;
 * where none is, the closest. One of them is calm at least, and they are not the same. `around` points at `tries` pairs of integers, columns and rows
 * beside a pixel, the closest first. `nearby` tells where calm pixels are near; it and `low` and `high` have strides of their own.
 */
export function findSides(
  sides: usize,
  list: usize,
  count: i32,
  depth: usize,
  calm: usize,
  nearby: usize,
  nearbyStride: i32,
  low: usize,
  high: usize,
  stride: i32,
  width: i32,
  rows: i32,
  around: usize,
  tries: i32,
  same: f64,
): void {
  for (let k = 0; k < count; k++) {
    const place = load<i32>(list + ((<usize>k) << 2));
    const y = place / width;
    const x = place - y * width;
    const into = sides + ((<usize>k) << 3);
    store<i64>(into, -1);
    if (load<u8>(nearby + <usize>(y * nearbyStride + x)) == 0) continue;
    const nearest = <f64>load<f32>(low + ((<usize>(y * stride + x)) << 2)) * (1 + same);
    const farthest = <f64>load<f32>(high + ((<usize>(y * stride + x)) << 2)) * (1 - same);
    let near = -1;
    let far = -1;
    let thinNear = -1;
    let thinFar = -1;
    for (let i = 0; i < tries && (near < 0 || far < 0); i++) {
      const u = x + load<i32>(around + ((<usize>i) << 3));
      const v = y + load<i32>(around + ((<usize>i) << 3) + 4);
      if (<u32>u >= <u32>width || <u32>v >= <u32>rows) continue;
      const at = v * width + u;
      const d = <f64>load<f32>(depth + ((<usize>at) << 2));
      const isNear = d <= nearest;
      const isFar = d >= farthest;
      if (!isNear && !isFar) continue;
      const isCalm = load<u8>(calm + <usize>at) != 0;
      if (isNear) {
        if (isCalm) near = near < 0 ? at : near;
        else if (thinNear < 0) thinNear = at;
      }
      if (isFar) {
        if (isCalm) far = far < 0 ? at : far;
        else if (thinFar < 0) thinFar = at;
      }
    }
    if (near < 0 && far < 0) continue;
    near = near < 0 ? thinNear : near;
    far = far < 0 ? thinFar : far;
    if (near < 0 || far < 0 || near == far) continue;
    store<i32>(into, near);
    store<i32>(into + 4, far);
  }
}
