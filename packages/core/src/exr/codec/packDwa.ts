import { concat, encodeUtf8 } from '../attributes.ts';
import { classifyChannels, currentRules, type DwaScheme } from './dwaRules.ts';
import { sampleGrid, type SampleGrid } from '../geometry.ts';
import { packRuns, splitBytes } from './bytes.ts';
import type { ChunkToPack } from './chunk.ts';
import { packHuffman } from './packHuffman.ts';
import { halfToNumber, numberToHalf } from '../../image/half.ts';
import { halfTable } from './chunk.ts';
import { sampleBytes, sampleTypes } from '../types.ts';

/** The usual strength (OpenEXR, "dwaCompressionLevel"): the base error of a coefficient is this over 100,000. */
const level = 45;

// ITU-T T.81 tables K.1 and K.2, row by row.
const lumaSteps = [
  16, 11, 10, 16, 24, 40, 51, 61, 12, 12, 14, 19, 26, 58, 60, 55, 14, 13, 16, 24, 40, 57, 69, 56, 14, 17, 22, 29, 51,
  87, 80, 62, 18, 22, 37, 56, 68, 109, 103, 77, 24, 35, 55, 64, 81, 104, 113, 92, 49, 64, 78, 87, 103, 121, 120, 101,
  72, 92, 95, 98, 112, 100, 103, 99,
];
const chromaSteps = [
  17,
  18,
  24,
  47,
  99,
  99,
  99,
  99,
  18,
  21,
  26,
  66,
  99,
  99,
  99,
  99,
  24,
  26,
  56,
  99,
  99,
  99,
  99,
  99,
  47,
  66,
  99,
  99,
  99,
  99,
  99,
  99,
  ...Array.from({ length: 32 }, () => 99),
];
/** ITU-T T.81 figure 5. */
const zigzag = [
  0, 1, 8, 16, 9, 2, 3, 10, 17, 24, 32, 25, 18, 11, 4, 5, 12, 19, 26, 33, 40, 48, 41, 34, 27, 20, 13, 6, 7, 14, 21, 28,
  35, 42, 49, 56, 57, 50, 43, 36, 29, 22, 15, 23, 30, 37, 44, 51, 58, 59, 52, 45, 38, 31, 39, 46, 53, 60, 61, 54, 47,
  55, 62, 63,
];
const tolerances = (steps: readonly number[], least: number) => steps.map((q) => ((q / least) * level) / 100000);
const luma = tolerances(lumaSteps, 10);
const chroma = tolerances(chromaSteps, 17);

let curve: Uint16Array | undefined;
function perceptual(): Uint16Array {
  const base = Math.log(2.7182818 ** 2.2);
  curve ??= halfTable(
    (x) => Math.sign(x) * (Math.abs(x) <= 1 ? Math.abs(x) ** (1 / 2.2) : Math.log(Math.abs(x)) / base + 1),
  );
  return curve;
}

/** Packs a DWAA or DWAB chunk (OpenEXR, ImfDwaCompressor, version 2). */
export function packDwa(chunk: ChunkToPack): Uint8Array {
  const { channels, box, rows, codec } = chunk;
  const { channels: schemes, triples } = classifyChannels(channels, currentRules);
  const grids = channels.map((c) => sampleGrid(c, box));
  const of = (scheme: DwaScheme) => channels.flatMap((_, i) => (schemes[i] === scheme ? [i] : []));
  const lossy = new LossyWriter();
  for (const triple of triples)
    lossy.add(
      triple.map((i) => samplesOf(chunk, i, true)),
      grids[triple[0]]!,
    );
  for (const i of of('dct'))
    if (!triples.some((t) => t.includes(i)))
      lossy.add([samplesOf(chunk, i, !channels[i]!.perceptuallyLinear)], grids[i]!);
  const unknown = concat(of('deflate').map((i) => rows[i]!));
  const runsRaw = concat(of('runs').map((i) => bytePlanes(rows[i]!, sampleBytes[channels[i]!.type])));
  const runsMixed = packRuns(runsRaw);
  const { ac, dc } = lossy.take();
  const pieces = {
    unknown: unknown.length ? codec.deflate(unknown) : unknown,
    ac: packHuffman(ac),
    dc: dc.length
      ? codec.deflate(splitBytes(new Uint8Array(dc.buffer, dc.byteOffset, dc.byteLength)))
      : new Uint8Array(0),
    runs: runsRaw.length ? codec.deflate(runsMixed) : runsRaw,
  };
  const sizes = [
    2,
    unknown.length,
    pieces.unknown.length,
    pieces.ac.length,
    pieces.dc.length,
    pieces.runs.length,
    runsRaw.length ? runsMixed.length : 0,
    runsRaw.length,
    ac.length,
    dc.length,
    0,
  ];
  const head = new DataView(new ArrayBuffer(88));
  sizes.forEach((n, i) => head.setUint32(i * 8, n, true));
  return concat([new Uint8Array(head.buffer), encodeRules(), pieces.unknown, pieces.ac, pieces.dc, pieces.runs]);
}

function encodeRules(): Uint8Array {
  const schemeNumbers = { deflate: 0, dct: 1, runs: 2 } as const;
  const rules = concat(
    currentRules.flatMap((r) => [
      encodeUtf8(r.suffix),
      Uint8Array.of(
        0,
        ((r.component + 1) << 4) | (schemeNumbers[r.scheme] << 2) | (r.anyCase ? 1 : 0),
        sampleTypes.indexOf(r.type),
      ),
    ]),
  );
  const size = new Uint8Array(2);
  new DataView(size.buffer).setUint16(0, rules.length + 2, true);
  return concat([size, rules]);
}

function bytePlanes(bytes: Uint8Array, width: number): Uint8Array {
  const n = bytes.length / width;
  return Uint8Array.from(bytes, (_, i) => bytes[(i % n) * width + Math.floor(i / n)]!);
}

/** A channel's samples as halves on DWA's perceptual scale. */
function samplesOf({ channels, rows }: ChunkToPack, i: number, curved: boolean): Uint16Array {
  const bytes = rows[i]!.slice();
  const halves =
    channels[i]!.type === 'float'
      ? Uint16Array.from(new Float32Array(bytes.buffer), numberToHalf)
      : new Uint16Array(bytes.buffer);
  return curved ? halves.map((h) => perceptual()[h]!) : halves;
}

/** Collects the DC and AC values of blocks in the order they are stored. */
class LossyWriter {
  private readonly ac: number[] = [];
  private readonly dc: number[] = [];

  add(planes: readonly Uint16Array[], { width, height }: SampleGrid): void {
    const dc = planes.map((): number[] => []);
    const blocks = planes.map(() => new Float64Array(64));
    for (let by = 0; by < height; by += 8) {
      for (let bx = 0; bx < width; bx += 8) {
        planes.forEach((p, k) => cutBlock(p, width, height, bx, by, blocks[k]!));
        if (planes.length === 3) toLumaChroma(blocks);
        blocks.forEach((block, k) => {
          forwardDct(block);
          const steps = k === 0 ? luma : chroma;
          const values = zigzag.map((place) => simplest(block[place]!, steps[place]!));
          dc[k]!.push(values[0]!);
          this.addAc(values);
        });
      }
    }
    this.dc.push(...dc.flat());
  }

  /** Runs of zeros as 0xff00 with their length, 0xff00 alone to the block's end. */
  private addAc(values: readonly number[]): void {
    for (let i = 1; i < 64;) {
      let run = 0;
      while (i + run < 64 && values[i + run] === 0) run++;
      if (run > 1) this.ac.push(i + run === 64 ? 0xff00 : 0xff00 | run);
      else this.ac.push(values[i]!);
      i += Math.max(run, 1);
    }
  }

  take(): { ac: Uint16Array; dc: Uint16Array } {
    return { ac: Uint16Array.from(this.ac), dc: Uint16Array.from(this.dc) };
  }
}

/** Blocks over the edge mirror the picture. */
function cutBlock(plane: Uint16Array, width: number, height: number, left: number, top: number, block: Float64Array) {
  const mirrored = (i: number, side: number) => (i < side ? i : Math.max(side - 1 - (i - (side - 1)), 0));
  for (let y = 0; y < 8; y++)
    for (let x = 0; x < 8; x++)
      block[y * 8 + x] = halfToNumber(plane[mirrored(top + y, height) * width + mirrored(left + x, width)]!);
}

/** Rec.709 luma and differences with the reference's four digits (OpenEXR, ImfDwaCompressorSimd, csc709Forward). */
function toLumaChroma([red, green, blue]: readonly Float64Array[]): void {
  for (let i = 0; i < 64; i++) {
    const [r, g, b] = [red![i]!, green![i]!, blue![i]!];
    red![i] = 0.2126 * r + 0.7152 * g + 0.0722 * b;
    green![i] = -0.1146 * r - 0.3854 * g + 0.5 * b;
    blue![i] = 0.5 * r - 0.4542 * g - 0.0458 * b;
  }
}

/** cosine[k][n] of an orthonormal DCT-II of length 8 (ITU-T T.81 A.3.3). */
const cosines = Array.from({ length: 8 }, (_, k) =>
  Array.from({ length: 8 }, (_, n) => (k ? 0.5 : Math.SQRT1_2 / 2) * Math.cos(((2 * n + 1) * k * Math.PI) / 16)),
);

function forwardDct(block: Float64Array): void {
  const line = new Float64Array(8);
  for (const [step, next] of [
    [1, 8],
    [8, 1],
  ] as const) {
    for (let i = 0; i < 8; i++) {
      for (let k = 0; k < 8; k++) {
        let sum = 0;
        for (let n = 0; n < 8; n++) sum += cosines[k]![n]! * block[i * next + n * step]!;
        line[k] = sum;
      }
      for (let k = 0; k < 8; k++) block[i * next + k * step] = line[k]!;
    }
  }
}

/** The half with the fewest fraction bits within `tolerance` of x: few different values pack well. */
function simplest(x: number, tolerance: number): number {
  if (Math.abs(x) <= tolerance) return 0;
  const exact = numberToHalf(x);
  for (let dropped = 10; dropped > 0; dropped--) {
    const rounded = ((exact & 0x7fff) + (1 << (dropped - 1))) & ~((1 << dropped) - 1);
    if (rounded < 0x7c00) {
      const candidate = (exact & 0x8000) | rounded;
      if (Math.abs(halfToNumber(candidate) - x) <= tolerance) return candidate;
    }
  }
  return exact;
}
