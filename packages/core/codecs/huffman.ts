// The Huffman code of PIZ and of DWA's AC values: canonical, longest codes first, up to 58 bits, one symbol repeats the last
// value (OpenEXR, ImfHuf: "Huffman encoding").

const symbols = 65537;
const longest = 58;
const quickBits = 12;

// Layout of the scratch memory, in bytes; 1 MiB is enough.
const lengthsAt = 0; // u8 per symbol
const sortedAt = 65600; // u32 per symbol: symbols by length, then by number
const quickAt = 65600 + 4 * 65552; // u32 per quick entry: symbol << 6 | length
const packedAt = quickAt + (4 << quickBits); // u64 per quick entry: up to three symbols, see packEntries
const countAt = packedAt + (8 << quickBits); // u32 per length
const firstAt = countAt + 4 * 64; // u64 per length: first code
const offsetAt = firstAt + 8 * 64; // u32 per length: where its symbols begin
export const huffmanScratch = offsetAt + 4 * 64;

/** Reads packed code lengths of symbols `from` … `to`; returns the byte after them, or 0 when they are damaged. */
function unpackLengths(src: usize, end: usize, scratch: usize, from: i32, to: i32): usize {
  memory.fill(scratch + lengthsAt, 0, symbols);
  let bits: u64 = 0;
  let held = 0;
  let at = src;
  let i = from;
  while (i <= to) {
    while (held < 14) {
      bits = (bits << 8) | (at < end ? <u64>load<u8>(at) : 0);
      at++;
      held += 8;
    }
    held -= 6;
    const length = <i32>((bits >> held) & 63);
    if (length < 59) {
      store<u8>(scratch + lengthsAt + i, <u8>length);
      i++;
      continue;
    }
    let run = length - 57;
    if (length == 63) {
      held -= 8;
      run = <i32>((bits >> held) & 255) + 6;
    }
    if (i + run > to + 1) return 0;
    i += run;
  }
  at -= held >> 3; // whole bytes that were taken ahead
  return at <= end ? at : 0;
}

/** Sorts symbols by length and numbers the codes. Returns 1 when the lengths cannot be a code. */
function buildCode(scratch: usize): i32 {
  const count = scratch + countAt;
  const first = scratch + firstAt;
  const offset = scratch + offsetAt;
  memory.fill(count, 0, 4 * 64);
  for (let i = 0; i < symbols; i++) {
    const p = count + ((<usize>load<u8>(scratch + lengthsAt + i)) << 2);
    store<u32>(p, load<u32>(p) + 1);
  }
  store<u32>(count, 0);
  let code: u64 = 0;
  let total: u32 = 0;
  for (let l = longest; l > 0; l--) {
    const n = load<u32>(count + (l << 2));
    store<u64>(first + (l << 3), code);
    store<u32>(offset + (l << 2), total);
    total += n;
    if (n > 0 && code + n > (<u64>1) << l) return 1;
    code = (code + n) >> 1;
  }
  // Symbols in their places; `offset` walks forward and is set back below.
  for (let i = 0; i < symbols; i++) {
    const l = <usize>load<u8>(scratch + lengthsAt + i);
    if (l == 0) continue;
    const place = load<u32>(offset + (l << 2));
    store<u32>(scratch + sortedAt + ((<usize>place) << 2), i);
    store<u32>(offset + (l << 2), place + 1);
  }
  for (let l = 1; l <= longest; l++)
    store<u32>(offset + (l << 2), load<u32>(offset + (l << 2)) - load<u32>(count + (l << 2)));
  memory.fill(scratch + quickAt, 0, 4 << quickBits);
  for (let l = 1; l <= quickBits; l++) {
    const n = load<u32>(count + (l << 2));
    const start = <u32>load<u64>(first + (l << 3));
    const span = 1 << (quickBits - l);
    for (let k: u32 = 0; k < n; k++) {
      const symbol = load<u32>(scratch + sortedAt + ((<usize>(load<u32>(offset + (l << 2)) + k)) << 2));
      const entry = (symbol << 6) | l;
      let p = scratch + quickAt + ((<usize>((start + k) << (quickBits - l))) << 2);
      for (let s = 0; s < span; s++, p += 4) store<u32>(p, entry);
    }
  }
  return 0;
}

/**
 * As many whole symbols as the bits of a quick entry hold, three at most, so that one look-up gives them all: their bits' number (6 bits), how
 * many they are (2), the symbols (16 each). None where the first is a long code or the repeat.
 */
function packEntries(scratch: usize, repeat: u32): void {
  const quick = scratch + quickAt;
  for (let bits = 0; bits < 1 << quickBits; bits++) {
    let entry: u64 = 0;
    let taken = 0;
    let count = 0;
    for (; count < 3; count++) {
      const next = load<u32>(quick + ((<usize>((bits << taken) & ((1 << quickBits) - 1))) << 2));
      const l = <i32>(next & 63);
      if (l == 0 || taken + l > quickBits || next >> 6 == repeat) break;
      entry |= (<u64>(next >> 6)) << (8 + 16 * count);
      taken += l;
    }
    store<u64>(scratch + packedAt + ((<usize>bits) << 3), entry | (<u64>count << 6) | <u64>taken);
  }
}

/** Unpacks `length` bytes at src, header included, to exactly n 16-bit values at dst. `scratch` holds 1 MiB. */
export function unpackHuffman(src: usize, length: i32, dst: usize, n: i32, scratch: usize): i32 {
  if (length == 0) return n == 0 ? 0 : 1;
  if (length < 20) return 1;
  const from = load<i32>(src);
  const to = load<i32>(src + 4);
  const bitCount = <u64>load<u32>(src + 12);
  if (from < 0 || from >= symbols || to < 0 || to >= symbols) return 1;
  const end = src + length;
  let at = unpackLengths(src + 20, end, scratch, from, to);
  if (at == 0 || bitCount > (<u64>(end - at)) << 3) return 1;
  if (buildCode(scratch) != 0) return 1;
  packEntries(scratch, to);
  return decode(at, bitCount, dst, n, scratch, to);
}

function decode(src: usize, bitCount: u64, dst: usize, n: i32, scratch: usize, repeat: u32): i32 {
  const quick = scratch + quickAt;
  const out = dst + ((<usize>n) << 1);
  let to = dst;
  let at = src;
  let bits: u64 = 0; // left-aligned
  let held: i32 = 0;
  const packed = scratch + packedAt;
  while (true) {
    let left = <i64>bitCount - ((<i64>(at - src)) << 3) + held;
    if (left <= 0) break;
    // Refill to at least 56 bits; what is read after the end is ignored, `left` counts.
    if (held < 56) {
      bits |= bswap<u64>(load<u64>(at)) >> (<u64>held);
      const taken = (63 - held) >> 3;
      at += taken;
      held += taken << 3;
    }
    // Four look-ups fit into what is held, with no further check.
    if (left >= 48 && to + 32 <= out) {
      let whole = 0;
      for (; whole < 4; whole++) {
        const entry = load<u64>(packed + ((<usize>(bits >> (64 - quickBits))) << 3));
        const count = <usize>(entry >> 6) & 3;
        if (count == 0) break;
        store<u64>(to, entry >> 8);
        to += count << 1;
        const l = entry & 63;
        bits <<= l;
        held -= <i32>l;
      }
      if (whole == 4) continue;
      left = <i64>bitCount - ((<i64>(at - src)) << 3) + held;
      if (held < 56) {
        bits |= bswap<u64>(load<u64>(at)) >> (<u64>held);
        const taken = (63 - held) >> 3;
        at += taken;
        held += taken << 3;
      }
    }
    let entry = load<u32>(quick + ((<usize>(bits >> (64 - quickBits))) << 2));
    let l = <i32>(entry & 63);
    let symbol = entry >> 6;
    if (l == 0) {
      // A long code: the first length whose codes begin at or below these bits.
      l = quickBits + 1;
      while (l <= longest) {
        const count = load<u32>(scratch + countAt + (l << 2));
        if (count > 0) {
          const code = bits >> (64 - l);
          const start = load<u64>(scratch + firstAt + (l << 3));
          if (code >= start && code - start < count) {
            symbol = load<u32>(
              scratch + sortedAt + ((<usize>(load<u32>(scratch + offsetAt + (l << 2)) + <u32>(code - start))) << 2),
            );
            break;
          }
        }
        l++;
      }
      if (l > longest) return 1;
      if (l > held) {
        // Only codes beyond 56 bits come here; they take one byte more.
        bits |= (<u64>load<u8>(at)) >> (<u64>(held - 56));
        if (l > 56) return 1; // no encoder makes them: 2^56 samples would be needed
      }
    }
    bits <<= l;
    held -= l;
    left -= l;
    if (left < 0) return 1;
    if (symbol != repeat) {
      if (to >= out) return 1;
      store<u16>(to, <u16>symbol);
      to += 2;
      continue;
    }
    if (held < 8) {
      bits |= bswap<u64>(load<u64>(at)) >> (<u64>held);
      const taken = (63 - held) >> 3;
      at += taken;
      held += taken << 3;
    }
    const run = <usize>(bits >> 56);
    bits <<= 8;
    held -= 8;
    left -= 8;
    if (left < 0 || to == dst || to + (run << 1) > out) return 1;
    const value = load<u16>(to - 2);
    for (let i: usize = 0; i < run; i++, to += 2) store<u16>(to, value);
  }
  return to == out ? 0 : 1;
}
