// What codecs do before and while they pack; the counterparts of bytes.ts, wavelet.ts and huffman.ts. Inputs are the program's own samples, outputs
// have room for the worst case.

import { evens, odds, storePairs } from './wavelet';

const leastRun = 3;
const longestRun = 127;

/**
 * Run-length bytes: runs of three and more are worth a count (OpenEXR technical introduction). Returns the bytes written: n + n / 127 + 2 at most. Up to
 * 16 bytes behind the input are read, and behind the output written.
 */
export function packRuns(src: usize, n: i32, dst: usize): i32 {
  let at: usize = dst;
  let i = 0;
  while (i < n) {
    const most = i + longestRun < n ? i + longestRun : n;
    const run = endOfRun(src, i, i + longestRun + 1 < n ? i + longestRun + 1 : n);
    if (run - i >= leastRun) {
      store<u8>(at, <u8>(run - i - 1));
      store<u8>(at + 1, load<u8>(src + i));
      at += 2;
      i = run;
      continue;
    }
    const end = startOfRun(src, run, most, n);
    store<u8>(at, <u8>(i - end));
    at++;
    for (let k = i; k < end; k += 16) v128.store(at + (k - i), v128.load(src + k));
    at += end - i;
    i = end;
  }
  return <i32>(at - dst);
}

/** Where the run of one value ends that begins at a byte, `most` at the latest. */
// @ts-ignore: decorator
@inline
function endOfRun(src: usize, from: i32, most: i32): i32 {
  const value = load<u8>(src + from);
  let end = from + 1;
  // Most runs are short.
  if (end >= most || load<u8>(src + end) != value) return end;
  const all = i8x16.splat(<i8>value);
  while (end < most) {
    const same = i8x16.bitmask(i8x16.eq(v128.load(src + end), all));
    if (same != 0xffff) {
      end += ctz(~same);
      break;
    }
    end += 16;
  }
  return end < most ? end : most;
}

/** Where the next three bytes of one value begin, from a byte on, `most` at the latest. */
// @ts-ignore: decorator
@inline
function startOfRun(src: usize, from: i32, most: i32, n: i32): i32 {
  let end = from;
  while (end < most) {
    const p = src + end;
    const next = v128.load(p, 1);
    const three = v128.and(i8x16.eq(v128.load(p), next), i8x16.eq(next, v128.load(p, 2)));
    const found = i8x16.bitmask(three);
    if (found) {
      end += ctz(found);
      break;
    }
    end += 16;
  }
  // What looks like a run may reach behind the input.
  if (end + 2 >= n) return most;
  return end < most ? end : most;
}

/** Marks which 16-bit values occur, a bit each, in 8192 bytes; `seen` is 65,536 bytes that were cleared. */
export function markValues(at: usize, n: i32, seen: usize, bitmap: usize): void {
  const end = at + ((<usize>n) << 1);
  for (let p = at; p < end; p += 2) store<u8>(seen + <usize>load<u16>(p), 255);
  for (let i: usize = 0; i < 65536; i += 16)
    store<u16>(bitmap + (i >> 3), <u16>i8x16.bitmask(v128.load(seen + i)));
}

/** The wavelet that `inverseWavelet` undoes, of nx x ny values in place; neighbours lie `ox` and `oy` values apart. `largest` decides the form. */
export function forwardWavelet(at: usize, nx: i32, ox: i32, ny: i32, oy: i32, largest: i32): void {
  const w14 = largest < 1 << 14;
  const n = nx < ny ? nx : ny;
  let p = 1;
  let p2 = 2;
  while (p2 <= n) {
    const ox1 = (<usize>(ox * p)) << 1;
    const oy1 = (<usize>(oy * p)) << 1;
    const ox2 = ox1 << 1;
    const oy2 = oy1 << 1;
    let py = at;
    let y = 0;
    for (; y <= ny - p2; y += p2, py += oy2) {
      let px = py;
      let x = 0;
      // Eight quads at a time on the finest level, where most of the values are.
      if (p == 1 && ox == 1)
        for (; x + 16 <= nx; x += 16, px += 32) w14 ? joinEight14(px, px + oy1) : joinEight16(px, px + oy1);
      if (w14)
        for (; x <= nx - p2; x += p2, px += ox2) {
          join14(px, px + ox1);
          join14(px + oy1, px + oy1 + ox1);
          join14(px, px + oy1);
          join14(px + ox1, px + oy1 + ox1);
        }
      else
        for (; x <= nx - p2; x += p2, px += ox2) {
          join16(px, px + ox1);
          join16(px + oy1, px + oy1 + ox1);
          join16(px, px + oy1);
          join16(px + ox1, px + oy1 + ox1);
        }
      if (nx & p) w14 ? join14(px, px + oy1) : join16(px, px + oy1);
    }
    if (ny & p) {
      let px = py;
      for (let x = 0; x <= nx - p2; x += p2, px += ox2) w14 ? join14(px, px + ox1) : join16(px, px + ox1);
    }
    p = p2;
    p2 <<= 1;
  }
}

// @ts-ignore: decorator
@inline
function join14(a: usize, b: usize): void {
  const x = <i32>load<i16>(a);
  const y = <i32>load<i16>(b);
  store<i16>(a, <i16>((x + y) >> 1));
  store<i16>(b, <i16>(x - y));
}

// @ts-ignore: decorator
@inline
function join16(a: usize, b: usize): void {
  const x = ((<i32>load<u16>(a)) + 0x8000) & 0xffff;
  const y = <i32>load<u16>(b);
  const difference = x - y;
  let low = (x + y) >> 1;
  if (difference < 0) low = (low + 0x8000) & 0xffff;
  store<u16>(a, <u16>low);
  store<u16>(b, <u16>difference);
}

/** The quads of two rows of sixteen values: rows first, then columns, as one after the other does it. */
function joinEight14(top: usize, bottom: usize): void {
  const t0 = v128.load(top);
  const t1 = v128.load(top + 16);
  const u0 = v128.load(bottom);
  const u1 = v128.load(bottom + 16);
  const a = evens(t0, t1);
  const b = odds(t0, t1);
  const c = evens(u0, u1);
  const d = odds(u0, u1);
  const upper = mean14(a, b);
  const lower = mean14(c, d);
  const across = i16x8.sub(a, b);
  const below = i16x8.sub(c, d);
  storePairs(top, mean14(upper, lower), mean14(across, below));
  storePairs(bottom, i16x8.sub(upper, lower), i16x8.sub(across, below));
}

/** Half the sum of two signed values, rounded down, without a wider sum. */
// @ts-ignore: decorator
@inline
function mean14(a: v128, b: v128): v128 {
  return i16x8.add(v128.and(a, b), i16x8.shr_s(v128.xor(a, b), 1));
}

function joinEight16(top: usize, bottom: usize): void {
  const t0 = v128.load(top);
  const t1 = v128.load(top + 16);
  const u0 = v128.load(bottom);
  const u1 = v128.load(bottom + 16);
  const a = evens(t0, t1);
  const b = odds(t0, t1);
  const c = evens(u0, u1);
  const d = odds(u0, u1);
  const upper = mean16(a, b);
  const lower = mean16(c, d);
  const across = difference16(a, b);
  const below = difference16(c, d);
  storePairs(top, mean16(upper, lower), mean16(across, below));
  storePairs(bottom, difference16(upper, lower), difference16(across, below));
}

/** x - y of x = a + 2^15, in 16 bits. */
// @ts-ignore: decorator
@inline
function difference16(a: v128, b: v128): v128 {
  return i16x8.sub(v128.xor(a, i16x8.splat(<i16>0x8000)), b);
}

/** Half the sum of x = a + 2^15 and b, half a turn further where x is the smaller. */
// @ts-ignore: decorator
@inline
function mean16(a: v128, b: v128): v128 {
  const half = i16x8.splat(<i16>0x8000);
  const x = v128.xor(a, half);
  const low = i16x8.add(v128.and(x, b), i16x8.shr_u(v128.xor(x, b), 1));
  return v128.xor(low, v128.and(i16x8.lt_u(x, b), half));
}

/** How often each 16-bit value occurs: 65,536 counts of 32 bits that were cleared. */
export function countValues(at: usize, n: i32, counts: usize): void {
  for (let i = 0; i < n; i++) {
    const p = counts + ((<usize>load<u16>(at + ((<usize>i) << 1))) << 2);
    store<u32>(p, load<u32>(p) + 1);
  }
}

const longest = 58;

/**
 * Canonical codes by symbol, longest first (OpenEXR, ImfHuf): 64 bits each, the code above and its length in the lowest six. `lengths` are of a byte,
 * 58 at most.
 */
export function buildCodes(lengths: usize, symbols: i32, codes: usize): void {
  const next = memory.data(8 * 64);
  memory.fill(next, 0, 8 * 64);
  for (let i = 0; i < symbols; i++) {
    const p = next + ((<usize>load<u8>(lengths + i)) << 3);
    store<u64>(p, load<u64>(p) + 1);
  }
  let code: u64 = 0;
  for (let l = longest; l > 0; l--) {
    const n = load<u64>(next + (l << 3));
    store<u64>(next + (l << 3), code);
    code = (code + n) >> 1;
  }
  for (let i = 0; i < symbols; i++) {
    const l = <usize>load<u8>(lengths + i);
    if (l == 0) continue;
    const p = next + (l << 3);
    const own = load<u64>(p);
    store<u64>(codes + ((<usize>i) << 3), (own << 6) | <u64>l);
    store<u64>(p, own + 1);
  }
}

let writeAt: usize = 0;
let held: u64 = 0;
let count: i32 = 0;

/** Fewer than 32 bits are held from before, so that 32 more have room. */
// @ts-ignore: decorator
@inline
function put(value: u64, length: i32): void {
  held = (held << length) | value;
  count += length;
  if (count >= 32) {
    count -= 32;
    store<u32>(writeAt, bswap(<u32>(held >> count)));
    writeAt += 4;
  }
}

// @ts-ignore: decorator
@inline
function putCode(entry: u64): void {
  const length = <i32>(entry & 63);
  const code = entry >> 6;
  if (length <= 32) return put(code, length);
  put(code >> 32, length - 32);
  put(code & 0xffffffff, 32);
}

/**
 * Packs 16-bit values by codes as `buildCodes` makes them, most significant bit first; `repeat` says that the value before comes again, as often as
 * the eight bits behind it say, where that is shorter. Returns the bits written; the bytes are those, rounded up, and up to three behind them.
 */
export function packSymbols(at: usize, n: i32, codes: usize, repeat: i32, dst: usize): u32 {
  writeAt = dst;
  held = 0;
  count = 0;
  const end = at + ((<usize>n) << 1);
  const repeatEntry = load<u64>(codes + ((<usize>repeat) << 3));
  const repeatLength = <i32>(repeatEntry & 63) + 8;
  let p = at;
  while (p < end) {
    const value = load<u16>(p);
    const entry = load<u64>(codes + ((<usize>value) << 3));
    p += 2;
    putCode(entry);
    if (p >= end || load<u16>(p) != value) continue;
    const last = p + 510 < end ? p + 510 : end;
    let q = p + 2;
    while (q < last && load<u16>(q) == value) q += 2;
    const more = <i32>((q - p) >> 1);
    const length = <i32>(entry & 63);
    if (length + repeatLength < length * more) {
      putCode(repeatEntry);
      put(<u64>more, 8);
    } else for (let k = 0; k < more; k++) putCode(entry);
    p = q;
  }
  const bits = <u32>((writeAt - dst) << 3) + <u32>count;
  // What is left, high bits first.
  if (count > 0) store<u32>(writeAt, bswap(<u32>(held << (32 - count))));
  return bits;
}
