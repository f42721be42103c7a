/**
 * Sum of wr*r + wg*g + wb*b over n samples: float32 products, summed in float64 in four lanes (sample i goes to lane i mod 4),
 * lanes added 0 to 3 at the end. NaN and infinities are left out. The one kernel that never touches the padding.
 */
export function luminanceSum(r: usize, g: usize, b: usize, n: i32, wr: f32, wg: f32, wb: f32): f64 {
  let low = f64x2.splat(0);
  let high = f64x2.splat(0);
  const kr = f32x4.splat(wr);
  const kg = f32x4.splat(wg);
  const kb = f32x4.splat(wb);
  const whole = n & ~3;
  for (let i = 0; i < whole; i += 4) {
    const o = <usize>i << 2;
    let y = f32x4.add(f32x4.mul(kr, v128.load(r + o)), f32x4.mul(kg, v128.load(g + o)));
    y = f32x4.add(y, f32x4.mul(kb, v128.load(b + o)));
    y = v128.and(y, f32x4.eq(f32x4.sub(y, y), f32x4.splat(0)));
    low = f64x2.add(low, f64x2.promote_low_f32x4(y));
    high = f64x2.add(high, f64x2.promote_low_f32x4(v128.shuffle<i64>(y, y, 1, 1)));
  }
  let lane0 = f64x2.extract_lane(low, 0);
  let lane1 = f64x2.extract_lane(low, 1);
  let lane2 = f64x2.extract_lane(high, 0);
  const lane3 = f64x2.extract_lane(high, 1);
  for (let i = whole; i < n; i++) {
    const o = <usize>i << 2;
    const y: f32 = wr * load<f32>(r + o) + wg * load<f32>(g + o) + wb * load<f32>(b + o);
    if (y - y != 0) continue;
    if ((i & 3) == 0) lane0 += <f64>y;
    else if ((i & 3) == 1) lane1 += <f64>y;
    else lane2 += <f64>y;
  }
  return lane0 + lane1 + lane2 + lane3;
}

// @ts-ignore: decorator
@inline
function code(x: v128): v128 {
  const scaled = f32x4.add(f32x4.mul(x, f32x4.splat(255)), f32x4.splat(0.5));
  // In this order NaN gives 0.
  const limited = f32x4.pmin(f32x4.pmax(f32x4.splat(0), scaled), f32x4.splat(255));
  return i32x4.trunc_sat_f32x4_s(limited);
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

/** to[i] := the mean of samples 2 i and 2 i + 1 of two rows: (upper + lower, the left pair and the right one) / 4, in float32. */
export function averageSquares(to: usize, upper: usize, lower: usize, n: i32): void {
  const quarter = f32x4.splat(0.25);
  for (let i = 0; i < n; i += 4) {
    const o = <usize>i << 3;
    const first = f32x4.add(v128.load(upper + o), v128.load(lower + o));
    const second = f32x4.add(v128.load(upper + o, 16), v128.load(lower + o, 16));
    const left = v128.shuffle<f32>(first, second, 0, 2, 4, 6);
    const right = v128.shuffle<f32>(first, second, 1, 3, 5, 7);
    v128.store(to + (<usize>i << 2), f32x4.mul(f32x4.add(left, right), quarter));
  }
}
