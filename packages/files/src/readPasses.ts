import {
  boxHeight,
  boxWidth,
  ExrError,
  halvePlane,
  newPlane,
  offeredChannels,
  openExr,
  readOffered,
  requireRoom,
  sampleBytes,
  sideAtLevel,
  type Box,
  type ExrPart,
  type Plane,
} from '@june-haze/core';
import { openSource } from './byteSource.ts';
import { zlibCodec } from './zlibCodec.ts';

export interface ChannelRequest {
  readonly path: string;
  /** What errors call the file. */
  readonly name: string;
  readonly part: number;
  readonly channels: readonly string[];
  /** Data is never averaged when a level halves it. */
  readonly data: boolean;
  readonly level: number;
  /** Rows of the level, end excluded; all of them when left out. */
  readonly rows?: readonly [top: number, end: number];
}

export interface ChannelPlanes {
  /** The display window's size at the level, and how many rows were read. */
  readonly width: number;
  readonly rows: number;
  readonly planes: readonly Plane[];
  /** Lines of the data window that the file does not hold. */
  readonly missing: readonly (readonly [number, number])[];
}

/** Reads channels over the display window: pixels outside the data window are 0. Touches only the rows' chunks. */
export async function readPasses(request: ChannelRequest): Promise<ChannelPlanes> {
  const source = await openSource(request.path, request.name);
  try {
    const file = await openExr(source);
    const part = file.parts[request.part];
    if (!part) throw new ExrError(request.name, `there is no part ${request.part}.`);
    const window = part.displayWindow;
    const scale = 2 ** request.level;
    const [top, end] = request.rows ?? [0, sideAtLevel(boxHeight(window), request.level)];
    const wanted: Box = {
      ...window,
      yMin: window.yMin + top * scale,
      yMax: Math.min(window.yMin + end * scale - 1, window.yMax),
    };
    const wide = request.channels.reduce((n, name) => {
      const channel = offeredChannels(part).find((c) => c.name === name);
      return n + sampleBytes[channel?.type ?? 'float'];
    }, 0);
    requireRoom(request.name, boxWidth(wanted), boxHeight(wanted), wide);
    const { planes, missing } = await overWindow(file, part, request, wanted);
    let [width, height] = [boxWidth(wanted), boxHeight(wanted)];
    let reduced = planes;
    for (let l = 0; l < request.level; l++) {
      reduced = reduced.map((p) => halvePlane(p, width, height, request.data));
      [width, height] = [Math.ceil(width / 2), Math.ceil(height / 2)];
    }
    return { width, rows: height, planes: reduced, missing };
  } finally {
    await source.close();
  }
}

async function overWindow(
  file: Parameters<typeof readOffered>[0],
  part: ExrPart,
  request: ChannelRequest,
  wanted: Box,
) {
  const { dataWindow } = part;
  const outside =
    wanted.xMin > dataWindow.xMax ||
    wanted.xMax < dataWindow.xMin ||
    wanted.yMin > dataWindow.yMax ||
    wanted.yMax < dataWindow.yMin;
  const width = boxWidth(wanted);
  const empty = () =>
    request.channels.map((name) => {
      const channel = offeredChannels(part).find((c) => c.name === name);
      if (!channel) throw new ExrError(request.name, `there is no channel "${name}".`);
      return newPlane(channel, width * boxHeight(wanted));
    });
  if (outside) return { planes: empty(), missing: [] };
  const read = await readOffered(file, part.index, request.channels, zlibCodec, { region: wanted });
  const { region } = read;
  if (boxWidth(region) === width && boxHeight(region) === boxHeight(wanted))
    return { planes: read.planes, missing: read.missing };
  const planes = empty();
  const rowLength = boxWidth(region);
  planes.forEach((plane, c) => {
    for (let y = region.yMin; y <= region.yMax; y++) {
      const row = read.planes[c]!.subarray((y - region.yMin) * rowLength, (y - region.yMin + 1) * rowLength);
      plane.set(row, (y - wanted.yMin) * width + region.xMin - wanted.xMin);
    }
  });
  return { planes, missing: read.missing };
}

/** What to say of a frame whose lines are not all there. */
export function missingSentence(missing: readonly (readonly [number, number])[]): string {
  const lines = missing.map(([a, b]) => (a === b ? `${a}` : `${a}–${b}`)).join(', ');
  return `the file ends early or is damaged; lines ${lines} cannot be read. Render this frame again.`;
}
