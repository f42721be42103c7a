// B44 and B44A: half-float blocks of 4x4 in 14 bytes, or 3 bytes when they are flat (OpenEXR, ImfB44Compressor).

/** An ordered value of 16 bits, four times, as the half it stands for: the sign bit off where it is set, all bits turned where not. */
// @ts-ignore: decorator
@inline
function plain4(value: u32): u64 {
  const v = <u64>(value & 0xffff) * 0x0001000100010001;
  return ~v ^ (((v >> 15) & 0x0001000100010001) * 0x7fff);
}

/** The four fields of six bits in 24, the highest first, a lane each. */
// @ts-ignore: decorator
@inline
function fields(bits: u32): v128 {
  const moved = i32x4.mul(i32x4.splat(bits), i32x4(1, 1 << 6, 1 << 12, 1 << 18));
  return v128.and(i32x4.shr_u(moved, 18), i32x4.splat(0x3f));
}

/** Eight ordered values as the halves they stand for; see `plain4`. */
// @ts-ignore: decorator
@inline
function plain8(v: v128): v128 {
  return v128.xor(v128.not(v), v128.and(i16x8.shr_s(v, 15), i16x8.splat(0x7fff)));
}

/** A block in 14 bytes: the first value, then each row's first less the one above it, then each value less the one on its left, a column at a time. */
// @ts-ignore: decorator
@inline
function unpack14(b: usize, to: usize, rowBytes: usize): void {
  const down = bswap<u32>(load<u32>(b, 1)) & 0xffffff; // bytes 2, 3, 4
  const shift = down >> 18;
  const bias = i32x4.splat(0x20 << shift);
  const above = i32x4.sub(i32x4.shl(fields(down), shift), bias);
  const first = (<i32>load<u8>(b) << 8) | <i32>load<u8>(b, 1);
  // Sums from the first row on, all four at once.
  let c0 = i32x4.replace_lane(above, 0, first);
  const zero = i32x4.splat(0);
  c0 = i32x4.add(c0, i8x16.shuffle(zero, c0, 0, 1, 2, 3, 16, 17, 18, 19, 20, 21, 22, 23, 24, 25, 26, 27));
  c0 = i32x4.add(c0, i8x16.shuffle(zero, c0, 0, 1, 2, 3, 4, 5, 6, 7, 16, 17, 18, 19, 20, 21, 22, 23));
  const c1 = i32x4.add(c0, i32x4.sub(i32x4.shl(fields(bswap<u32>(load<u32>(b, 5)) >> 8), shift), bias));
  const c2 = i32x4.add(c1, i32x4.sub(i32x4.shl(fields(bswap<u32>(load<u32>(b, 8)) >> 8), shift), bias));
  const c3 = i32x4.add(c2, i32x4.sub(i32x4.shl(fields(bswap<u32>(load<u32>(b, 10)) & 0xffffff), shift), bias));
  const low = i32x4.splat(0xffff);
  const left = v128.or(v128.and(c0, low), i32x4.shl(c1, 16));
  const right = v128.or(v128.and(c2, low), i32x4.shl(c3, 16));
  const upper = plain8(i8x16.shuffle(left, right, 0, 1, 2, 3, 16, 17, 18, 19, 4, 5, 6, 7, 20, 21, 22, 23));
  const lower = plain8(i8x16.shuffle(left, right, 8, 9, 10, 11, 24, 25, 26, 27, 12, 13, 14, 15, 28, 29, 30, 31));
  v128.store64_lane(to, upper, 0);
  v128.store64_lane(to + rowBytes, upper, 1);
  v128.store64_lane(to + 2 * rowBytes, lower, 0);
  v128.store64_lane(to + 3 * rowBytes, lower, 1);
}

/**
 * Unpacks one half channel of nx x ny samples, rows contiguous at dst; returns the bytes that were taken, -1 when they run out.
 * dst = 0 only walks over the channel. `block` holds 32 bytes.
 */
export function unpackBlocks44(src: usize, length: i32, dst: usize, nx: i32, ny: i32, block: usize): i32 {
  let at = 0;
  const rowBytes = (<usize>nx) << 1;
  for (let y = 0; y < ny; y += 4) {
    const rows = min(4, ny - y);
    for (let x = 0; x < nx; x += 4) {
      if (at + 3 > length) return -1;
      const b = src + at;
      const flat = load<u8>(b, 2) >= 13 << 2;
      if (!flat && at + 14 > length) return -1;
      at += flat ? 3 : 14;
      if (dst == 0) continue;
      const out = dst + (<usize>y) * rowBytes + ((<usize>x) << 1);
      const whole = rows == 4 && x + 4 <= nx;
      const to = whole ? out : block;
      const step: usize = whole ? rowBytes : 8;
      if (flat) {
        const s = ((<u32>load<u8>(b)) << 8) | <u32>load<u8>(b, 1);
        const four = plain4(s);
        store<u64>(to, four);
        store<u64>(to + step, four);
        store<u64>(to + 2 * step, four);
        store<u64>(to + 3 * step, four);
      } else unpack14(b, to, step);
      if (whole) continue;
      for (let r = 0; r < rows; r++)
        for (let k = 0; k < min(4, nx - x); k++)
          store<u16>(out + (<usize>r) * rowBytes + (k << 1), load<u16>(block + (r << 3) + (k << 1)));
    }
  }
  return at;
}
