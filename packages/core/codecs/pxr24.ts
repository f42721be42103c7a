/**
 * One line of one channel of PXR24: byte planes of differences, most significant first, n samples each
 * (OpenEXR, ImfPxr24Compressor). `kind` is the sample type: 0 uint (4 planes), 1 half (2), 2 float (3 of 4 bytes kept).
 */
export function unpackPxr24Line(src: usize, dst: usize, n: i32, kind: i32): void {
  let value: u32 = 0;
  const second = src + n;
  const third = second + n;
  const fourth = third + n;
  if (kind == 1) {
    for (let i = 0; i < n; i++) {
      value += ((<u32>load<u8>(src + i)) << 8) | (<u32>load<u8>(second + i));
      store<u16>(dst + ((<usize>i) << 1), <u16>value);
    }
  } else {
    for (let i = 0; i < n; i++) {
      value +=
        ((<u32>load<u8>(src + i)) << 24) |
        ((<u32>load<u8>(second + i)) << 16) |
        ((<u32>load<u8>(third + i)) << 8) |
        (kind == 0 ? <u32>load<u8>(fourth + i) : 0);
      store<u32>(dst + ((<usize>i) << 2), value);
    }
  }
}
