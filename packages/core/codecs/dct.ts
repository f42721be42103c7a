// DWA's lossy part: 8x8 blocks of DCT coefficients, half-float and run-length coded, one or three components at once
// (OpenEXR, ImfDwaCompressor and ImfDwaCompressorSimd).

const a: f32 = 0.35355339059327373; // cos(pi/4) / 2
const b: f32 = 0.49039264020161522; // cos(pi/16) / 2
const c: f32 = 0.46193976625564337; // cos(pi/8) / 2
const d: f32 = 0.41573480615127262; // cos(3 pi/16) / 2
const e: f32 = 0.27778511650980114; // cos(5 pi/16) / 2
const f: f32 = 0.19134171618254492; // cos(3 pi/8) / 2
const g: f32 = 0.097545161008064129; // cos(7 pi/16) / 2

/**
 * Where the coefficients of the zig-zag order stand in a block of halves, in bytes, rows and columns exchanged (ITU-T T.81 figure 5): the
 * inverse transform turns the block once.
 */
const zigzag = memory.data<u8>([
  0, 16, 2, 4, 18, 32, 48, 34, 20, 6, 8, 22, 36, 50, 64, 80,
  66, 52, 38, 24, 10, 12, 26, 40, 54, 68, 82, 96, 112, 98, 84, 70,
  56, 42, 28, 14, 30, 44, 58, 72, 86, 100, 114, 116, 102, 88, 74, 60,
  46, 62, 76, 90, 104, 118, 120, 106, 92, 78, 94, 108, 122, 124, 110, 126,
]);
/** Bits of those places: a column beyond the fourth, a row beyond the fourth. */
const wideBit = 8;
const deepBit = 64;

// @ts-ignore: decorator
@inline
function widen(h: u32): f32 {
  const bits = (h & 0x7fff) << 13;
  let value = reinterpret<f32>(bits) * reinterpret<f32>(0x77800000);
  if ((h & 0x7c00) == 0x7c00) value = reinterpret<f32>(bits | 0x7f800000);
  return reinterpret<f32>(reinterpret<u32>(value) | ((h & 0x8000) << 16));
}

/** Four halves of memory as floats, bit by bit as `widen` makes them. */
// @ts-ignore: decorator
@inline
function widenFour(at: usize): v128 {
  const h = v128.load16x4_u(at);
  const bits = i32x4.shl(v128.and(h, i32x4.splat(0x7fff)), 13);
  const value = f32x4.mul(bits, i32x4.splat(0x77800000));
  const exponent = i32x4.splat(0x7c00);
  const endless = v128.and(i32x4.eq(v128.and(h, exponent), exponent), v128.or(bits, i32x4.splat(0x7f800000)));
  return v128.or(v128.or(value, endless), i32x4.shl(v128.and(h, i32x4.splat(0x8000)), 16));
}

/** Eight rows of zeros: bulk instructions are slow for so few bytes. */
// @ts-ignore: decorator
@inline
function clearBlock(block: usize): void {
  const zero = i32x4.splat(0);
  v128.store(block, zero);
  v128.store(block, zero, 16);
  v128.store(block, zero, 32);
  v128.store(block, zero, 48);
  v128.store(block, zero, 64);
  v128.store(block, zero, 80);
  v128.store(block, zero, 96);
  v128.store(block, zero, 112);
}

/** Four columns at once, into `to`: the inverse DCT along the rows' direction of a block of 8 rows. */
// @ts-ignore: decorator
@inline
function columns(r0: v128, r1: v128, r2: v128, r3: v128, r4: v128, r5: v128, r6: v128, r7: v128, to: usize): void {
  const beta0 = f32x4.add(
    f32x4.add(f32x4.mul(f32x4.splat(b), r1), f32x4.mul(f32x4.splat(d), r3)),
    f32x4.add(f32x4.mul(f32x4.splat(e), r5), f32x4.mul(f32x4.splat(g), r7)),
  );
  const beta1 = f32x4.sub(
    f32x4.sub(f32x4.mul(f32x4.splat(d), r1), f32x4.mul(f32x4.splat(g), r3)),
    f32x4.add(f32x4.mul(f32x4.splat(b), r5), f32x4.mul(f32x4.splat(e), r7)),
  );
  const beta2 = f32x4.add(
    f32x4.sub(f32x4.mul(f32x4.splat(e), r1), f32x4.mul(f32x4.splat(b), r3)),
    f32x4.add(f32x4.mul(f32x4.splat(g), r5), f32x4.mul(f32x4.splat(d), r7)),
  );
  const beta3 = f32x4.add(
    f32x4.sub(f32x4.mul(f32x4.splat(g), r1), f32x4.mul(f32x4.splat(e), r3)),
    f32x4.sub(f32x4.mul(f32x4.splat(d), r5), f32x4.mul(f32x4.splat(b), r7)),
  );
  const theta0 = f32x4.mul(f32x4.splat(a), f32x4.add(r0, r4));
  const theta3 = f32x4.mul(f32x4.splat(a), f32x4.sub(r0, r4));
  const theta1 = f32x4.add(f32x4.mul(f32x4.splat(c), r2), f32x4.mul(f32x4.splat(f), r6));
  const theta2 = f32x4.sub(f32x4.mul(f32x4.splat(f), r2), f32x4.mul(f32x4.splat(c), r6));
  storeColumns(to, theta0, theta1, theta2, theta3, beta0, beta1, beta2, beta3);
}

/** The same where the lower four rows are 0. What would be added is added all the same, as it makes 0 of -0. */
// @ts-ignore: decorator
@inline
function shallowColumns(r0: v128, r1: v128, r2: v128, r3: v128, to: usize): void {
  const zero = f32x4.splat(0);
  const beta0 = f32x4.add(f32x4.add(f32x4.mul(f32x4.splat(b), r1), f32x4.mul(f32x4.splat(d), r3)), zero);
  const beta1 = f32x4.sub(f32x4.mul(f32x4.splat(d), r1), f32x4.mul(f32x4.splat(g), r3));
  const beta2 = f32x4.add(f32x4.sub(f32x4.mul(f32x4.splat(e), r1), f32x4.mul(f32x4.splat(b), r3)), zero);
  const beta3 = f32x4.add(f32x4.sub(f32x4.mul(f32x4.splat(g), r1), f32x4.mul(f32x4.splat(e), r3)), zero);
  const theta0 = f32x4.mul(f32x4.splat(a), f32x4.add(r0, zero));
  const theta3 = f32x4.mul(f32x4.splat(a), r0);
  const theta1 = f32x4.add(f32x4.mul(f32x4.splat(c), r2), zero);
  const theta2 = f32x4.mul(f32x4.splat(f), r2);
  storeColumns(to, theta0, theta1, theta2, theta3, beta0, beta1, beta2, beta3);
}

// @ts-ignore: decorator
@inline
function storeColumns(
  to: usize,
  theta0: v128,
  theta1: v128,
  theta2: v128,
  theta3: v128,
  beta0: v128,
  beta1: v128,
  beta2: v128,
  beta3: v128,
): void {
  const gamma0 = f32x4.add(theta0, theta1);
  const gamma1 = f32x4.add(theta3, theta2);
  const gamma2 = f32x4.sub(theta3, theta2);
  const gamma3 = f32x4.sub(theta0, theta1);
  v128.store(to, f32x4.add(gamma0, beta0));
  v128.store(to, f32x4.add(gamma1, beta1), 32);
  v128.store(to, f32x4.add(gamma2, beta2), 64);
  v128.store(to, f32x4.add(gamma3, beta3), 96);
  v128.store(to, f32x4.sub(gamma3, beta3), 128);
  v128.store(to, f32x4.sub(gamma2, beta2), 160);
  v128.store(to, f32x4.sub(gamma1, beta1), 192);
  v128.store(to, f32x4.sub(gamma0, beta0), 224);
}

// @ts-ignore: decorator
@inline
function transpose4(from: usize, to: usize): void {
  const r0 = v128.load(from);
  const r1 = v128.load(from, 32);
  const r2 = v128.load(from, 64);
  const r3 = v128.load(from, 96);
  const lo01 = i8x16.shuffle(r0, r1, 0, 1, 2, 3, 16, 17, 18, 19, 4, 5, 6, 7, 20, 21, 22, 23);
  const hi01 = i8x16.shuffle(r0, r1, 8, 9, 10, 11, 24, 25, 26, 27, 12, 13, 14, 15, 28, 29, 30, 31);
  const lo23 = i8x16.shuffle(r2, r3, 0, 1, 2, 3, 16, 17, 18, 19, 4, 5, 6, 7, 20, 21, 22, 23);
  const hi23 = i8x16.shuffle(r2, r3, 8, 9, 10, 11, 24, 25, 26, 27, 12, 13, 14, 15, 28, 29, 30, 31);
  v128.store(to, i8x16.shuffle(lo01, lo23, 0, 1, 2, 3, 4, 5, 6, 7, 16, 17, 18, 19, 20, 21, 22, 23));
  v128.store(to, i8x16.shuffle(lo01, lo23, 8, 9, 10, 11, 12, 13, 14, 15, 24, 25, 26, 27, 28, 29, 30, 31), 32);
  v128.store(to, i8x16.shuffle(hi01, hi23, 0, 1, 2, 3, 4, 5, 6, 7, 16, 17, 18, 19, 20, 21, 22, 23), 64);
  v128.store(to, i8x16.shuffle(hi01, hi23, 8, 9, 10, 11, 12, 13, 14, 15, 24, 25, 26, 27, 28, 29, 30, 31), 96);
}

// @ts-ignore: decorator
@inline
function halfColumns(from: usize, to: usize, seen: i32): void {
  const r0 = widenFour(from);
  const r1 = widenFour(from + 16);
  const r2 = widenFour(from + 32);
  const r3 = widenFour(from + 48);
  if (!(seen & deepBit)) {
    shallowColumns(r0, r1, r2, r3, to);
    return;
  }
  const r4 = widenFour(from + 64);
  const r5 = widenFour(from + 80);
  const r6 = widenFour(from + 96);
  columns(r0, r1, r2, r3, r4, r5, r6, widenFour(from + 112), to);
}

// @ts-ignore: decorator
@inline
function floatColumns(from: usize, to: usize, deep: i32): void {
  const r0 = v128.load(from);
  const r1 = v128.load(from, 32);
  const r2 = v128.load(from, 64);
  const r3 = v128.load(from, 96);
  if (!deep) {
    shallowColumns(r0, r1, r2, r3, to);
    return;
  }
  const r4 = v128.load(from, 128);
  const r5 = v128.load(from, 160);
  const r6 = v128.load(from, 192);
  columns(r0, r1, r2, r3, r4, r5, r6, v128.load(from, 224), to);
}

/** The inverse DCT of one block of halves, stored transposed in the zig-zag step: columns, transpose, columns. `other` is scratch. */
function inverseDct(halves: usize, block: usize, other: usize, seen: i32): void {
  const wide = seen & wideBit;
  halfColumns(halves, block, seen);
  transpose4(block, other);
  transpose4(block + 128, other + 16);
  if (wide) {
    halfColumns(halves + 8, block + 16, seen);
    transpose4(block + 16, other + 128);
    transpose4(block + 144, other + 144);
  }
  // Columns of zeros are rows of zeros now.
  floatColumns(other, block, wide);
  floatColumns(other + 16, block + 16, wide);
}

/** Narrows four floats to halves, ties to even, as half.ts of the kernels does. */
// @ts-ignore: decorator
@inline
function narrow(x: v128): v128 {
  const bits = v128.and(x, i32x4.splat(0x7fffffff));
  const sign = v128.and(i32x4.shr_u(x, 16), i32x4.splat(0x8000));
  const subnormal = i32x4.sub(f32x4.add(bits, f32x4.splat(0.5)), f32x4.splat(0.5));
  const odd = v128.and(i32x4.shr_u(bits, 13), i32x4.splat(1));
  const normal = i32x4.shr_u(i32x4.add(i32x4.add(bits, i32x4.splat(<i32>0xc8000fff)), odd), 13);
  const isNaN = i32x4.gt_s(bits, i32x4.splat(0x7f800000));
  const large = v128.bitselect(i32x4.splat(0x7e00), i32x4.splat(0x7c00), isNaN);
  let h = v128.bitselect(subnormal, normal, i32x4.gt_s(i32x4.splat(0x38800000), bits));
  h = v128.bitselect(h, large, i32x4.gt_s(i32x4.splat(0x47800000), bits));
  return v128.or(h, sign);
}

/** Narrows eight floats to halves; those that are neither small nor large need no other care. */
// @ts-ignore: decorator
@inline
function narrowEight(low: v128, high: v128): v128 {
  const magnitude = i32x4.splat(0x7fffffff);
  const lowBits = v128.and(low, magnitude);
  const highBits = v128.and(high, magnitude);
  const least = i32x4.splat(0x38800000);
  const range = i32x4.splat(0x0f000000);
  const outside = v128.or(
    i32x4.ge_u(i32x4.sub(lowBits, least), range),
    i32x4.ge_u(i32x4.sub(highBits, least), range),
  );
  if (v128.any_true(outside)) return i16x8.narrow_i32x4_u(narrow(low), narrow(high));
  return i16x8.narrow_i32x4_u(narrowNormal(low, lowBits), narrowNormal(high, highBits));
}

// @ts-ignore: decorator
@inline
function narrowNormal(x: v128, bits: v128): v128 {
  const odd = v128.and(i32x4.shr_u(bits, 13), i32x4.splat(1));
  const half = i32x4.shr_u(i32x4.add(i32x4.add(bits, i32x4.splat(<i32>0xc8000fff)), odd), 13);
  return v128.or(half, v128.and(i32x4.shr_u(x, 16), i32x4.splat(0x8000)));
}

/** Eight halves through a table of 65,536. */
// @ts-ignore: decorator
@inline
function lookUp(h: v128, table: usize): v128 {
  const low = i64x2.extract_lane(h, 0);
  const high = i64x2.extract_lane(h, 1);
  let a = v128.load_lane<u16>(table + <usize>((low & 0xffff) << 1), h, 0);
  a = v128.load_lane<u16>(table + <usize>(((low >> 16) & 0xffff) << 1), a, 1);
  a = v128.load_lane<u16>(table + <usize>(((low >> 32) & 0xffff) << 1), a, 2);
  a = v128.load_lane<u16>(table + <usize>(((low >> 48) & 0xffff) << 1), a, 3);
  let b = v128.load_lane<u16>(table + <usize>((high & 0xffff) << 1), h, 4);
  b = v128.load_lane<u16>(table + <usize>(((high >> 16) & 0xffff) << 1), b, 5);
  b = v128.load_lane<u16>(table + <usize>(((high >> 32) & 0xffff) << 1), b, 6);
  b = v128.load_lane<u16>(table + <usize>(((high >> 48) & 0xffff) << 1), b, 7);
  return i8x16.shuffle(a, b, 0, 1, 2, 3, 4, 5, 6, 7, 24, 25, 26, 27, 28, 29, 30, 31);
}

const partOfRow = memory.data(16, 16);

/** Eight floats as halves into a plane, or as many of them as it has. */
// @ts-ignore: decorator
@inline
function storeRow(low: v128, high: v128, table: usize, to: usize, count: i32): void {
  let h = narrowEight(low, high);
  if (table != 0) h = lookUp(h, table);
  storeHalves(h, to, count);
}

// @ts-ignore: decorator
@inline
function storeHalves(h: v128, to: usize, count: i32): void {
  if (count == 8) {
    v128.store(to, h);
    return;
  }
  v128.store(partOfRow, h);
  for (let i = 0; i < count; i++) store<u16>(to + (i << 1), load<u16>(partOfRow + (i << 1)));
}

// Rec.709 weights of luma and their inverse, with the reference's four digits (OpenEXR, ImfDwaCompressorSimd, csc709Inverse).
// @ts-ignore: decorator
@inline
function redOf(y: v128, cr: v128): v128 {
  return f32x4.add(y, f32x4.mul(f32x4.splat(1.5747), cr));
}
// @ts-ignore: decorator
@inline
function greenOf(y: v128, cb: v128, cr: v128): v128 {
  return f32x4.sub(f32x4.sub(y, f32x4.mul(f32x4.splat(0.1873), cb)), f32x4.mul(f32x4.splat(0.4682), cr));
}
// @ts-ignore: decorator
@inline
function blueOf(y: v128, cb: v128): v128 {
  return f32x4.add(y, f32x4.mul(f32x4.splat(1.8556), cb));
}

/** Luma and colour differences of a block as three planes' rows; a plane at 0 is left out. */
// @ts-ignore: decorator
@inline
function storeTriple(
  block: usize,
  red: usize,
  green: usize,
  blue: usize,
  stride: usize,
  rows: i32,
  count: i32,
  table: usize,
): void {
  for (let r = 0, at = block; r < rows; r++, at += 32) {
    const y0 = v128.load(at);
    const y1 = v128.load(at, 16);
    const cb0 = v128.load(at, 256);
    const cb1 = v128.load(at, 272);
    const cr0 = v128.load(at, 512);
    const cr1 = v128.load(at, 528);
    if (red != 0) {
      storeRow(redOf(y0, cr0), redOf(y1, cr1), table, red, count);
      red += stride;
    }
    if (green != 0) {
      storeRow(greenOf(y0, cb0, cr0), greenOf(y1, cb1, cr1), table, green, count);
      green += stride;
    }
    if (blue != 0) {
      storeRow(blueOf(y0, cb0), blueOf(y1, cb1), table, blue, count);
      blue += stride;
    }
  }
}

/** Rows of one value. */
// @ts-ignore: decorator
@inline
function storeFlat(value: v128, to: usize, stride: usize, rows: i32, count: i32, table: usize): void {
  if (to == 0) return;
  let half = <u32>i32x4.extract_lane(narrow(value), 0);
  if (table != 0) half = load<u16>(table + ((<usize>half) << 1));
  const all = i16x8.splat(<i16>half);
  for (let r = 0; r < rows; r++, to += stride) storeHalves(all, to, count);
}

/**
 * Unpacks the blocks of one component, or of three with the colour transform undone. first, second, third: their planes of nx x ny halves; 0
 * for one that is not wanted, all 0 only counts. table: 65,536 halves that undo the perceptual curve, or 0. scratch: 2 KiB, 16-byte aligned.
 * Returns how many AC values were taken, -1 when they run out.
 */
export function unpackDctBlocks(
  ac: usize,
  acCount: i32,
  dc: usize,
  first: usize,
  second: usize,
  third: usize,
  components: i32,
  nx: i32,
  ny: i32,
  table: usize,
  scratch: usize,
): i32 {
  const blocksX = (nx + 7) >> 3;
  const blocksY = (ny + 7) >> 3;
  const stride = (<usize>nx) << 1;
  const block = scratch;
  const other = scratch + 768;
  const halves = scratch + 1024;
  const counts = (first | second | third) == 0;
  let at = 0;
  for (let by = 0; by < blocksY; by++) {
    for (let bx = 0; bx < blocksX; bx++) {
      let flats = 0;
      for (let k = 0; k < components; k++) {
        const mean = load<u16>(dc + ((<usize>(k * blocksX * blocksY + by * blocksX + bx)) << 1));
        clearBlock(halves);
        store<u16>(halves, mean);
        let seen = 0;
        let i = 1;
        while (i < 64) {
          if (at >= acCount) return -1;
          const value = <u32>load<u16>(ac + ((<usize>at) << 1));
          at++;
          if (value == 0xff00) break;
          // A run of zeros puts one where there is one: a branch on what comes next would be guessed wrong every other time.
          const isRun = value >> 8 == 0xff;
          const place = <i32>load<u8>(zigzag + i);
          store<u16>(halves + place, <u16>select<u32>(0, value, isRun));
          seen |= select<i32>(0, place, isRun);
          i += select<i32>(<i32>value & 0xff, 1, isRun);
        }
        if (counts) continue;
        const coefficients = block + (<usize>k << 8);
        if (seen != 0) {
          inverseDct(halves, coefficients, other, seen);
          continue;
        }
        v128.store(coefficients, f32x4.splat(widen(mean) * <f32>3.535536e-1 * <f32>3.535536e-1));
        flats |= 1 << k;
      }
      if (counts) continue;
      const columnsHere = min(8, nx - (bx << 3));
      const rowsHere = min(8, ny - (by << 3));
      const corner = <usize>(by << 3) * stride + ((<usize>bx) << 4);
      const one = first == 0 ? 0 : first + corner;
      const two = second == 0 ? 0 : second + corner;
      const three = third == 0 ? 0 : third + corner;
      if (flats == (1 << components) - 1) {
        const y = v128.load(block);
        if (components == 1) {
          storeFlat(y, one, stride, rowsHere, columnsHere, table);
          continue;
        }
        const cb = v128.load(block, 256);
        const cr = v128.load(block, 512);
        storeFlat(redOf(y, cr), one, stride, rowsHere, columnsHere, table);
        storeFlat(greenOf(y, cb, cr), two, stride, rowsHere, columnsHere, table);
        storeFlat(blueOf(y, cb), three, stride, rowsHere, columnsHere, table);
        continue;
      }
      // What is flat beside others is needed as a block.
      for (let k = 0; k < components; k++) {
        if (!(flats & (1 << k))) continue;
        const coefficients = block + (<usize>k << 8);
        const value = v128.load(coefficients);
        for (let j: usize = 16; j < 256; j += 16) v128.store(coefficients + j, value);
      }
      if (components == 3) {
        storeTriple(block, one, two, three, stride, rowsHere, columnsHere, table);
        continue;
      }
      for (let r = 0, from = block, to = one; r < rowsHere; r++, from += 32, to += stride)
        storeRow(v128.load(from), v128.load(from, 16), table, to, columnsHere);
    }
  }
  return at;
}
