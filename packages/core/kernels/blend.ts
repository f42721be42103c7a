// The ledger's operations, one plane at a time.

/** total += k * entry. With k = mix this is plus, with k = -mix minus. */
export function addScaled(total: usize, entry: usize, n: i32, k: f32): void {
  const s = f32x4.splat(k);
  for (let i = 0; i < n; i += 4) {
    const o = (<usize>i) << 2;
    v128.store(total + o, f32x4.add(v128.load(total + o), f32x4.mul(s, v128.load(entry + o))));
  }
}

/** total *= (1 - mix) + mix * entry: at mix 1 the product to the bit, for factors near 0 too. */
export function multiplyMixed(total: usize, entry: usize, n: i32, mix: f32): void {
  const keep = f32x4.splat(1 - mix);
  const s = f32x4.splat(mix);
  for (let i = 0; i < n; i += 4) {
    const o = (<usize>i) << 2;
    const f = f32x4.add(keep, f32x4.mul(s, v128.load(entry + o)));
    v128.store(total + o, f32x4.mul(v128.load(total + o), f));
  }
}

/** total = mix * entry + total * (1 - mix * alpha), entry premultiplied by alpha. What is wholly covered is gone, infinities and NaN too. */
export function coverPremultiplied(total: usize, entry: usize, alpha: usize, n: i32, mix: f32): void {
  const one = f32x4.splat(1);
  const zero = f32x4.splat(0);
  const s = f32x4.splat(mix);
  for (let i = 0; i < n; i += 4) {
    const o = (<usize>i) << 2;
    const keep = f32x4.sub(one, f32x4.mul(s, v128.load(alpha + o)));
    const under = v128.bitselect(zero, f32x4.mul(v128.load(total + o), keep), f32x4.eq(keep, zero));
    v128.store(total + o, f32x4.add(f32x4.mul(s, v128.load(entry + o)), under));
  }
}

export function fillPlane(p: usize, n: i32, value: f32): void {
  const s = f32x4.splat(value);
  for (let i = 0; i < n; i += 4) v128.store(p + ((<usize>i) << 2), s);
}

/** a /= b where b is not 0: premultiplied to straight colour. */
export function dividePlanes(a: usize, b: usize, n: i32): void {
  const zero = f32x4.splat(0);
  for (let i = 0; i < n; i += 4) {
    const o = (<usize>i) << 2;
    const x = v128.load(a + o);
    const y = v128.load(b + o);
    v128.store(a + o, v128.bitselect(x, f32x4.div(x, y), f32x4.eq(y, zero)));
  }
}

/** a = a * b where b is not 0, else what stands in `before`: straight colour to premultiplied, the way back from dividePlanes. */
export function restorePlanes(a: usize, b: usize, before: usize, n: i32): void {
  const zero = f32x4.splat(0);
  for (let i = 0; i < n; i += 4) {
    const o = (<usize>i) << 2;
    const y = v128.load(b + o);
    const product = f32x4.mul(v128.load(a + o), y);
    v128.store(a + o, v128.bitselect(v128.load(before + o), product, f32x4.eq(y, zero)));
  }
}

/** a *= b. */
export function multiplyPlanes(a: usize, b: usize, n: i32): void {
  for (let i = 0; i < n; i += 4) {
    const o = (<usize>i) << 2;
    v128.store(a + o, f32x4.mul(v128.load(a + o), v128.load(b + o)));
  }
}

/** total = total / entry, and 0 where entry is 0. */
export function divideOrZero(total: usize, entry: usize, n: i32): void {
  const zero = f32x4.splat(0);
  for (let i = 0; i < n; i += 4) {
    const o = (<usize>i) << 2;
    const s = v128.load(entry + o);
    v128.store(total + o, v128.bitselect(zero, f32x4.div(v128.load(total + o), s), f32x4.eq(s, zero)));
  }
}

/** total = total + entry * (1 - alpha), alpha the total's. Where it covers wholly, the entry counts for nothing, whatever it holds. */
export function fillUncovered(total: usize, entry: usize, alpha: usize, n: i32): void {
  const one = f32x4.splat(1);
  const zero = f32x4.splat(0);
  for (let i = 0; i < n; i += 4) {
    const o = (<usize>i) << 2;
    const free = f32x4.sub(one, v128.load(alpha + o));
    const shown = v128.bitselect(zero, f32x4.mul(v128.load(entry + o), free), f32x4.eq(free, zero));
    v128.store(total + o, f32x4.add(v128.load(total + o), shown));
  }
}

/** total = total + entry - total * entry. */
export function screenPlanes(total: usize, entry: usize, n: i32): void {
  for (let i = 0; i < n; i += 4) {
    const o = (<usize>i) << 2;
    const t = v128.load(total + o);
    const s = v128.load(entry + o);
    v128.store(total + o, f32x4.sub(f32x4.add(t, s), f32x4.mul(t, s)));
  }
}

/** The larger of each; the total's where they do not compare. */
export function maxPlanes(total: usize, entry: usize, n: i32): void {
  for (let i = 0; i < n; i += 4) {
    const o = (<usize>i) << 2;
    const t = v128.load(total + o);
    const s = v128.load(entry + o);
    v128.store(total + o, v128.bitselect(s, t, f32x4.gt(s, t)));
  }
}

/** The smaller of each; the total's where they do not compare. */
export function minPlanes(total: usize, entry: usize, n: i32): void {
  for (let i = 0; i < n; i += 4) {
    const o = (<usize>i) << 2;
    const t = v128.load(total + o);
    const s = v128.load(entry + o);
    v128.store(total + o, v128.bitselect(s, t, f32x4.lt(s, t)));
  }
}

export function copyPlane(to: usize, from: usize, n: i32): void {
  memory.copy(to, from, (<usize>n) << 2);
}

/**
 * total = total + m * (result - total) with m = mix * matte, the matte limited to 0 ... 1 and no number taken as 0: exact at both ends,
 * whatever stands on the other side.
 */
export function mixByMatte(total: usize, result: usize, matte: usize, n: i32, mix: f32): void {
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  const s = f32x4.splat(mix);
  for (let i = 0; i < n; i += 4) {
    const o = (<usize>i) << 2;
    const raw = v128.load(matte + o);
    const known = v128.and(raw, f32x4.eq(raw, raw));
    const m = f32x4.mul(s, f32x4.min(f32x4.max(known, zero), one));
    const t = v128.load(total + o);
    const r = v128.load(result + o);
    const between = f32x4.add(t, f32x4.mul(m, f32x4.sub(r, t)));
    const some = v128.bitselect(t, between, f32x4.eq(m, zero));
    v128.store(total + o, v128.bitselect(r, some, f32x4.eq(m, one)));
  }
}

/** to = from + m * (value - from), m a share of 0 ... 1: exact at both ends, whatever stands on the other side. */
export function mixTowards(to: usize, from: usize, share: usize, n: i32, value: f32): void {
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  const v4 = f32x4.splat(value);
  for (let i = 0; i < n; i += 4) {
    const o = (<usize>i) << 2;
    const m = v128.load(share + o);
    const t = v128.load(from + o);
    const between = f32x4.add(t, f32x4.mul(m, f32x4.sub(v4, t)));
    const some = v128.bitselect(t, between, f32x4.eq(m, zero));
    v128.store(to + o, v128.bitselect(v4, some, f32x4.eq(m, one)));
  }
}
