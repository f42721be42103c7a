// DWA's lossy part: 8x8 blocks of DCT coefficients, half-float and run-length coded, one or three components at once
// (OpenEXR, ImfDwaCompressor and ImfDwaCompressorSimd).

const a: f32 = 0.35355339059327373; // cos(pi/4) / 2
const b: f32 = 0.49039264020161522; // cos(pi/16) / 2
const c: f32 = 0.46193976625564337; // cos(pi/8) / 2
const d: f32 = 0.41573480615127262; // cos(3 pi/16) / 2
const e: f32 = 0.27778511650980114; // cos(5 pi/16) / 2
const f: f32 = 0.19134171618254492; // cos(3 pi/8) / 2
const g: f32 = 0.097545161008064129; // cos(7 pi/16) / 2

/** Where the coefficients of the zig-zag order stand in the block, in bytes of float32 (ITU-T T.81 figure 5). */
const zigzag = memory.data<u8>([
  0, 1, 8, 16, 9, 2, 3, 10, 17, 24, 32, 25, 18, 11, 4, 5, 12, 19, 26, 33, 40, 48, 41, 34, 27, 20, 13, 6, 7, 14, 21, 28, 35,
  42, 49, 56, 57, 50, 43, 36, 29, 22, 15, 23, 30, 37, 44, 51, 58, 59, 52, 45, 38, 31, 39, 46, 53, 60, 61, 54, 47, 55, 62, 63,
]);

// @ts-ignore: decorator
@inline
function widen(h: u32): f32 {
  const bits = (h & 0x7fff) << 13;
  let value = reinterpret<f32>(bits) * reinterpret<f32>(0x77800000);
  if ((h & 0x7c00) == 0x7c00) value = reinterpret<f32>(bits | 0x7f800000);
  return reinterpret<f32>(reinterpret<u32>(value) | ((h & 0x8000) << 16));
}

/** Sixteen rows of zeros: bulk instructions are slow for so few bytes. */
// @ts-ignore: decorator
@inline
function clearBlock(block: usize): void {
  const zero = i32x4.splat(0);
  for (let i: usize = 0; i < 256; i += 64) {
    v128.store(block + i, zero);
    v128.store(block + i, zero, 16);
    v128.store(block + i, zero, 32);
    v128.store(block + i, zero, 48);
  }
}

/** Four columns at once, into `to`: the inverse DCT along the rows' direction of a block of 8 rows. */
// @ts-ignore: decorator
@inline
function columns(block: usize, to: usize): void {
  const r0 = v128.load(block);
  const r1 = v128.load(block, 32);
  const r2 = v128.load(block, 64);
  const r3 = v128.load(block, 96);
  const r4 = v128.load(block, 128);
  const r5 = v128.load(block, 160);
  const r6 = v128.load(block, 192);
  const r7 = v128.load(block, 224);
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

/** The inverse DCT of one block, stored transposed in the zig-zag step: columns, transpose, columns. `other` is scratch. */
function inverseDct(block: usize, other: usize, rightEmpty: bool): void {
  columns(block, block);
  if (!rightEmpty) columns(block + 16, block + 16);
  transpose4(block, other);
  transpose4(block + 16, other + 128);
  transpose4(block + 128, other + 16);
  transpose4(block + 144, other + 144);
  columns(other, block);
  columns(other + 16, block + 16);
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

/** Rec.709 weights of luma and its inverse, with the reference's four digits (OpenEXR, ImfDwaCompressorSimd, csc709Inverse). */
function toRgb(block: usize): void {
  for (let i: usize = 0; i < 256; i += 16) pixelsToRgb(block + i);
}

/** Four pixels of it. */
// @ts-ignore: decorator
@inline
function pixelsToRgb(at: usize): void {
  const y = v128.load(at);
  const cb = v128.load(at, 256);
  const cr = v128.load(at, 512);
  v128.store(at, f32x4.add(y, f32x4.mul(f32x4.splat(1.5747), cr)));
  v128.store(
    at,
    f32x4.sub(f32x4.sub(y, f32x4.mul(f32x4.splat(0.1873), cb)), f32x4.mul(f32x4.splat(0.4682), cr)),
    256,
  );
  v128.store(at, f32x4.add(y, f32x4.mul(f32x4.splat(1.8556), cb)), 512);
}

/** Stores a block of one value a component, as the first four samples of each have it. */
function storeFlat(
  block: usize,
  components: i32,
  dst: usize,
  planeBytes: i32,
  x: i32,
  y: i32,
  nx: i32,
  ny: i32,
  table: usize,
): void {
  if (components == 3) pixelsToRgb(block);
  const columnsHere = min(8, nx - x);
  const rowsHere = min(8, ny - y);
  for (let k = 0; k < components; k++) {
    const narrowed = narrow(v128.load(block + (<usize>k << 8)));
    let half = <u32>i32x4.extract_lane(narrowed, 0);
    if (table != 0) half = load<u16>(table + ((<usize>half) << 1));
    const all = i16x8.splat(<i16>half);
    let row = dst + <usize>(k * planeBytes) + ((<usize>(y * nx + x)) << 1);
    for (let r = 0; r < rowsHere; r++, row += (<usize>nx) << 1) {
      if (columnsHere == 8) v128.store(row, all);
      else for (let c = 0; c < columnsHere; c++) store<u16>(row + (c << 1), <u16>half);
    }
  }
}

/**
 * Unpacks the blocks of one component, or of three with the colour transform undone. dst: one plane of nx x ny halves after the
 * other, `planeBytes` apart. table: 65,536 halves that undo the perceptual curve, or 0. scratch: 4 KiB, 16-byte aligned.
 * Returns how many AC values were taken, -1 when they run out. dst = 0 only counts.
 */
export function unpackDctBlocks(
  ac: usize,
  acCount: i32,
  dc: usize,
  dst: usize,
  planeBytes: i32,
  components: i32,
  nx: i32,
  ny: i32,
  table: usize,
  scratch: usize,
): i32 {
  const blocksX = (nx + 7) >> 3;
  const blocksY = (ny + 7) >> 3;
  const block = scratch;
  const other = scratch + 1024;
  const out = scratch + 2048;
  let at = 0;
  for (let by = 0; by < blocksY; by++) {
    for (let bx = 0; bx < blocksX; bx++) {
      let flat = true;
      let flats = 0;
      for (let k = 0; k < components; k++) {
        const coefficients = block + (<usize>k << 8);
        const first = widen(load<u16>(dc + ((<usize>(k * blocksX * blocksY + by * blocksX + bx)) << 1)));
        clearBlock(coefficients);
        store<f32>(coefficients, first);
        let last = 0;
        let right = false;
        let i = 1;
        while (i < 64) {
          if (at >= acCount) return -1;
          const value = <u32>load<u16>(ac + ((<usize>at) << 1));
          at++;
          if (value == 0xff00) break;
          if (value >> 8 == 0xff) {
            i += value & 0xff;
          } else {
            const place = <u32>load<u8>(zigzag + i);
            // transposed, because inverseDct turns the block once
            const turned = ((place & 7) << 3) | (place >> 3);
            if ((turned & 7) > 3) right = true;
            store<f32>(coefficients + (turned << 2), widen(value));
            last = i;
            i++;
          }
        }
        if (dst == 0) continue;
        if (last > 0) {
          flat = false;
          inverseDct(coefficients, other, !right);
          continue;
        }
        const value = f32x4.splat(first * <f32>3.535536e-1 * <f32>3.535536e-1);
        v128.store(coefficients, value);
        flats |= 1 << k;
      }
      if (dst == 0) continue;
      if (flat) {
        storeFlat(block, components, dst, planeBytes, bx << 3, by << 3, nx, ny, table);
        continue;
      }
      // What is flat beside others is needed as a block.
      for (let k = 0; k < components; k++) {
        if (!(flats & (1 << k))) continue;
        const coefficients = block + (<usize>k << 8);
        const value = v128.load(coefficients);
        for (let j: usize = 16; j < 256; j += 16) v128.store(coefficients + j, value);
      }
      if (components == 3) toRgb(block);
      const columnsHere = min(8, nx - (bx << 3));
      const rowsHere = min(8, ny - (by << 3));
      for (let k = 0; k < components; k++) {
        const values = block + (<usize>k << 8);
        for (let j: usize = 0; j < 64; j += 8) {
          const h = i16x8.narrow_i32x4_u(narrow(v128.load(values + (j << 2))), narrow(v128.load(values + (j << 2), 16)));
          v128.store(out + (j << 1), h);
        }
        if (table != 0)
          for (let j: usize = 0; j < 128; j += 2)
            store<u16>(out + j, load<u16>(table + ((<usize>load<u16>(out + j)) << 1)));
        let row = dst + <usize>(k * planeBytes) + ((<usize>((by << 3) * nx + (bx << 3))) << 1);
        for (let y = 0; y < rowsHere; y++, row += (<usize>nx) << 1) {
          if (columnsHere == 8) v128.store(row, v128.load(out + (y << 4)));
          else for (let x = 0; x < columnsHere; x++) store<u16>(row + (x << 1), load<u16>(out + (y << 4) + (x << 1)));
        }
      }
    }
  }
  return at;
}
