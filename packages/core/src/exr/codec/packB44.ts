import { sampleGrid } from '../geometry.ts';
import type { ChunkToPack } from './chunk.ts';
import { halfTable } from './chunk.ts';

const bias = 0x20;

/** 4x4 blocks of halves in 14 bytes, flat ones in 3 for B44A; other types stay as they are (OpenEXR, ImfB44Compressor). */
export function packB44({ compression, channels, box, rows }: ChunkToPack): Uint8Array {
  const size = channels.reduce((n, c, i) => {
    const { width, height } = sampleGrid(c, box);
    return n + (c.type === 'half' ? Math.ceil(width / 4) * Math.ceil(height / 4) * 14 : rows[i]!.length);
  }, 0);
  const out = new Uint8Array(size);
  let at = 0;
  channels.forEach((c, i) => {
    if (c.type !== 'half') {
      out.set(rows[i]!, at);
      at += rows[i]!.length;
      return;
    }
    const { width, height } = sampleGrid(c, box);
    const bytes = rows[i]!.slice();
    const samples = new Uint16Array(bytes.buffer);
    if (c.perceptuallyLinear) toExponential(samples);
    const block = new Uint16Array(16);
    for (let y = 0; y < height; y += 4) {
      for (let x = 0; x < width; x += 4) {
        // Blocks over the edge repeat the last column and row.
        for (let k = 0; k < 16; k++) {
          const row = Math.min(y + (k >> 2), height - 1);
          block[k] = samples[row * width + Math.min(x + (k & 3), width - 1)]!;
        }
        at += packBlock(block, out, at, compression === 'b44a', !c.perceptuallyLinear);
      }
    }
  });
  return out.subarray(0, at);
}

let expTable: Uint16Array | undefined;
/** Channels marked as perceptually linear are packed as exp(x / 8) (OpenEXR, b44ExpLogTable). */
function toExponential(samples: Uint16Array): void {
  expTable ??= halfTable((x) => (x >= 8 * Math.log(65504) ? 65504 : Math.exp(x / 8)));
  for (let i = 0; i < samples.length; i++) samples[i] = expTable[samples[i]!]!;
}

const ordered = new Int32Array(16);
const steps = new Int32Array(16);
const rest = new Int32Array(15);
/** Which two of the block's steps each of the fifteen differences is taken between. */
const pairs = [
  [0, 4],
  [4, 8],
  [8, 12],
  [0, 1],
  [4, 5],
  [8, 9],
  [12, 13],
  [1, 2],
  [5, 6],
  [9, 10],
  [13, 14],
  [2, 3],
  [6, 7],
  [10, 11],
  [14, 15],
] as const;

function packBlock(block: Uint16Array, out: Uint8Array, at: number, flatBlocks: boolean, exactMost: boolean): number {
  let most = 0;
  for (let i = 0; i < 16; i++) {
    const s = block[i]!;
    const t = (s & 0x7c00) === 0x7c00 ? 0x8000 : s & 0x8000 ? ~s & 0xffff : s | 0x8000;
    ordered[i] = t;
    most = Math.max(most, t);
  }
  let shift = -1;
  let [least, largest] = [0, 0];
  do {
    shift++;
    for (let i = 0; i < 16; i++) steps[i] = shiftAndRound(most - ordered[i]!, shift);
    [least, largest] = [Infinity, -Infinity];
    for (let i = 0; i < 15; i++) {
      const [a, b] = pairs[i]!;
      const r = steps[a]! - steps[b]! + bias;
      rest[i] = r;
      least = Math.min(least, r);
      largest = Math.max(largest, r);
    }
  } while (least < 0 || largest > 0x3f);
  const flat = flatBlocks && least === bias && largest === bias;
  const first = !flat && exactMost ? most - (steps[0]! << shift) : ordered[0]!;
  out[at] = first >> 8;
  out[at + 1] = first;
  if (flat) {
    out[at + 2] = 0xfc;
    return 3;
  }
  // Six bits each: the shift, then the fifteen differences.
  let bits = shift;
  let held = 6;
  let to = at + 2;
  for (let i = 0; i < 15; i++) {
    bits = (bits << 6) | rest[i]!;
    held += 6;
    while (held >= 8) {
      held -= 8;
      out[to++] = bits >> held;
      bits &= (1 << held) - 1;
    }
  }
  return 14;
}

/** x / 2^shift, rounded; ties to even. */
function shiftAndRound(x: number, shift: number): number {
  const doubled = x << 1;
  const odd = (doubled >> (shift + 1)) & 1;
  return (doubled + (1 << shift) - 1 + odd) >> (shift + 1);
}
