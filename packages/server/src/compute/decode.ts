import {
  boxHeight,
  boxWidth,
  chunksOver,
  ExrError,
  openExr,
  readChannels,
  sampleBytes,
  type Box,
  type ExrPart,
} from '@june-haze/core';
import { openSource, zlibCodec } from '@june-haze/files';
import type { ComputePool } from './pool.ts';

/** A part decoded whole over the display window, in shared memory: one decoding serves every pass and every thread. */
export interface DecodedPart {
  readonly width: number;
  readonly height: number;
  readonly planes: Readonly<Record<string, SharedPlane>>;
  readonly missing: readonly (readonly [number, number])[];
}
export type SharedPlane =
  Uint16Array<SharedArrayBuffer> | Float32Array<SharedArrayBuffer> | Uint32Array<SharedArrayBuffer>;

export interface DecodeRequest {
  readonly path: string;
  /** What errors call the file. */
  readonly name: string;
  readonly part: number;
  /** All of the part's when left out. */
  readonly channels?: readonly string[];
  /** Pixels outside the data window are 0 over the display window; over the data window there are none. */
  readonly over: 'display window' | 'data window';
}

/** What one thread decodes: some lines, into planes that all threads share. */
export interface BandTask {
  readonly path: string;
  readonly name: string;
  readonly part: number;
  readonly channels: readonly string[];
  readonly window: Box;
  readonly lines: readonly [top: number, bottom: number];
  readonly planes: readonly SharedPlane[];
}

/** Decodes channels of a part on all threads of the pool. Sub-sampled parts are refused: see `readLumaChroma`. */
export async function decodeShared(pool: ComputePool, request: DecodeRequest): Promise<DecodedPart> {
  const part = await withPart(request, (p) => Promise.resolve(p));
  const names = request.channels ?? part.channels.map((c) => c.name);
  const window = request.over === 'display window' ? part.displayWindow : part.dataWindow;
  const samples = boxWidth(window) * boxHeight(window);
  const planes = names.map((n) => sharedPlane(part, n, samples, request.name));
  const bands = bandsOf(part, window, pool.threads);
  const task = { path: request.path, name: request.name, part: part.index, channels: names, window, planes };
  const missing = await Promise.all(bands.map((lines) => pool.run('decodeLines', { ...task, lines })));
  return {
    width: boxWidth(window),
    height: boxHeight(window),
    planes: Object.fromEntries(names.map((n, i) => [n, planes[i]!])),
    missing: missing.flat(),
  };
}

async function withPart<T>(
  { path, name, part }: Pick<DecodeRequest, 'path' | 'name' | 'part'>,
  use: (part: ExrPart, file: Awaited<ReturnType<typeof openExr>>) => Promise<T>,
): Promise<T> {
  const source = await openSource(path, name);
  try {
    const file = await openExr(source);
    if (!file.parts[part]) throw new ExrError(name, `there is no part ${part}.`);
    return await use(file.parts[part], file);
  } finally {
    await source.close();
  }
}

function sharedPlane(part: ExrPart, channel: string, samples: number, file: string): SharedPlane {
  const found = part.channels.find((c) => c.name === channel);
  if (!found) throw new ExrError(file, `there is no channel "${channel}".`);
  const memory = new SharedArrayBuffer(samples * sampleBytes[found.type]);
  if (found.type === 'half') return new Uint16Array(memory);
  return found.type === 'float' ? new Float32Array(memory) : new Uint32Array(memory);
}

/** Runs of whole chunks, a few for every thread; lines outside the data window belong to nobody. */
function bandsOf(part: ExrPart, window: Box, threads: number): [number, number][] {
  const top = Math.max(window.yMin, part.dataWindow.yMin);
  const bottom = Math.min(window.yMax, part.dataWindow.yMax);
  const apart = part.dataWindow.xMin > window.xMax || part.dataWindow.xMax < window.xMin;
  if (top > bottom || apart) return [];
  const left = { ...part.dataWindow, xMax: part.dataWindow.xMin, yMin: top, yMax: bottom };
  const starts = chunksOver(part, left, [0, 0]).map((c) => Math.max(c.box.yMin, top));
  const each = Math.max(1, Math.ceil(starts.length / (threads * 3)));
  const firsts = starts.filter((_, i) => i % each === 0);
  return firsts.map((first, i) => [first, i + 1 < firsts.length ? firsts[i + 1]! - 1 : bottom]);
}

/** Decodes the lines of a task into its shared planes; returns the lines that are missing. */
export async function decodeBand(task: BandTask): Promise<[number, number][]> {
  return withPart(task, async (part, file) => {
    const { window, lines, planes, channels } = task;
    const region = { ...window, yMin: lines[0], yMax: lines[1] };
    const width = boxWidth(window);
    const direct = part.dataWindow.xMin <= window.xMin && part.dataWindow.xMax >= window.xMax;
    const rows = (p: SharedPlane) =>
      p.subarray((region.yMin - window.yMin) * width, (region.yMax + 1 - window.yMin) * width);
    if (direct) {
      const { missing } = await readChannels(file, part.index, channels, zlibCodec, { region, into: planes.map(rows) });
      return missing.map(([a, b]) => [a, b]);
    }
    const read = await readChannels(file, part.index, channels, zlibCodec, { region });
    const length = boxWidth(read.region);
    planes.forEach((plane, c) => {
      const from = read.planes[c]!;
      for (let y = read.region.yMin; y <= read.region.yMax; y++) {
        const row = from.subarray((y - read.region.yMin) * length, (y - read.region.yMin + 1) * length);
        plane.set(row, (y - window.yMin) * width + read.region.xMin - window.xMin);
      }
    });
    return read.missing.map(([a, b]) => [a, b]);
  });
}
