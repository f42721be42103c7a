/** Sum of wr*r + wg*g + wb*b over n samples, in float64, first to last. NaN and infinities are left out. */
export function luminanceSum(r: usize, g: usize, b: usize, n: i32, wr: f64, wg: f64, wb: f64): f64 {
  let sum: f64 = 0;
  for (let i = 0; i < n; i++) {
    const o = <usize>i << 2;
    const y = wr * <f64>load<f32>(r + o) + wg * <f64>load<f32>(g + o) + wb * <f64>load<f32>(b + o);
    if (y - y == 0) sum += y;
  }
  return sum;
}

// @ts-ignore: decorator
@inline
function code(x: v128): v128 {
  const scaled = f32x4.add(f32x4.mul(x, f32x4.splat(255)), f32x4.splat(0.5));
  const limited = f32x4.min(f32x4.max(scaled, f32x4.splat(0)), f32x4.splat(255));
  return i32x4.trunc_sat_f32x4_s(limited); // NaN becomes 0
}

/** Display values 0 … 1 to 8-bit codes floor(255 v + 0.5), written as RGBA bytes with A = 255. */
export function packCodes(r: usize, g: usize, b: usize, dst: usize, n: i32): void {
  const opaque = i32x4.splat(<i32>0xff000000);
  for (let i = 0; i < n; i += 4) {
    const o = <usize>i << 2;
    const red = code(v128.load(r + o));
    const green = i32x4.shl(code(v128.load(g + o)), 8);
    const blue = i32x4.shl(code(v128.load(b + o)), 16);
    v128.store(dst + o, v128.or(v128.or(red, green), v128.or(blue, opaque)));
  }
}
