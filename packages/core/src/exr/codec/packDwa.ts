import { concat, encodeUtf8 } from '../attributes.ts';
import { classifyChannels, currentRules, type DwaScheme } from './dwaRules.ts';
import { sampleGrid, type SampleGrid } from '../geometry.ts';
import { packRuns, splitBytes } from './bytes.ts';
import { codecHeap } from './codecKernels.ts';
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
  const lossy: { ac: Uint16Array; dc: Uint16Array }[] = [];
  const add = (group: readonly number[], curved: boolean) =>
    lossy.push(
      packBlocks(
        group.map((i) => halvesOf(chunk, i)),
        grids[group[0]!]!,
        curved,
      ),
    );
  for (const triple of triples) add(triple, true);
  for (const i of of('dct')) if (!triples.some((t) => t.includes(i))) add([i], !channels[i]!.perceptuallyLinear);
  const unknown = concat(of('deflate').map((i) => rows[i]!));
  const runsRaw = concat(of('runs').map((i) => bytePlanes(rows[i]!, sampleBytes[channels[i]!.type])));
  const runsMixed = packRuns(runsRaw);
  const [ac, dc] = [joined(lossy.map((l) => l.ac)), joined(lossy.map((l) => l.dc))];
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
  const out = new Uint8Array(bytes.length);
  for (let k = 0, at = 0; k < width; k++) for (let i = k; i < bytes.length; i += width) out[at++] = bytes[i]!;
  return n > 0 ? out : bytes;
}

/** A channel's samples as halves. */
function halvesOf({ channels, rows }: ChunkToPack, i: number): Uint16Array {
  const bytes = rows[i]!.slice();
  return channels[i]!.type === 'float'
    ? Uint16Array.from(new Float32Array(bytes.buffer), numberToHalf)
    : new Uint16Array(bytes.buffer);
}

function joined(pieces: readonly Uint16Array[]): Uint16Array {
  const out = new Uint16Array(pieces.reduce((n, p) => n + p.length, 0));
  let at = 0;
  for (const p of pieces) {
    out.set(p, at);
    at += p.length;
  }
  return out;
}

/** cosine[k][n] of an orthonormal DCT-II of length 8 (ITU-T T.81 A.3.3). */
const cosines = Array.from({ length: 64 }, (_, i) => {
  const [k, n] = [i >> 3, i & 7];
  return (k ? 0.5 : Math.SQRT1_2 / 2) * Math.cos(((2 * n + 1) * k * Math.PI) / 16);
});

/** The DC and AC values of planes that belong together, in the order they are stored. */
function packBlocks(
  planes: readonly Uint16Array[],
  { width, height }: SampleGrid,
  curved: boolean,
): { ac: Uint16Array; dc: Uint16Array } {
  const heap = codecHeap();
  const planeBytes = width * height * 2;
  const count = Math.ceil(width / 8) * Math.ceil(height / 8) * planes.length;
  const src = heap.allocate(planeBytes * planes.length);
  const table = heap.placeFloats(floatsByHalf(curved));
  const [turns, limits] = [heap.placeFloats(cosines), heap.placeFloats([...luma, ...chroma])];
  const [dc, ac] = [heap.allocate(2 * count), heap.allocate(2 * 63 * count)];
  planes.forEach((p, k) => heap.halves(src + k * planeBytes, p.length).set(p));
  const n = heap.kernels.packDctBlocks(
    ...([src, planeBytes, planes.length, width, height, table, turns, limits, dc, ac] as const),
  );
  return { ac: heap.halves(ac, n).slice(), dc: heap.halves(dc, count).slice() };
}

const byHalf: { curved?: Float32Array; plain?: Float32Array } = {};
/** A float for each half, on DWA's perceptual scale or as it is; what is no number is as a half has it. */
function floatsByHalf(curved: boolean): Float32Array {
  const make = (of: (h: number) => number) => Float32Array.from({ length: 65536 }, (_, h) => halfToNumber(of(h)));
  if (curved) return (byHalf.curved ??= make((h) => perceptual()[h]!));
  return (byHalf.plain ??= make((h) => h));
}
