// The two-dimensional Haar wavelet of PIZ, in its 14-bit and its modular 16-bit form (OpenEXR, ImfWav).

// @ts-ignore: decorator
@inline
function low14(l: i32, h: i32): i32 {
  return l + (h & 1) + (h >> 1);
}

/** Undoes the wavelet of nx x ny values in place; neighbours lie `ox` and `oy` values apart. `largest` decides the form. */
export function inverseWavelet(at: usize, nx: i32, ox: i32, ny: i32, oy: i32, largest: i32): void {
  const w14 = largest < 1 << 14;
  const n = nx < ny ? nx : ny;
  let p = 1;
  while (p <= n) p <<= 1;
  p >>= 1;
  let p2 = p;
  p >>= 1;
  while (p >= 1) {
    const ox1 = (<usize>(ox * p)) << 1;
    const oy1 = (<usize>(oy * p)) << 1;
    const ox2 = ox1 << 1;
    const oy2 = oy1 << 1;
    let py = at;
    for (let y = 0; y <= ny - p2; y += p2, py += oy2) {
      let px = py;
      let x = 0;
      if (p == 1 && ox == 1) {
        // Eight quads at a time on the finest level, where most of the values are.
        for (; x + 16 <= nx; x += 16, px += 32) w14 ? eight14(px, px + oy1) : eight16(px, px + oy1);
      }
      if (w14) for (; x <= nx - p2; x += p2, px += ox2) quad14(px, px + ox1, px + oy1, px + oy1 + ox1);
      else for (; x <= nx - p2; x += p2, px += ox2) quad16(px, px + ox1, px + oy1, px + oy1 + ox1);
      if (nx & p) pair(px, px + oy1, w14);
    }
    if (ny & p) {
      let px = py;
      for (let x = 0; x <= nx - p2; x += p2, px += ox2) pair(px, px + ox1, w14);
    }
    p2 = p;
    p >>= 1;
  }
}

function pair(a: usize, b: usize, w14: bool): void {
  if (w14) {
    const l = <i32>load<i16>(a);
    const h = <i32>load<i16>(b);
    const first = low14(l, h);
    store<i16>(a, <i16>first);
    store<i16>(b, <i16>(first - h));
  } else {
    const m = <i32>load<u16>(a);
    const d = <i32>load<u16>(b);
    const second = (m - (d >> 1)) & 0xffff;
    store<u16>(b, <u16>second);
    store<u16>(a, <u16>(d + second - 0x8000));
  }
}

// @ts-ignore: decorator
@inline
function quad14(p00: usize, p01: usize, p10: usize, p11: usize): void {
  const v00 = <i32>load<i16>(p00);
  const v10 = <i32>load<i16>(p10);
  const v01 = <i32>load<i16>(p01);
  const v11 = <i32>load<i16>(p11);
  const a = <i32>(<i16>low14(v00, v10));
  const b = <i32>(<i16>(low14(v00, v10) - v10));
  const c = <i32>(<i16>low14(v01, v11));
  const d = <i32>(<i16>(low14(v01, v11) - v11));
  const top = low14(a, c);
  const bottom = low14(b, d);
  store<i16>(p00, <i16>top);
  store<i16>(p01, <i16>(top - c));
  store<i16>(p10, <i16>bottom);
  store<i16>(p11, <i16>(bottom - d));
}

// @ts-ignore: decorator
@inline
function quad16(p00: usize, p01: usize, p10: usize, p11: usize): void {
  const d0 = <i32>load<u16>(p10);
  const b0 = (<i32>load<u16>(p00) - (d0 >> 1)) & 0xffff;
  const a0 = (d0 + b0 - 0x8000) & 0xffff;
  const d1 = <i32>load<u16>(p11);
  const b1 = (<i32>load<u16>(p01) - (d1 >> 1)) & 0xffff;
  const a1 = (d1 + b1 - 0x8000) & 0xffff;
  const right = (a0 - (a1 >> 1)) & 0xffff;
  store<u16>(p01, <u16>right);
  store<u16>(p00, <u16>(a1 + right - 0x8000));
  const low = (b0 - (b1 >> 1)) & 0xffff;
  store<u16>(p11, <u16>low);
  store<u16>(p10, <u16>(b1 + low - 0x8000));
}

// @ts-ignore: decorator
@inline
export function evens(a: v128, b: v128): v128 {
  return i8x16.shuffle(a, b, 0, 1, 4, 5, 8, 9, 12, 13, 16, 17, 20, 21, 24, 25, 28, 29);
}
// @ts-ignore: decorator
@inline
export function odds(a: v128, b: v128): v128 {
  return i8x16.shuffle(a, b, 2, 3, 6, 7, 10, 11, 14, 15, 18, 19, 22, 23, 26, 27, 30, 31);
}
// @ts-ignore: decorator
@inline
export function storePairs(at: usize, a: v128, b: v128): void {
  v128.store(at, i8x16.shuffle(a, b, 0, 1, 16, 17, 2, 3, 18, 19, 4, 5, 20, 21, 6, 7, 22, 23));
  v128.store(at + 16, i8x16.shuffle(a, b, 8, 9, 24, 25, 10, 11, 26, 27, 12, 13, 28, 29, 14, 15, 30, 31));
}
// @ts-ignore: decorator
@inline
function lows14(l: v128, h: v128): v128 {
  return i16x8.add(i16x8.add(l, v128.and(h, i16x8.splat(1))), i16x8.shr_s(h, 1));
}

function eight14(top: usize, bottom: usize): void {
  const t0 = v128.load(top);
  const t1 = v128.load(top + 16);
  const u0 = v128.load(bottom);
  const u1 = v128.load(bottom + 16);
  const v10 = evens(u0, u1);
  const v11 = odds(u0, u1);
  const a = lows14(evens(t0, t1), v10);
  const b = i16x8.sub(a, v10);
  const c = lows14(odds(t0, t1), v11);
  const d = i16x8.sub(c, v11);
  const first = lows14(a, c);
  const second = lows14(b, d);
  storePairs(top, first, i16x8.sub(first, c));
  storePairs(bottom, second, i16x8.sub(second, d));
}

function eight16(top: usize, bottom: usize): void {
  const half = i16x8.splat(<i16>0x8000);
  const t0 = v128.load(top);
  const t1 = v128.load(top + 16);
  const u0 = v128.load(bottom);
  const u1 = v128.load(bottom + 16);
  const d0 = evens(u0, u1);
  const d1 = odds(u0, u1);
  const b0 = i16x8.sub(evens(t0, t1), i16x8.shr_u(d0, 1));
  const a0 = i16x8.sub(i16x8.add(d0, b0), half);
  const b1 = i16x8.sub(odds(t0, t1), i16x8.shr_u(d1, 1));
  const a1 = i16x8.sub(i16x8.add(d1, b1), half);
  const right = i16x8.sub(a0, i16x8.shr_u(a1, 1));
  storePairs(top, i16x8.sub(i16x8.add(a1, right), half), right);
  const low = i16x8.sub(b0, i16x8.shr_u(b1, 1));
  storePairs(bottom, i16x8.sub(i16x8.add(b1, low), half), low);
}

/** Replaces n 16-bit values by their entry in a table of 65,536. */
export function applyTable(at: usize, n: i32, table: usize): void {
  for (let i = 0; i < n; i++) {
    const p = at + ((<usize>i) << 1);
    store<u16>(p, load<u16>(table + ((<usize>load<u16>(p)) << 1)));
  }
}
