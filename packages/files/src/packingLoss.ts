import {
  asFloats,
  numberToHalf,
  openExr,
  readChannels,
  writeExr,
  type ByteSink,
  type ByteSource,
  type Compression,
  type Plane,
} from '@june-haze/core';
import { zlibCodec } from './zlibCodec.ts';

/** What packing some light has taken from it. */
export interface PackingLoss {
  /** Mean over pixels of the luminance-weighted absolute difference, and the largest of a channel. */
  readonly mean: number;
  readonly largest: number;
}

/** Packings that change numbers: PXR24 only those of full floats (OpenEXR, "Technical Introduction", compression). */
export const losesNumbers = (compression: string, sampleType: string): compression is Compression =>
  ['b44', 'b44a', 'dwaa', 'dwab'].includes(compression) || (compression === 'pxr24' && sampleType !== 'half');

/** Packs rows of light (red, green, blue; whole lines) as a file of that make would, unpacks them, and adds up what is lost. */
export class LossMeter {
  private readonly width: number;
  private readonly compression: Compression;
  private readonly half: boolean;
  private readonly weights: readonly [number, number, number];
  private sum = 0;
  private pixels = 0;
  private largest = 0;

  constructor(width: number, compression: Compression, half: boolean, weights: readonly [number, number, number]) {
    this.width = width;
    this.compression = compression;
    this.half = half;
    this.weights = weights;
  }

  get loss(): PackingLoss {
    return { mean: this.pixels ? this.sum / this.pixels : 0, largest: this.largest };
  }

  async add(light: readonly Float32Array[]): Promise<void> {
    const { width, half } = this;
    const rows = light[0]!.length / width;
    const type = half ? 'half' : 'float';
    const planes = light.map((p): Plane => (half ? Uint16Array.from(p, numberToHalf) : p));
    const window = { xMin: 0, yMin: 0, xMax: width - 1, yMax: rows - 1 };
    const names = ['R', 'G', 'B'];
    const part = {
      compression: this.compression,
      dataWindow: window,
      displayWindow: window,
      channels: names.map((name) => ({ name, type }) as const),
    };
    const memory = inMemory();
    const lines = (_: number, top: number, bottom: number) =>
      planes.map((p) => p.subarray(top * width, (bottom + 1) * width));
    await writeExr(memory, [part], lines, zlibCodec);
    const read = await readChannels(await openExr(memory.source()), 0, names, zlibCodec);
    const before = planes.map(asFloats);
    const after = read.planes.map(asFloats);
    for (let i = 0; i < rows * width; i++) {
      const off = [0, 1, 2].map((c) => Math.abs(before[c]![i]! - after[c]![i]!)) as [number, number, number];
      const worst = Math.max(...off);
      if (!Number.isFinite(worst)) continue;
      this.sum += off[0] * this.weights[0] + off[1] * this.weights[1] + off[2] * this.weights[2];
      this.largest = Math.max(this.largest, worst);
    }
    this.pixels += rows * width;
  }
}

/** A file that is never written. */
function inMemory(): ByteSink & { source(): ByteSource } {
  const pieces: [number, Uint8Array][] = [];
  return {
    write: (position, bytes) => {
      pieces.push([position, bytes.slice()]);
      return Promise.resolve();
    },
    source() {
      const size = Math.max(...pieces.map(([at, b]) => at + b.length));
      const all = new Uint8Array(size);
      for (const [at, bytes] of pieces) all.set(bytes, at);
      return { name: 'in memory', size, read: (at, length) => Promise.resolve(all.slice(at, at + length)) };
    },
  };
}
