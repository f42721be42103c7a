// IEEE 754 binary16 <-> binary32, exact in both directions, ties to even when narrowing.

/** Four halves, as the low words of their lanes, widened: subnormals, infinities and NaN payloads too. */
// @ts-ignore: decorator
@inline
function widened(h: v128): v128 {
  const bias = i32x4.splat(0x38000000); // 112 exponents: the bias from 15 to 127
  const least = i32x4.splat(0x38800000); // 2^-14, the least normal half
  const magnitude = v128.and(h, i32x4.splat(0x7fff));
  const shifted = i32x4.shl(magnitude, 13);
  // Below 2^-14: 2^-14 + x, which is normal, less 2^-14. Floats that are subnormal themselves would take many times as long.
  const small = f32x4.sub(i32x4.add(shifted, least), least);
  let bits = v128.bitselect(small, i32x4.add(shifted, bias), i32x4.lt_s(magnitude, i32x4.splat(0x400)));
  const special = i32x4.gt_s(magnitude, i32x4.splat(0x7bff));
  bits = v128.or(bits, v128.and(special, i32x4.splat(0x7f800000)));
  return v128.or(bits, i32x4.shl(v128.and(h, i32x4.splat(0x8000)), 16));
}

/** Four magnitudes of which none is subnormal, infinite or no number, widened, without their signs. */
// @ts-ignore: decorator
@inline
function widenedPlain(magnitude: v128): v128 {
  const bits = i32x4.add(i32x4.shl(magnitude, 13), i32x4.splat(0x38000000));
  return v128.and(bits, i32x4.ne(magnitude, i32x4.splat(0)));
}

/** Widens n halves at src to floats at dst. Subnormals, infinities and NaN payloads are kept. */
export function halfToFloat(src: usize, dst: usize, n: i32): void {
  const sign = i32x4.splat(<i32>0x80000000);
  let i = 0;
  for (; i + 8 <= n; i += 8) {
    const from = src + ((<usize>i) << 1);
    const to = dst + ((<usize>i) << 2);
    const h = v128.load(from);
    const magnitude = v128.and(h, i16x8.splat(0x7fff));
    const subnormal = i16x8.lt_u(i16x8.sub(magnitude, i16x8.splat(1)), i16x8.splat(0x3ff));
    if (v128.any_true(v128.or(subnormal, i16x8.gt_s(magnitude, i16x8.splat(0x7bff))))) {
      v128.store(to, widened(i32x4.extend_low_i16x8_u(h)));
      v128.store(to + 16, widened(i32x4.extend_high_i16x8_u(h)));
      continue;
    }
    const low = widenedPlain(i32x4.extend_low_i16x8_u(magnitude));
    const high = widenedPlain(i32x4.extend_high_i16x8_u(magnitude));
    v128.store(to, v128.or(low, v128.and(i32x4.extend_low_i16x8_s(h), sign)));
    v128.store(to + 16, v128.or(high, v128.and(i32x4.extend_high_i16x8_s(h), sign)));
  }
  for (; i < n; i += 4) {
    const h = v128.load_ext<u16>(src + ((<usize>i) << 1));
    v128.store(dst + ((<usize>i) << 2), widened(h));
  }
}

/** Narrows n floats at src to halves at dst, round to nearest, ties to even; |x| >= 65520 becomes infinity. */
export function floatToHalf(src: usize, dst: usize, n: i32): void {
  const half = f32x4.splat(0.5);
  for (let i = 0; i < n; i += 4) {
    const x = v128.load(src + ((<usize>i) << 2));
    const bits = v128.and(x, i32x4.splat(0x7fffffff));
    const sign = v128.and(i32x4.shr_u(x, 16), i32x4.splat(0x8000));
    const subnormal = i32x4.sub(f32x4.add(bits, half), half);
    const odd = v128.and(i32x4.shr_u(bits, 13), i32x4.splat(1));
    const normal = i32x4.shr_u(i32x4.add(i32x4.add(bits, i32x4.splat(<i32>0xc8000fff)), odd), 13);
    const isNaN = i32x4.gt_s(bits, i32x4.splat(0x7f800000));
    const large = v128.bitselect(i32x4.splat(0x7e00), i32x4.splat(0x7c00), isNaN);
    let h = v128.bitselect(subnormal, normal, i32x4.gt_s(i32x4.splat(0x38800000), bits));
    h = v128.bitselect(h, large, i32x4.gt_s(i32x4.splat(0x47800000), bits));
    h = v128.or(h, sign);
    const packed = i16x8.narrow_i32x4_u(h, h);
    store<u64>(dst + ((<usize>i) << 1), i64x2.extract_lane(packed, 0));
  }
}
