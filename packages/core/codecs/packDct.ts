// DWA's lossy blocks, forward: 8x8 values on the perceptual scale, Rec.709 luma and differences for three that belong together, a DCT, and the simplest
// halves within each coefficient's tolerance (OpenEXR, ImfDwaCompressor). The counterpart of dct.ts.

/** 64 floats each: up to three blocks, and what lies between two passes. */
const blocks = memory.data(3 * 256);
const between = memory.data(256);
const values = memory.data(128);

// ITU-T T.81 figure 5: where the coefficient of each step of the zigzag lies, row by row.
const zigzag = memory.data<u8>([
  0, 1, 8, 16, 9, 2, 3, 10, 17, 24, 32, 25, 18, 11, 4, 5, 12, 19, 26, 33, 40, 48, 41, 34, 27, 20, 13, 6, 7, 14, 21, 28,
  35, 42, 49, 56, 57, 50, 43, 36, 29, 22, 15, 23, 30, 37, 44, 51, 58, 59, 52, 45, 38, 31, 39, 46, 53, 60, 61, 54, 47,
  55, 62, 63,
]);

// @ts-ignore: decorator
@inline
function mirrored(i: i32, side: i32): i32 {
  return i < side ? i : max(2 * side - 2 - i, 0);
}

/** A block of a plane through a table of floats by half; over the edge it mirrors the picture. */
function cutBlock(plane: usize, nx: i32, ny: i32, left: i32, top: i32, table: usize, block: usize): void {
  const inside = left + 8 <= nx;
  for (let y = 0; y < 8; y++) {
    const row = plane + ((<usize>(mirrored(top + y, ny) * nx)) << 1);
    for (let x = 0; x < 8; x++) {
      const column = inside ? left + x : mirrored(left + x, nx);
      const half = <usize>load<u16>(row + ((<usize>column) << 1));
      store<f32>(block + ((y * 8 + x) << 2), load<f32>(table + (half << 2)));
    }
  }
}

/** Rec.709 luma and differences with the reference's four digits (OpenEXR, ImfDwaCompressorSimd, csc709Forward). */
function toLumaChroma(): void {
  for (let i: usize = 0; i < 256; i += 16) {
    const r = v128.load(blocks + i);
    const g = v128.load(blocks + 256 + i);
    const b = v128.load(blocks + 512 + i);
    v128.store(blocks + i, mix(r, 0.2126, g, 0.7152, b, 0.0722));
    v128.store(blocks + 256 + i, mix(r, -0.1146, g, -0.3854, b, 0.5));
    v128.store(blocks + 512 + i, mix(r, 0.5, g, -0.4542, b, -0.0458));
  }
}

// @ts-ignore: decorator
@inline
function mix(a: v128, x: f32, b: v128, y: f32, c: v128, z: f32): v128 {
  const ab = f32x4.add(f32x4.mul(a, f32x4.splat(x)), f32x4.mul(b, f32x4.splat(y)));
  return f32x4.add(ab, f32x4.mul(c, f32x4.splat(z)));
}

/** Sums of rows: to[k] is the sum of from[n] by cosines[k][n]. */
function sumRows(from: usize, to: usize, cosines: usize): void {
  for (let half: usize = 0; half < 32; half += 16) {
    const r0 = v128.load(from + half);
    const r1 = v128.load(from + half + 32);
    const r2 = v128.load(from + half + 64);
    const r3 = v128.load(from + half + 96);
    const r4 = v128.load(from + half + 128);
    const r5 = v128.load(from + half + 160);
    const r6 = v128.load(from + half + 192);
    const r7 = v128.load(from + half + 224);
    // A DCT's even rows are of sums of what mirrors each other, its odd rows of differences.
    const s0 = f32x4.add(r0, r7);
    const s1 = f32x4.add(r1, r6);
    const s2 = f32x4.add(r2, r5);
    const s3 = f32x4.add(r3, r4);
    const d0 = f32x4.sub(r0, r7);
    const d1 = f32x4.sub(r1, r6);
    const d2 = f32x4.sub(r2, r5);
    const d3 = f32x4.sub(r3, r4);
    for (let k: usize = 0; k < 8; k += 2) {
      v128.store(to + half + (k << 5), four(s0, s1, s2, s3, cosines + (k << 5)));
      v128.store(to + half + ((k + 1) << 5), four(d0, d1, d2, d3, cosines + ((k + 1) << 5)));
    }
  }
}

// @ts-ignore: decorator
@inline
function four(a: v128, b: v128, c: v128, d: v128, row: usize): v128 {
  const ab = f32x4.add(f32x4.mul(a, v128.load32_splat(row)), f32x4.mul(b, v128.load32_splat(row + 4)));
  const cd = f32x4.add(f32x4.mul(c, v128.load32_splat(row + 8)), f32x4.mul(d, v128.load32_splat(row + 12)));
  return f32x4.add(ab, cd);
}

function transpose(from: usize, to: usize): void {
  for (let y = 0; y < 8; y++)
    for (let x = 0; x < 8; x++) store<f32>(to + ((x * 8 + y) << 2), load<f32>(from + ((y * 8 + x) << 2)));
}

// @ts-ignore: decorator
@inline
function toHalf(x: f32): i32 {
  const bits = reinterpret<u32>(x);
  const sign = (bits >> 16) & 0x8000;
  let rest = bits & 0x7fffffff;
  if (rest >= 0x47800000) return <i32>(sign | 0x7c00);
  // Below the smallest normal half the addition itself rounds.
  if (rest < 0x38800000) rest = reinterpret<u32>(reinterpret<f32>(rest) + 0.5) - 0x3f000000;
  else rest = (rest + 0xc8000fff + ((rest >> 13) & 1)) >> 13;
  return <i32>(sign | rest);
}

// @ts-ignore: decorator
@inline
function ofHalf(h: i32): f32 {
  const rest = h & 0x7fff;
  const x = rest < 0x400 ? <f32>rest * 5.9604644775390625e-8 : reinterpret<f32>((<u32>rest << 13) + 0x38000000);
  return h & 0x8000 ? -x : x;
}

/** The half with the fewest fraction bits within `tolerance` of x: few different values pack well. */
function simplest(x: f32, tolerance: f32): i32 {
  if (abs(x) <= tolerance) return 0;
  const exact = toHalf(x);
  for (let dropped = 10; dropped > 0; dropped--) {
    const near = ((exact & 0x7fff) + (1 << (dropped - 1))) & ~((1 << dropped) - 1);
    if (near >= 0x7c00) continue;
    const candidate = (exact & 0x8000) | near;
    if (abs(ofHalf(candidate) - x) <= tolerance) return candidate;
  }
  return exact;
}

/**
 * Packs planes of nx x ny halves, `planeBytes` apart, one or three that belong together. `table`: a float for each half; `cosines`: the orthonormal
 * DCT-II of length 8; `tolerances`: of each coefficient, row by row, for luma and then for the others. DC values go to `dc`, plane after plane, AC values to
 * `ac` (63 a block at most) with runs of zeros as 0xff00 and their length, 0xff00 alone to a block's end. Returns the number of AC values.
 */
export function packDctBlocks(
  src: usize,
  planeBytes: i32,
  components: i32,
  nx: i32,
  ny: i32,
  table: usize,
  cosines: usize,
  tolerances: usize,
  dc: usize,
  ac: usize,
): i32 {
  const across = (nx + 7) >> 3;
  const down = (ny + 7) >> 3;
  const perPlane = (<usize>(across * down)) << 1;
  let to = ac;
  let n: usize = 0;
  for (let by = 0; by < ny; by += 8)
    for (let bx = 0; bx < nx; bx += 8, n += 2) {
      for (let k = 0; k < components; k++)
        cutBlock(src + <usize>k * <usize>planeBytes, nx, ny, bx, by, table, blocks + ((<usize>k) << 8));
      if (components == 3) toLumaChroma();
      for (let k = 0; k < components; k++) {
        const block = blocks + ((<usize>k) << 8);
        sumRows(block, between, cosines);
        transpose(between, block);
        sumRows(block, between, cosines);
        const limits = tolerances + (k == 0 ? 0 : 256);
        for (let i = 0; i < 64; i++) {
          const place = <usize>load<u8>(zigzag + i);
          // The second pass left columns where rows were.
          const turned = ((place & 7) << 3) | (place >> 3);
          const half = simplest(load<f32>(between + (turned << 2)), load<f32>(limits + (place << 2)));
          store<u16>(values + (i << 1), <u16>half);
        }
        store<u16>(dc + <usize>k * perPlane + n, load<u16>(values));
        to = packAc(to);
      }
    }
  return <i32>((to - ac) >> 1);
}

function packAc(at: usize): usize {
  for (let i = 1; i < 64; ) {
    let run = 0;
    while (i + run < 64 && load<u16>(values + ((i + run) << 1)) == 0) run++;
    if (run > 1) store<u16>(at, <u16>(i + run == 64 ? 0xff00 : 0xff00 | run));
    else store<u16>(at, load<u16>(values + (i << 1)));
    at += 2;
    i += max(run, 1);
  }
  return at;
}
