// What codecs do before and while they pack; the counterparts of bytes.ts, wavelet.ts and huffman.ts. Inputs are the program's own samples, outputs
// have room for the worst case.

const leastRun = 3;
const longestRun = 127;

/** Run-length bytes: runs of three and more are worth a count (OpenEXR technical introduction). Returns the bytes written: n + n / 127 + 2 at most. */
export function packRuns(src: usize, n: i32, dst: usize): i32 {
  let at: usize = dst;
  let i = 0;
  while (i < n) {
    const value = load<u8>(src + i);
    let end = i + 1;
    while (end < n && load<u8>(src + end) == value && end - i - 1 < longestRun) end++;
    if (end - i >= leastRun) {
      store<u8>(at, <u8>(end - i - 1));
      store<u8>(at + 1, value);
      at += 2;
      i = end;
      continue;
    }
    while (end < n && end - i < longestRun) {
      if (end + 2 < n) {
        const next = load<u8>(src + end);
        if (next == load<u8>(src + end + 1) && next == load<u8>(src + end + 2)) break;
      }
      end++;
    }
    store<u8>(at, <u8>(i - end));
    memory.copy(at + 1, src + i, end - i);
    at += 1 + end - i;
    i = end;
  }
  return <i32>(at - dst);
}

/** Marks which 16-bit values occur, a bit each, in 8192 bytes that were cleared. */
export function markValues(at: usize, n: i32, bitmap: usize): void {
  for (let i = 0; i < n; i++) {
    const v = <usize>load<u16>(at + ((<usize>i) << 1));
    const byte = bitmap + (v >> 3);
    store<u8>(byte, <u8>(<i32>load<u8>(byte) | (1 << (<i32>v & 7))));
  }
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

/** How often each 16-bit value occurs: 65,536 counts of 32 bits that were cleared. */
export function countValues(at: usize, n: i32, counts: usize): void {
  for (let i = 0; i < n; i++) {
    const p = counts + ((<usize>load<u16>(at + ((<usize>i) << 1))) << 2);
    store<u32>(p, load<u32>(p) + 1);
  }
}

const longest = 58;

/** Canonical codes of 64 bits by symbol, longest first (OpenEXR, ImfHuf); `symbols` lengths of a byte. */
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
    store<u64>(codes + ((<usize>i) << 3), own);
    store<u64>(p, own + 1);
  }
}

let writeAt: usize = 0;
let held: u64 = 0;
let count: i32 = 0;

// @ts-ignore: decorator
@inline
function put(value: u64, length: i32): void {
  // At most 7 bits are held from before, so that 57 more have room; longer codes go in two.
  if (length > 56) {
    putShort(value >> 32, length - 32);
    putShort(value & 0xffffffff, 32);
  } else putShort(value, length);
}

// @ts-ignore: decorator
@inline
function putShort(value: u64, length: i32): void {
  held = (held << length) | value;
  count += length;
  while (count >= 8) {
    count -= 8;
    store<u8>(writeAt++, <u8>(held >> count));
  }
}

/**
 * Packs 16-bit values by codes of 64 bits and their lengths, most significant bit first; `repeat` says that the value before comes again, as often as
 * the eight bits behind it say, where that is shorter. Returns the bits written; the bytes are those, rounded up.
 */
export function packSymbols(at: usize, n: i32, lengths: usize, codes: usize, repeat: i32, dst: usize): u32 {
  writeAt = dst;
  held = 0;
  count = 0;
  let bits: u32 = 0;
  const repeatLength = <i32>load<u8>(lengths + repeat);
  const repeatCode = load<u64>(codes + ((<usize>repeat) << 3));
  let i = 0;
  while (i < n) {
    const value = <usize>load<u16>(at + ((<usize>i) << 1));
    const length = <i32>load<u8>(lengths + value);
    const code = load<u64>(codes + (value << 3));
    let more = 0;
    while (more < 255 && i + 1 + more < n && <usize>load<u16>(at + ((<usize>(i + 1 + more)) << 1)) == value) more++;
    if (length + repeatLength + 8 < length * more) {
      put(code, length);
      put(repeatCode, repeatLength);
      put(<u64>more, 8);
      bits += length + repeatLength + 8;
    } else {
      for (let k = 0; k <= more; k++) put(code, length);
      bits += length * (more + 1);
    }
    i += more + 1;
  }
  if (count > 0) putShort(0, 8 - count);
  return bits;
}
