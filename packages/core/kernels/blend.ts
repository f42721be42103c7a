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
