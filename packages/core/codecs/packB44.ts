// B44's blocks: 4x4 halves as one value, a shift and fifteen differences of six bits (OpenEXR, ImfB44Compressor).

/** Halves as whole numbers in the order of their values; infinities and what is no number count as zero. */
// @ts-ignore: decorator
@inline
function ordered(v: v128): v128 {
  const sign = i32x4.splat(0x8000);
  const exponent = i32x4.splat(0x7c00);
  const negative = i32x4.eq(v128.and(v, sign), sign);
  const t = v128.bitselect(v128.and(v128.not(v), i32x4.splat(0xffff)), v128.or(v, sign), negative);
  return v128.bitselect(sign, t, i32x4.eq(v128.and(v, exponent), exponent));
}

/** x / 2^shift, rounded, ties to even. */
// @ts-ignore: decorator
@inline
function rounded(x: v128, shift: i32): v128 {
  const doubled = i32x4.shl(x, 1);
  const odd = v128.and(i32x4.shr_s(doubled, shift + 1), i32x4.splat(1));
  return i32x4.shr_s(i32x4.add(i32x4.add(doubled, i32x4.splat((1 << shift) - 1)), odd), shift + 1);
}

// @ts-ignore: decorator
@inline
function steps(v: v128): v128 {
  return i32x4.sub(v, i8x16.shuffle(v, v, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 12, 13, 14, 15));
}

// @ts-ignore: decorator
@inline
function six(v: v128): v128 {
  return i32x4.add(v, i32x4.splat(0x20));
}

// @ts-ignore: decorator
@inline
function storeBits(at: usize, bits: u64): void {
  store<u32>(at, bswap<u32>(<u32>(bits >> 16)));
  store<u16>(at + 4, bswap<u16>(<u16>bits));
}

const edge = memory.data(32);

/**
 * Packs nx x ny halves; blocks over the edge repeat the last column and row. `flat`: blocks of one value take 3 bytes; `exact`: the largest value is
 * kept exactly. Returns the bytes written, 14 a block at most.
 */
export function packBlocks44(src: usize, nx: i32, ny: i32, dst: usize, flat: i32, exact: i32): i32 {
  let at = dst;
  const pitch = (<usize>nx) << 1;
  for (let y = 0; y < ny; y += 4)
    for (let x = 0; x < nx; x += 4) {
      if (x + 4 <= nx && y + 4 <= ny) {
        at += packBlock(src + <usize>y * pitch + ((<usize>x) << 1), pitch, at, flat, exact);
        continue;
      }
      for (let k = 0; k < 16; k++) {
        const row = min(y + (k >> 2), ny - 1);
        const column = min(x + (k & 3), nx - 1);
        store<u16>(edge + (k << 1), load<u16>(src + <usize>row * pitch + ((<usize>column) << 1)));
      }
      at += packBlock(edge, 8, at, flat, exact);
    }
  return <i32>(at - dst);
}

function packBlock(src: usize, pitch: usize, at: usize, flat: i32, exact: i32): i32 {
  const t0 = ordered(v128.load16x4_u(src));
  const t1 = ordered(v128.load16x4_u(src + pitch));
  const t2 = ordered(v128.load16x4_u(src + 2 * pitch));
  const t3 = ordered(v128.load16x4_u(src + 3 * pitch));
  let m = i32x4.max_s(i32x4.max_s(t0, t1), i32x4.max_s(t2, t3));
  m = i32x4.max_s(m, i8x16.shuffle(m, m, 8, 9, 10, 11, 12, 13, 14, 15, 0, 1, 2, 3, 4, 5, 6, 7));
  m = i32x4.max_s(m, i8x16.shuffle(m, m, 4, 5, 6, 7, 0, 1, 2, 3, 12, 13, 14, 15, 8, 9, 10, 11));
  const d0 = i32x4.sub(m, t0);
  const d1 = i32x4.sub(m, t1);
  const d2 = i32x4.sub(m, t2);
  const d3 = i32x4.sub(m, t3);
  const over = i32x4.splat(~0x3f);
  let shift = -1;
  let r0: v128, h0: v128, h1: v128, h2: v128, h3: v128, v: v128;
  do {
    shift++;
    r0 = rounded(d0, shift);
    const r1 = rounded(d1, shift);
    const r2 = rounded(d2, shift);
    const r3 = rounded(d3, shift);
    h0 = six(steps(r0));
    h1 = six(steps(r1));
    h2 = six(steps(r2));
    h3 = six(steps(r3));
    // The first of each row, from one row to the next.
    const upper = i8x16.shuffle(r0, r1, 0, 1, 2, 3, 16, 17, 18, 19, 0, 1, 2, 3, 0, 1, 2, 3);
    const a = i8x16.shuffle(upper, r2, 0, 1, 2, 3, 4, 5, 6, 7, 16, 17, 18, 19, 16, 17, 18, 19);
    const lower = i8x16.shuffle(r1, r2, 0, 1, 2, 3, 16, 17, 18, 19, 0, 1, 2, 3, 0, 1, 2, 3);
    const b0 = i8x16.shuffle(lower, r3, 0, 1, 2, 3, 4, 5, 6, 7, 16, 17, 18, 19, 0, 1, 2, 3);
    const b = i8x16.shuffle(b0, r2, 0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 16, 17, 18, 19);
    v = six(i32x4.sub(a, b));
    const all = v128.or(v128.or(v128.or(h0, h1), v128.or(h2, h3)), v);
    if (!v128.any_true(v128.and(all, over))) break;
  } while (true);
  const zero = i32x4.splat(0x20);
  const moved = v128.or(
    v128.or(v128.or(v128.xor(h0, zero), v128.xor(h1, zero)), v128.or(v128.xor(h2, zero), v128.xor(h3, zero))),
    v128.xor(v, zero),
  );
  const isFlat = flat != 0 && !v128.any_true(moved);
  const first =
    !isFlat && exact != 0 ? i32x4.extract_lane(m, 0) - (i32x4.extract_lane(r0, 0) << shift) : i32x4.extract_lane(t0, 0);
  store<u16>(at, bswap<u16>(<u16>first));
  if (isFlat) {
    store<u8>(at + 2, 0xfc);
    return 3;
  }
  let bits: u64 = <u64>shift;
  bits = (bits << 6) | <u64>i32x4.extract_lane(v, 0);
  bits = (bits << 6) | <u64>i32x4.extract_lane(v, 1);
  bits = (bits << 6) | <u64>i32x4.extract_lane(v, 2);
  bits = (bits << 6) | <u64>i32x4.extract_lane(h0, 0);
  bits = (bits << 6) | <u64>i32x4.extract_lane(h1, 0);
  bits = (bits << 6) | <u64>i32x4.extract_lane(h2, 0);
  bits = (bits << 6) | <u64>i32x4.extract_lane(h3, 0);
  storeBits(at + 2, bits);
  bits = <u64>i32x4.extract_lane(h0, 1);
  bits = (bits << 6) | <u64>i32x4.extract_lane(h1, 1);
  bits = (bits << 6) | <u64>i32x4.extract_lane(h2, 1);
  bits = (bits << 6) | <u64>i32x4.extract_lane(h3, 1);
  bits = (bits << 6) | <u64>i32x4.extract_lane(h0, 2);
  bits = (bits << 6) | <u64>i32x4.extract_lane(h1, 2);
  bits = (bits << 6) | <u64>i32x4.extract_lane(h2, 2);
  bits = (bits << 6) | <u64>i32x4.extract_lane(h3, 2);
  storeBits(at + 8, bits);
  return 14;
}
