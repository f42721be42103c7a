import {
  boxHeight,
  boxWidth,
  chunksOver,
  ExrError,
  isLumaChroma,
  levelBox,
  levelCounts,
  offeredChannels,
  requireRoom,
  sampleBytes,
  sideAtLevel,
  tileLayout,
  type Box,
  type ExrPart,
  type Size,
} from '@june-haze/core';
import { withPart } from './decodeBand.ts';
import type { DecodedPart, SharedPlane } from './decodedPart.ts';
import { GivenUp } from './inOrder.ts';
import type { ComputePool } from './pool.ts';

export interface DecodeRequest {
  readonly path: string;
  /** What errors call the file. */
  readonly name: string;
  readonly part: number;
  /** All that the part offers when left out. */
  readonly channels?: readonly string[];
  /** Of what it offers only these, and none of those. */
  readonly only?: ReadonlySet<string> | undefined;
  readonly except?: ReadonlySet<string> | undefined;
  /** Halvings that would do: a tiled part's own smaller level of that size is read when there is one. */
  readonly level?: number;
  /** Pixels outside the data window are 0 over the display window; over the data window there are none. */
  readonly over: 'display window' | 'data window';
  /** Planes of an earlier reading of the same channels, window and level, to be written over; fresh ones when left out. */
  readonly into?: Readonly<Record<string, SharedPlane>>;
}

/** The file's own level that would be read for some halvings: 0 where it has none. */
export const ownLevelOf = (request: Pick<DecodeRequest, 'path' | 'name' | 'part'>, level: number): Promise<number> =>
  withPart(request, (p) => Promise.resolve(ownLevel(p, level)));

/** Decodes channels of a part on all threads of the pool; gives up with `GivenUp` before its next band when `left` says that nobody waits. */
export async function decodeShared(
  pool: ComputePool,
  request: DecodeRequest,
  left: () => boolean = () => false,
): Promise<DecodedPart> {
  const part = await withPart(request, (p) => Promise.resolve(p));
  const offered = offeredChannels(part).map((c) => c.name);
  const taken = (name: string) => (request.only?.has(name) ?? true) && !request.except?.has(name);
  const names = request.channels ?? offered.filter(taken);
  const level = ownLevel(part, request.level ?? 0);
  const layout = tileLayout(part);
  const data = levelBox(layout, part.dataWindow, level, level);
  const window = level > 0 ? data : request.over === 'display window' ? part.displayWindow : part.dataWindow;
  const samples = boxWidth(window) * boxHeight(window);
  const types = new Map(offeredChannels(part).map((c) => [c.name, c.type]));
  const bytes = names.reduce((n, name) => n + sampleBytes[types.get(name) ?? 'float'], 0);
  requireRoom(request.name, boxWidth(window), boxHeight(window), bytes);
  const planes = names.map((n) => request.into?.[n] ?? sharedPlane(part, n, samples, request.name));
  const bands = names.length ? bandsOf(part, data, window, level, pool.threads) : [];
  const task = {
    path: request.path,
    name: request.name,
    part: part.index,
    level,
    channels: names,
    data,
    window,
    planes,
  };
  const missing = new Array<readonly (readonly [number, number])[]>(bands.length);
  let next = 0;
  const one = async () => {
    for (let band = next++; band < bands.length; band = next++) {
      if (left()) throw new GivenUp();
      missing[band] = await pool.run('decodeLines', { ...task, lines: bands[band]! });
    }
  };
  // One band more than there are threads, so that none waits for the next to be handed out.
  await Promise.all(Array.from({ length: pool.threads + 1 }, one));
  const width = boxWidth(window);
  if (request.into)
    for (const [first, last] of missing.flat())
      for (const plane of planes) plane.fill(0, (first - window.yMin) * width, (last + 1 - window.yMin) * width);
  return {
    level,
    width,
    height: boxHeight(window),
    size: sizeOf(level > 0 ? part.displayWindow : window),
    data: {
      x: data.xMin - window.xMin,
      y: data.yMin - window.yMin,
      width: boxWidth(data),
      height: boxHeight(data),
    },
    planes: Object.fromEntries(names.map((n, i) => [n, planes[i]!])),
    missing: missing.flat(),
  };
}

const sizeOf = (window: Box): Size => ({ width: boxWidth(window), height: boxHeight(window) });

/** The largest of the part's own levels up to `wanted` whose size is the one that halving would give; 0 is the picture. */
function ownLevel(part: ExrPart, wanted: number): number {
  const layout = tileLayout(part);
  const { dataWindow, displayWindow } = part;
  if (!layout || layout.levels === 'one' || JSON.stringify(dataWindow) !== JSON.stringify(displayWindow)) return 0;
  const [across, down] = levelCounts(layout, dataWindow);
  for (let l = Math.min(wanted, across - 1, down - 1); l > 0; l--) {
    const box = levelBox(layout, dataWindow, l, l);
    const halved = (side: number) => sideAtLevel(side, l);
    if (boxWidth(box) === halved(boxWidth(dataWindow)) && boxHeight(box) === halved(boxHeight(dataWindow))) return l;
  }
  return 0;
}

function sharedPlane(part: ExrPart, channel: string, samples: number, file: string): SharedPlane {
  const found = offeredChannels(part).find((c) => c.name === channel);
  if (!found) throw new ExrError(file, `there is no channel "${channel}".`);
  const memory = new SharedArrayBuffer(samples * sampleBytes[found.type]);
  if (found.type === 'half') return new Uint16Array(memory);
  return found.type === 'float' ? new Float32Array(memory) : new Uint32Array(memory);
}

/** Runs of whole chunks, a few for every thread; lines outside the data window belong to nobody. */
function bandsOf(part: ExrPart, data: Box, window: Box, level: number, threads: number): [number, number][] {
  const top = Math.max(window.yMin, data.yMin);
  const bottom = Math.min(window.yMax, data.yMax);
  if (top > bottom || data.xMin > window.xMax || data.xMax < window.xMin) return [];
  if (isLumaChroma(part)) return [[top, bottom]];
  const left = { ...data, xMax: data.xMin, yMin: top, yMax: bottom };
  const starts = chunksOver(part, left, [level, level]).map((c) => Math.max(c.box.yMin, top));
  const each = Math.max(1, Math.ceil(starts.length / (threads * 3)));
  const firsts = starts.filter((_, i) => i % each === 0);
  return firsts.map((first, i) => [first, i + 1 < firsts.length ? firsts[i + 1]! - 1 : bottom]);
}
