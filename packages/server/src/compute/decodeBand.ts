import { boxWidth, ExrError, openExr, readOffered, type Box, type ExrPart } from '@june-haze/core';
import { openSource, zlibCodec } from '@june-haze/files';
import type { SharedPlane } from './decodedPart.ts';

/** What one thread decodes: some lines, into planes that all threads share. */
export interface BandTask {
  readonly path: string;
  readonly name: string;
  readonly part: number;
  readonly level: number;
  readonly channels: readonly string[];
  /** The pixels that the file holds at the level, and those that the planes are made for. */
  readonly data: Box;
  readonly window: Box;
  readonly lines: readonly [top: number, bottom: number];
  readonly planes: readonly SharedPlane[];
}

/** Opens a file for one part of it, and closes it whatever happens. */
export async function withPart<T>(
  { path, name, part }: { readonly path: string; readonly name: string; readonly part: number },
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

/** Decodes the lines of a task into its shared planes; returns the lines that are missing. */
export async function decodeBand(task: BandTask): Promise<[number, number][]> {
  return withPart(task, async (part, file) => {
    const { data, window, lines, planes, channels } = task;
    const level = [task.level, task.level] as const;
    const region = { ...window, yMin: lines[0], yMax: lines[1] };
    const width = boxWidth(window);
    const direct = data.xMin <= window.xMin && data.xMax >= window.xMax;
    const rows = (p: SharedPlane) =>
      p.subarray((region.yMin - window.yMin) * width, (region.yMax + 1 - window.yMin) * width);
    if (direct) {
      const { missing } = await readOffered(file, part.index, channels, zlibCodec, {
        region,
        level,
        into: planes.map(rows),
      });
      return missing.map(([a, b]) => [a, b]);
    }
    const read = await readOffered(file, part.index, channels, zlibCodec, { region, level });
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
