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

/** Takes out what is no finite number: 0 in its place. */
export function keepFinite(p: usize, n: i32): void {
  for (let i = 0; i < n; i += 4) {
    const o = (<usize>i) << 2;
    const x = v128.load(p + o);
    v128.store(p + o, v128.and(x, f32x4.eq(f32x4.sub(x, x), f32x4.splat(0))));
  }
}
