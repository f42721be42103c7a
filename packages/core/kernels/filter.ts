// Sums over neighbours, along rows and across them: separable filters.

/**
 * to[x] = sum over k of weights[k] * (from[x - k] + from[x + k]), weights[0] once, for one row. `from` points at x = 0 of a row that has
 * `reach` samples before it and, with three more, behind its end. Not finite samples must have been taken out.
 */
export function filterRow(to: usize, from: usize, n: i32, weights: usize, reach: i32): void {
  for (let x = 0; x < n; x += 4) {
    const at = from + ((<usize>x) << 2);
    let sum = f32x4.mul(v128.load_splat<f32>(weights), v128.load(at));
    for (let k = 1; k <= reach; k++) {
      const o = (<usize>k) << 2;
      sum = f32x4.add(sum, f32x4.mul(v128.load_splat<f32>(weights + o), f32x4.add(v128.load(at - o), v128.load(at + o))));
    }
    v128.store(to + ((<usize>x) << 2), sum);
  }
}

/**
 * The same across rows: `rows` holds 2 * reach + 1 pointers to rows, the middle one being the sample's own. Four columns at a time.
 */
export function filterColumn(to: usize, rows: usize, n: i32, weights: usize, reach: i32): void {
  const middle = rows + ((<usize>reach) << 2);
  for (let x = 0; x < n; x += 4) {
    const o = (<usize>x) << 2;
    let sum = f32x4.mul(v128.load_splat<f32>(weights), v128.load(<usize>load<u32>(middle) + o));
    for (let k = 1; k <= reach; k++) {
      const far = (<usize>k) << 2;
      const above = v128.load(<usize>load<u32>(middle - far) + o);
      const below = v128.load(<usize>load<u32>(middle + far) + o);
      sum = f32x4.add(sum, f32x4.mul(v128.load_splat<f32>(weights + far), f32x4.add(above, below)));
    }
    v128.store(to + o, sum);
  }
}

/**
 * Adds to each of n doubles, and to those at `other` (none for 0), `inner` times the sum of the samples within `whole` to both sides and
 * `outer` times that within one more; `sums` are running sums, the pointer at the first sample's own (what lies before it): a sum over
 * samples is the difference of two of them.
 */
export function addSpan(to: usize, other: usize, sums: usize, n: i32, whole: i32, inner: f64, outer: f64): void {
  const near = (<usize>whole) << 3;
  const far = (<usize>(whole + 1)) << 3;
  const i2 = f64x2.splat(inner);
  const o2 = f64x2.splat(outer);
  let x = 0;
  for (; x + 2 <= n; x += 2) {
    const at = (<usize>x) << 3;
    const s = sums + at;
    const within = f64x2.mul(i2, f64x2.sub(v128.load(s + far), v128.load(s - near)));
    const around = f64x2.mul(o2, f64x2.sub(v128.load(s + far + 8), v128.load(s - far)));
    const both = f64x2.add(within, around);
    v128.store(to + at, f64x2.add(v128.load(to + at), both));
    if (other != 0) v128.store(other + at, f64x2.add(v128.load(other + at), both));
  }
  if (x < n) {
    const at = (<usize>x) << 3;
    const s = sums + at;
    const within = inner * (load<f64>(s + far) - load<f64>(s - near));
    const around = outer * (load<f64>(s + far + 8) - load<f64>(s - far));
    store<f64>(to + at, load<f64>(to + at) + (within + around));
    if (other != 0) store<f64>(other + at, load<f64>(other + at) + (within + around));
  }
}

/** Takes out what is no finite number: 0 in its place. */
export function keepFinite(p: usize, n: i32): void {
  for (let i = 0; i < n; i += 4) {
    const o = (<usize>i) << 2;
    const x = v128.load(p + o);
    v128.store(p + o, v128.and(x, f32x4.eq(f32x4.sub(x, x), f32x4.splat(0))));
  }
}

/**
 * Running sums of shares of a row, in doubles: sums[i + 1] = sums[i] + shares[i] * plane[i] from what stands at sums[0]; without a plane
 * (0) of the shares alone. What is no finite number counts as 0.
 */
export function shareSums(sums: usize, plane: usize, shares: usize, n: i32): void {
  let sum = load<f64>(sums);
  for (let i = 0; i < n; i++) {
    const at = (<usize>i) << 2;
    const share = <f64>load<f32>(shares + at);
    const part = plane == 0 ? share : share * (<f64>load<f32>(plane + at));
    if (part - part == 0) sum += part;
    store<f64>(sums + ((<usize>(i + 1)) << 3), sum);
  }
}

/**
 * total = total * (1 - cover) + each * added, cover being `each` times `covered` and 1 at most; `added` and `covered` are doubles. Two
 * samples at a time.
 */
export function layOver(total: usize, added: usize, covered: usize, n: i32, each: f64): void {
  const e2 = f64x2.splat(each);
  const one = f64x2.splat(1);
  let i = 0;
  for (; i + 2 <= n; i += 2) {
    const at = (<usize>i) << 3;
    const to = total + ((<usize>i) << 2);
    const cover = f64x2.min(one, f64x2.mul(e2, v128.load(covered + at)));
    const kept = f64x2.mul(f64x2.promote_low_f32x4(v128.load64_zero(to)), f64x2.sub(one, cover));
    v128.store64_lane(to, f32x4.demote_f64x2_zero(f64x2.add(kept, f64x2.mul(e2, v128.load(added + at)))), 0);
  }
  if (i < n) {
    const at = (<usize>i) << 3;
    const to = total + ((<usize>i) << 2);
    const cover = Math.min(1, each * load<f64>(covered + at));
    store<f32>(to, <f32>((<f64>load<f32>(to)) * (1 - cover) + each * load<f64>(added + at)));
  }
}
