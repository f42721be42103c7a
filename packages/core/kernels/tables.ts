// Tables and cubes: values between entries. Positions are computed four at a time, entries fetched one by one.

// @ts-ignore: decorator
@inline
/** x in 0 … 1 to 0 … last, NaN to 0. */
function positions(x: v128, last: v128): v128 {
  const scaled = f32x4.mul(x, last);
  // pmax(0, NaN) keeps 0, so NaN lands on the first entry.
  return f32x4.pmin(f32x4.pmax(f32x4.splat(0), scaled), last);
}

/** A table of `count` floats over 0 … 1, linear between entries, ends held. */
export function tablePlane(p: usize, n: i32, table: usize, count: i32): void {
  const last = f32x4.splat(<f32>(count - 1));
  const lastCell = i32x4.splat(count > 1 ? count - 2 : 0);
  const step: usize = count > 1 ? 4 : 0;
  for (let i = 0; i < n; i += 4) {
    const o = p + ((<usize>i) << 2);
    const at = positions(v128.load(o), last);
    const cell = i32x4.min_s(i32x4.trunc_sat_f32x4_s(at), lastCell);
    const t = f32x4.sub(at, f32x4.convert_i32x4_s(cell));
    const p0 = table + ((<usize>i32x4.extract_lane(cell, 0)) << 2);
    const p1 = table + ((<usize>i32x4.extract_lane(cell, 1)) << 2);
    const p2 = table + ((<usize>i32x4.extract_lane(cell, 2)) << 2);
    const p3 = table + ((<usize>i32x4.extract_lane(cell, 3)) << 2);
    let a = v128.load32_zero(p0);
    a = v128.load_lane<f32>(p1, a, 1);
    a = v128.load_lane<f32>(p2, a, 2);
    a = v128.load_lane<f32>(p3, a, 3);
    let b = v128.load32_zero(p0 + step);
    b = v128.load_lane<f32>(p1 + step, b, 1);
    b = v128.load_lane<f32>(p2 + step, b, 2);
    b = v128.load_lane<f32>(p3 + step, b, 3);
    v128.store(o, f32x4.add(a, f32x4.mul(t, f32x4.sub(b, a))));
  }
}

// @ts-ignore: decorator
@inline
/** One colour of a cube along the shortest path of edges from the cell's low corner to its high one. */
function tetrahedral(at: usize, tr: f32, tg: f32, tb: f32, sr: usize, sg: usize, sb: usize): v128 {
  // The axis with the largest fraction is walked first, then the middle one.
  let first: usize;
  let second: usize;
  let high: f32;
  let middle: f32;
  let low: f32;
  if (tr >= tg) {
    if (tg >= tb) {
      first = sr;
      second = sr + sg;
      high = tr;
      middle = tg;
      low = tb;
    } else if (tr >= tb) {
      first = sr;
      second = sr + sb;
      high = tr;
      middle = tb;
      low = tg;
    } else {
      first = sb;
      second = sb + sr;
      high = tb;
      middle = tr;
      low = tg;
    }
  } else if (tr >= tb) {
    first = sg;
    second = sg + sr;
    high = tg;
    middle = tr;
    low = tb;
  } else if (tg >= tb) {
    first = sg;
    second = sg + sb;
    high = tg;
    middle = tb;
    low = tr;
  } else {
    first = sb;
    second = sb + sg;
    high = tb;
    middle = tg;
    low = tr;
  }
  let out = f32x4.mul(v128.load(at), f32x4.splat(1 - high));
  out = f32x4.add(out, f32x4.mul(v128.load(at + first), f32x4.splat(high - middle)));
  out = f32x4.add(out, f32x4.mul(v128.load(at + second), f32x4.splat(middle - low)));
  return f32x4.add(out, f32x4.mul(v128.load(at + sr + sg + sb), f32x4.splat(low)));
}

// @ts-ignore: decorator
@inline
function between(a: v128, b: v128, t: f32): v128 {
  return f32x4.add(a, f32x4.mul(f32x4.splat(t), f32x4.sub(b, a)));
}

// @ts-ignore: decorator
@inline
function trilinear(at: usize, tr: f32, tg: f32, tb: f32, sr: usize, sg: usize, sb: usize): v128 {
  const a = between(v128.load(at), v128.load(at + sr), tr);
  const b = between(v128.load(at + sg), v128.load(at + sg + sr), tr);
  const c = between(v128.load(at + sb), v128.load(at + sb + sr), tr);
  const d = between(v128.load(at + sb + sg), v128.load(at + sb + sg + sr), tr);
  return between(between(a, b, tg), between(c, d, tg), tb);
}

// @ts-ignore: decorator
@inline
function lattice(r: usize, g: usize, b: usize, n: i32, cube: usize, size: i32, paths: bool): void {
  const last = f32x4.splat(<f32>(size - 1));
  const lastCell = i32x4.splat(size - 2);
  const sr: usize = 16;
  const sg: usize = (<usize>size) << 4;
  const sb: usize = (<usize>(size * size)) << 4;
  const row = i32x4.splat(size);
  for (let i = 0; i < n; i += 4) {
    const o = (<usize>i) << 2;
    const xr = positions(v128.load(r + o), last);
    const xg = positions(v128.load(g + o), last);
    const xb = positions(v128.load(b + o), last);
    const ir = i32x4.min_s(i32x4.trunc_sat_f32x4_s(xr), lastCell);
    const ig = i32x4.min_s(i32x4.trunc_sat_f32x4_s(xg), lastCell);
    const ib = i32x4.min_s(i32x4.trunc_sat_f32x4_s(xb), lastCell);
    const tr = f32x4.sub(xr, f32x4.convert_i32x4_s(ir));
    const tg = f32x4.sub(xg, f32x4.convert_i32x4_s(ig));
    const tb = f32x4.sub(xb, f32x4.convert_i32x4_s(ib));
    const cell = i32x4.shl(i32x4.add(i32x4.mul(i32x4.add(i32x4.mul(ib, row), ig), row), ir), 4);
    const c0 = cube + <usize>i32x4.extract_lane(cell, 0);
    const c1 = cube + <usize>i32x4.extract_lane(cell, 1);
    const c2 = cube + <usize>i32x4.extract_lane(cell, 2);
    const c3 = cube + <usize>i32x4.extract_lane(cell, 3);
    const r0 = f32x4.extract_lane(tr, 0);
    const r1 = f32x4.extract_lane(tr, 1);
    const r2 = f32x4.extract_lane(tr, 2);
    const r3 = f32x4.extract_lane(tr, 3);
    const g0 = f32x4.extract_lane(tg, 0);
    const g1 = f32x4.extract_lane(tg, 1);
    const g2 = f32x4.extract_lane(tg, 2);
    const g3 = f32x4.extract_lane(tg, 3);
    const b0 = f32x4.extract_lane(tb, 0);
    const b1 = f32x4.extract_lane(tb, 1);
    const b2 = f32x4.extract_lane(tb, 2);
    const b3 = f32x4.extract_lane(tb, 3);
    let v0: v128, v1: v128, v2: v128, v3: v128;
    if (paths) {
      v0 = tetrahedral(c0, r0, g0, b0, sr, sg, sb);
      v1 = tetrahedral(c1, r1, g1, b1, sr, sg, sb);
      v2 = tetrahedral(c2, r2, g2, b2, sr, sg, sb);
      v3 = tetrahedral(c3, r3, g3, b3, sr, sg, sb);
    } else {
      v0 = trilinear(c0, r0, g0, b0, sr, sg, sb);
      v1 = trilinear(c1, r1, g1, b1, sr, sg, sb);
      v2 = trilinear(c2, r2, g2, b2, sr, sg, sb);
      v3 = trilinear(c3, r3, g3, b3, sr, sg, sb);
    }
    const low01 = v128.shuffle<f32>(v0, v1, 0, 4, 1, 5);
    const low23 = v128.shuffle<f32>(v2, v3, 0, 4, 1, 5);
    const high01 = v128.shuffle<f32>(v0, v1, 2, 6, 3, 7);
    const high23 = v128.shuffle<f32>(v2, v3, 2, 6, 3, 7);
    v128.store(r + o, v128.shuffle<f32>(low01, low23, 0, 1, 4, 5));
    v128.store(g + o, v128.shuffle<f32>(low01, low23, 2, 3, 6, 7));
    v128.store(b + o, v128.shuffle<f32>(high01, high23, 0, 1, 4, 5));
  }
}

/** A cube of colours over 0 … 1 (four floats a point, red fastest), between points by tetrahedra. */
export function cubeTetrahedral(r: usize, g: usize, b: usize, n: i32, cube: usize, size: i32): void {
  lattice(r, g, b, n, cube, size, true);
}

/** A cube of colours over 0 … 1 (four floats a point, red fastest), trilinear between points. */
export function cubeTrilinear(r: usize, g: usize, b: usize, n: i32, cube: usize, size: i32): void {
  lattice(r, g, b, n, cube, size, false);
}

// @ts-ignore: decorator
@inline
/** Values between entries that stand at every 2^shift-th float from the one with the bits `first`: for x that lies among them. */
export function betweenEntries(x: v128, table: usize, first: i32, shift: i32): v128 {
  return atCell(i32x4.shr_u(i32x4.sub(x, i32x4.splat(first)), shift), x, table, shift);
}

// @ts-ignore: decorator
@inline
function atCell(cell: v128, x: v128, table: usize, shift: i32): v128 {
  const mask = i32x4.splat((1 << shift) - 1);
  const t = f32x4.mul(f32x4.convert_i32x4_s(v128.and(x, mask)), f32x4.splat(<f32>1 / <f32>(1 << shift)));
  // An entry and the next one lie beside each other.
  let ab = v128.load64_zero(table + ((<usize>i32x4.extract_lane(cell, 0)) << 2));
  let cd = v128.load64_zero(table + ((<usize>i32x4.extract_lane(cell, 2)) << 2));
  ab = v128.load_lane<u64>(table + ((<usize>i32x4.extract_lane(cell, 1)) << 2), ab, 1);
  cd = v128.load_lane<u64>(table + ((<usize>i32x4.extract_lane(cell, 3)) << 2), cd, 1);
  const from = v128.shuffle<i32>(ab, cd, 0, 2, 4, 6);
  const to = v128.shuffle<i32>(ab, cd, 1, 3, 5, 7);
  return f32x4.add(from, f32x4.mul(t, f32x4.sub(to, from)));
}

/**
 * A curve by a table over the floats themselves, in place: entries at every 2^shift-th float from the one with the bits `first`, straight
 * lines between them. x below `low`: `held`, or, where `straight` is 1, held * x + offset. x above `high`, and no number: left as it is.
 */
export function curveTable(
  p: usize,
  n: i32,
  table: usize,
  first: i32,
  shift: i32,
  low: f32,
  high: f32,
  straight: i32,
  held: f32,
  offset: f32,
): void {
  const start = i32x4.splat(first);
  const constant = f32x4.splat(held);
  for (let i = 0; i < n; i += 4) {
    const o = p + ((<usize>i) << 2);
    const x = v128.load(o);
    const under = f32x4.lt(x, f32x4.splat(low));
    const inside = v128.andnot(f32x4.le(x, f32x4.splat(high)), under);
    const cell = v128.and(i32x4.shr_u(i32x4.sub(x, start), shift), inside);
    const y = atCell(cell, x, table, shift);
    const below = straight ? f32x4.add(f32x4.mul(constant, x), f32x4.splat(offset)) : constant;
    v128.store(o, v128.bitselect(y, v128.bitselect(below, x, under), inside));
  }
}

/** Whether a sample of the first n lies above a value or is no number: 1 or 0. */
export function anyAbove(p: usize, n: i32, high: f32): i32 {
  const whole = n & ~3;
  let found = i32x4.splat(0);
  for (let i = 0; i < whole; i += 4)
    found = v128.or(found, v128.not(f32x4.le(v128.load(p + ((<usize>i) << 2)), f32x4.splat(high))));
  let any: i32 = v128.any_true(found) ? 1 : 0;
  for (let i = whole; i < n; i++) if (!(load<f32>(p + ((<usize>i) << 2)) <= high)) any = 1;
  return any;
}
