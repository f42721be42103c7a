// B44 and B44A: half-float blocks of 4x4 in 14 bytes, or 3 bytes when they are flat (OpenEXR, ImfB44Compressor).

/** Four ordered values, 16 bits each, as the halves they stand for: the sign bit off where it is set, all bits turned where not. */
// @ts-ignore: decorator
@inline
function plain4(a: u32, b: u32, c: u32, d: u32): u64 {
  const v = <u64>(a & 0xffff) | (<u64>(b & 0xffff) << 16) | (<u64>(c & 0xffff) << 32) | (<u64>d << 48);
  const signs = (v >> 15) & 0x0001000100010001;
  return ~v ^ (signs * 0x7fff);
}

// @ts-ignore: decorator
@inline
function unpack14(b: usize, to: usize, rowBytes: usize): void {
  const shift = <u32>load<u8>(b, 2) >> 2;
  const bias: u32 = <u32>0x20 << shift;
  const b2 = <u32>load<u8>(b, 2);
  const b3 = <u32>load<u8>(b, 3);
  const b4 = <u32>load<u8>(b, 4);
  const b5 = <u32>load<u8>(b, 5);
  const b6 = <u32>load<u8>(b, 6);
  const b7 = <u32>load<u8>(b, 7);
  const b8 = <u32>load<u8>(b, 8);
  const b9 = <u32>load<u8>(b, 9);
  const b10 = <u32>load<u8>(b, 10);
  const b11 = <u32>load<u8>(b, 11);
  const b12 = <u32>load<u8>(b, 12);
  const b13 = <u32>load<u8>(b, 13);
  const s0 = ((<u32>load<u8>(b)) << 8) | <u32>load<u8>(b, 1);
  const s4 = s0 + ((((b2 << 4) | (b3 >> 4)) & 0x3f) << shift) - bias;
  const s8 = s4 + ((((b3 << 2) | (b4 >> 6)) & 0x3f) << shift) - bias;
  const s12 = s8 + ((b4 & 0x3f) << shift) - bias;
  const s1 = s0 + ((b5 >> 2) << shift) - bias;
  const s5 = s4 + ((((b5 << 4) | (b6 >> 4)) & 0x3f) << shift) - bias;
  const s9 = s8 + ((((b6 << 2) | (b7 >> 6)) & 0x3f) << shift) - bias;
  const s13 = s12 + ((b7 & 0x3f) << shift) - bias;
  const s2 = s1 + ((b8 >> 2) << shift) - bias;
  const s6 = s5 + ((((b8 << 4) | (b9 >> 4)) & 0x3f) << shift) - bias;
  const s10 = s9 + ((((b9 << 2) | (b10 >> 6)) & 0x3f) << shift) - bias;
  const s14 = s13 + ((b10 & 0x3f) << shift) - bias;
  const s3 = s2 + ((b11 >> 2) << shift) - bias;
  const s7 = s6 + ((((b11 << 4) | (b12 >> 4)) & 0x3f) << shift) - bias;
  const s11 = s10 + ((((b12 << 2) | (b13 >> 6)) & 0x3f) << shift) - bias;
  const s15 = s14 + ((b13 & 0x3f) << shift) - bias;
  store<u64>(to, plain4(s0, s1, s2, s3));
  store<u64>(to + rowBytes, plain4(s4, s5, s6, s7));
  store<u64>(to + 2 * rowBytes, plain4(s8, s9, s10, s11));
  store<u64>(to + 3 * rowBytes, plain4(s12, s13, s14, s15));
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
        const four = plain4(s, s, s, s);
        for (let r: usize = 0; r < 4; r++) store<u64>(to + r * step, four);
      } else unpack14(b, to, step);
      if (whole) continue;
      for (let r = 0; r < rows; r++)
        for (let k = 0; k < min(4, nx - x); k++)
          store<u16>(out + (<usize>r) * rowBytes + (k << 1), load<u16>(block + (r << 3) + (k << 1)));
    }
  }
  return at;
}
