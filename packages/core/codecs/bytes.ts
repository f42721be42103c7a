/** Undoes what ZIP and RLE do before packing: byte differences in place at src, then the two halves interleaved into dst. */
export function restoreBytes(src: usize, dst: usize, n: i32): void {
  // out[i] = out[i - 1] + in[i] - 128, as sixteen running sums at a time; -128 and +128 are the same byte.
  const zero = i8x16.splat(0);
  const bias = i8x16.splat(-128);
  let carry = bias; // cancels the bias of the first byte
  for (let i = 0; i < n; i += 16) {
    let v = i8x16.add(v128.load(src + i), bias);
    v = i8x16.add(v, i8x16.shuffle(zero, v, 0, 16, 17, 18, 19, 20, 21, 22, 23, 24, 25, 26, 27, 28, 29, 30));
    v = i8x16.add(v, i8x16.shuffle(zero, v, 0, 0, 16, 17, 18, 19, 20, 21, 22, 23, 24, 25, 26, 27, 28, 29));
    v = i8x16.add(v, i8x16.shuffle(zero, v, 0, 0, 0, 0, 16, 17, 18, 19, 20, 21, 22, 23, 24, 25, 26, 27));
    v = i8x16.add(v, i8x16.shuffle(zero, v, 0, 0, 0, 0, 0, 0, 0, 0, 16, 17, 18, 19, 20, 21, 22, 23));
    v = i8x16.add(v, carry);
    carry = i8x16.shuffle(v, v, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15);
    v128.store(src + i, v);
  }
  const half = (n + 1) >> 1; // the first half is the longer one
  for (let i = 0; i < half; i += 16) {
    const even = v128.load(src + i);
    const odd = v128.load(src + half + i);
    const out = dst + ((<usize>i) << 1);
    v128.store(out, i8x16.shuffle(even, odd, 0, 16, 1, 17, 2, 18, 3, 19, 4, 20, 5, 21, 6, 22, 7, 23));
    v128.store(out + 16, i8x16.shuffle(even, odd, 8, 24, 9, 25, 10, 26, 11, 27, 12, 28, 13, 29, 14, 30, 15, 31));
  }
}

/** What ZIP and RLE do before packing: even bytes first, then odd ones, then differences from the byte before. */
export function splitBytes(src: usize, dst: usize, scratch: usize, n: i32): void {
  const half = (n + 1) >> 1;
  for (let i = 0; i < half; i += 16) {
    const a = v128.load(src + ((<usize>i) << 1));
    const b = v128.load(src + ((<usize>i) << 1) + 16);
    v128.store(scratch + i, i8x16.shuffle(a, b, 0, 2, 4, 6, 8, 10, 12, 14, 16, 18, 20, 22, 24, 26, 28, 30));
  }
  // The odd bytes go after the even ones, over whatever the last step wrote too far.
  for (let i = 0; i < n - half; i += 16) {
    const a = v128.load(src + ((<usize>i) << 1));
    const b = v128.load(src + ((<usize>i) << 1) + 16);
    v128.store(scratch + half + i, i8x16.shuffle(a, b, 1, 3, 5, 7, 9, 11, 13, 15, 17, 19, 21, 23, 25, 27, 29, 31));
  }
  const bias = i8x16.splat(-128);
  if (n > 0) store<u8>(dst, load<u8>(scratch));
  for (let i = 1; i < n; i += 16) {
    const difference = i8x16.sub(v128.load(scratch + i), v128.load(scratch + i - 1));
    v128.store(dst + i, i8x16.add(difference, bias));
  }
}

/** Run-length bytes: a count of -n copies n bytes, n repeats the next byte n + 1 times (OpenEXR technical introduction). */
export function unpackRuns(src: usize, length: i32, dst: usize, size: i32): i32 {
  let at = 0;
  let i = 0;
  while (i < length) {
    const count = <i32>load<i8>(src + i);
    i++;
    if (count < 0) {
      const n = -count;
      if (i + n > length || at + n > size) return 1;
      memory.copy(dst + at, src + i, n);
      i += n;
      at += n;
    } else {
      const n = count + 1;
      if (i >= length || at + n > size) return 1;
      memory.fill(dst + at, load<u8>(src + i), n);
      i++;
      at += n;
    }
  }
  return at == size ? 0 : 1;
}
