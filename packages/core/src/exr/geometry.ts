import { boxHeight, boxWidth, linesPerChunk, type Box, type ExrChannel, type ExrPart } from './types.ts';

/** How a tiled part is cut (OpenEXR File Layout, "tiledesc"). */
export interface TileLayout {
  readonly width: number;
  readonly height: number;
  readonly levels: 'one' | 'mipmap' | 'ripmap';
  readonly roundUp: boolean;
}

/** One chunk: its place in the part's offset table and the pixels it holds, in the coordinates of its level. */
export interface ChunkPlace {
  readonly index: number;
  readonly box: Box;
  /** What the chunk's own header must say: [y] for lines, [tileX, tileY, levelX, levelY] for tiles. */
  readonly says: readonly number[];
}

export function tileLayout(part: Pick<ExrPart, 'type' | 'attributes'>): TileLayout | undefined {
  const value = part.attributes.get('tiles');
  if (part.type !== 'tiledimage' || value?.type !== 'tiledesc') return undefined;
  const { xSize, ySize, mode } = value.value as { xSize: number; ySize: number; mode: number };
  const levels = (['one', 'mipmap', 'ripmap'] as const)[mode & 15];
  return levels ? { width: xSize, height: ySize, levels, roundUp: mode >> 4 === 1 } : undefined;
}

/** Size of a side at a level: halved with the file's rounding, never below 1. */
export function levelSide(side: number, level: number, roundUp: boolean): number {
  const scale = 2 ** level;
  return Math.max(1, roundUp ? Math.ceil(side / scale) : Math.floor(side / scale));
}

function levelCount(side: number, roundUp: boolean): number {
  const log = Math.log2(side);
  return 1 + (roundUp ? Math.ceil(log) : Math.floor(log));
}

/** How many levels a tiled part has across and down. */
export function levelCounts(layout: TileLayout, window: Box): readonly [across: number, down: number] {
  const [w, h] = [boxWidth(window), boxHeight(window)];
  if (layout.levels === 'one') return [1, 1];
  if (layout.levels === 'ripmap') return [levelCount(w, layout.roundUp), levelCount(h, layout.roundUp)];
  const count = levelCount(Math.max(w, h), layout.roundUp);
  return [count, count];
}

/** The pixels of a level: the data window's corner, the level's size. */
export function levelBox(layout: TileLayout | undefined, window: Box, levelX: number, levelY: number): Box {
  if (!layout) return window;
  const width = levelSide(boxWidth(window), levelX, layout.roundUp);
  const height = levelSide(boxHeight(window), levelY, layout.roundUp);
  return { xMin: window.xMin, yMin: window.yMin, xMax: window.xMin + width - 1, yMax: window.yMin + height - 1 };
}

/** Levels in the order of the offset table: mip-maps by level, rip-maps with x fastest. */
export function tableLevels(layout: TileLayout, window: Box): readonly (readonly [number, number])[] {
  const [across, down] = levelCounts(layout, window);
  if (layout.levels !== 'ripmap') return Array.from({ length: across }, (_, l) => [l, l] as const);
  return Array.from({ length: across * down }, (_, i) => [i % across, Math.floor(i / across)] as const);
}

function tilesOf(layout: TileLayout, box: Box): readonly [number, number] {
  return [Math.ceil(boxWidth(box) / layout.width), Math.ceil(boxHeight(box) / layout.height)];
}

/** How many chunks a part has; its offset table is that long. */
export function countChunks(part: Omit<ExrPart, 'offsets'>): number {
  const layout = tileLayout(part);
  if (!layout) return Math.ceil(boxHeight(part.dataWindow) / linesPerChunk[part.compression]);
  return tableLevels(layout, part.dataWindow).reduce((n, [x, y]) => {
    const [across, down] = tilesOf(layout, levelBox(layout, part.dataWindow, x, y));
    return n + across * down;
  }, 0);
}

/** The chunks of a level that hold pixels of `region` (in the level's coordinates), in the order of the table. */
export function chunksOver(part: ExrPart, region: Box, level: readonly [number, number]): ChunkPlace[] {
  const layout = tileLayout(part);
  return layout ? tilesOver(part, layout, region, level) : linesOver(part, region);
}

function linesOver(part: ExrPart, region: Box): ChunkPlace[] {
  const { dataWindow } = part;
  const lines = linesPerChunk[part.compression];
  const first = Math.floor((region.yMin - dataWindow.yMin) / lines);
  const last = Math.floor((region.yMax - dataWindow.yMin) / lines);
  return Array.from({ length: last - first + 1 }, (_, i) => {
    const yMin = dataWindow.yMin + (first + i) * lines;
    const box = { ...dataWindow, yMin, yMax: Math.min(yMin + lines - 1, dataWindow.yMax) };
    return { index: first + i, box, says: [yMin] };
  });
}

function tilesOver(
  part: ExrPart,
  layout: TileLayout,
  region: Box,
  [levelX, levelY]: readonly [number, number],
): ChunkPlace[] {
  const { dataWindow } = part;
  let before = 0;
  for (const [x, y] of tableLevels(layout, dataWindow)) {
    if (x === levelX && y === levelY) break;
    const [across, down] = tilesOf(layout, levelBox(layout, dataWindow, x, y));
    before += across * down;
  }
  const whole = levelBox(layout, dataWindow, levelX, levelY);
  const [across] = tilesOf(layout, whole);
  const places: ChunkPlace[] = [];
  const tile = (at: number, from: number, size: number) => Math.floor((at - from) / size);
  for (
    let ty = tile(region.yMin, whole.yMin, layout.height);
    ty <= tile(region.yMax, whole.yMin, layout.height);
    ty++
  ) {
    for (
      let tx = tile(region.xMin, whole.xMin, layout.width);
      tx <= tile(region.xMax, whole.xMin, layout.width);
      tx++
    ) {
      const [xMin, yMin] = [whole.xMin + tx * layout.width, whole.yMin + ty * layout.height];
      const box = {
        xMin,
        yMin,
        xMax: Math.min(xMin + layout.width - 1, whole.xMax),
        yMax: Math.min(yMin + layout.height - 1, whole.yMax),
      };
      places.push({ index: before + ty * across + tx, box, says: [tx, ty, levelX, levelY] });
    }
  }
  return places;
}

/** What two boxes share; undefined when they lie apart. */
export function intersect(a: Box, b: Box): Box | undefined {
  const box = {
    xMin: Math.max(a.xMin, b.xMin),
    yMin: Math.max(a.yMin, b.yMin),
    xMax: Math.min(a.xMax, b.xMax),
    yMax: Math.min(a.yMax, b.yMax),
  };
  return box.xMin <= box.xMax && box.yMin <= box.yMax ? box : undefined;
}

/** How many of the whole numbers from `first` to `last` are multiples of `sampling`. */
export function samplesBetween(first: number, last: number, sampling: number): number {
  return Math.floor(last / sampling) - Math.floor((first - 1) / sampling);
}

export interface SampleGrid {
  readonly width: number;
  readonly height: number;
}

/** How many samples of a channel lie in a box: only multiples of its sampling are stored. */
export function sampleGrid(channel: Pick<ExrChannel, 'xSampling' | 'ySampling'>, box: Box): SampleGrid {
  return {
    width: samplesBetween(box.xMin, box.xMax, channel.xSampling),
    height: samplesBetween(box.yMin, box.yMax, channel.ySampling),
  };
}
