import {
  boxHeight,
  boxWidth,
  ExrError,
  openExr,
  readOffered,
  requireRoom,
  sampleBytes,
  offeredChannels,
  type Plane,
  type Size,
  type Window,
} from '@june-haze/core';
import { openSource } from '../byteSource.ts';
import type { DecodedFile } from '../formats/decodedFile.ts';
import { missingSentence } from '../readPasses.ts';
import { zlibCodec } from '../zlibCodec.ts';

/** A part of a frame's file, open: its channels are read by rows. */
export interface OpenPart {
  /** What errors call the file. */
  readonly name: string;
  /** Of its picture, the display window. */
  readonly size: Size;
  /** Where there are data, counted from the picture's upper left corner; may be smaller or larger than the picture. */
  readonly data: Window;
  /**
   * Channels over the rows that there are data for. Throws the file's own errors, and one that names the lines that cannot be read. No rows
   * are an empty window.
   */
  read(channels: readonly string[], top: number, end: number): Promise<{ planes: Plane[]; window: Window }>;
  close(): Promise<void>;
}

/** Opens a part of an EXR file. */
export async function openExrPart(path: string, name: string, index: number): Promise<OpenPart> {
  const source = await openSource(path, name);
  try {
    const file = await openExr(source);
    const part = file.parts[index];
    if (!part) throw new ExrError(name, `there is no part ${index}.`);
    const { displayWindow, dataWindow } = part;
    const data = {
      x: dataWindow.xMin - displayWindow.xMin,
      y: dataWindow.yMin - displayWindow.yMin,
      width: boxWidth(dataWindow),
      height: boxHeight(dataWindow),
    };
    const widest = (channels: readonly string[]) =>
      channels.reduce((n, c) => n + sampleBytes[offeredChannels(part).find((o) => o.name === c)?.type ?? 'float'], 0);
    return {
      name,
      size: { width: boxWidth(displayWindow), height: boxHeight(displayWindow) },
      data,
      async read(channels, top, end) {
        const window = rowsOf(data, top, end);
        if (window.height === 0) return { planes: channels.map(() => new Float32Array()), window };
        requireRoom(name, window.width, window.height, widest(channels));
        const yMin = window.y + displayWindow.yMin;
        const region = { ...dataWindow, yMin, yMax: yMin + window.height - 1 };
        const { planes, missing } = await readOffered(file, index, channels, zlibCodec, { region });
        if (missing.length) throw new ExrError(name, missingSentence(missing));
        return { planes: [...planes], window };
      },
      close: () => source.close(),
    };
  } catch (error) {
    await source.close();
    throw error;
  }
}

/** A picture that was decoded whole, as a part. */
export function decodedPart(name: string, decoded: Pick<DecodedFile, 'width' | 'height' | 'planes'>): OpenPart {
  const { width, height, planes } = decoded;
  const data = { x: 0, y: 0, width, height };
  return {
    name,
    size: { width, height },
    data,
    read(channels, top, end) {
      const window = rowsOf(data, top, end);
      const cut = channels.map((c) => {
        const plane = planes[c];
        if (!plane) throw new ExrError(name, `there is no channel "${c}".`);
        return plane.subarray(window.y * width, (window.y + window.height) * width) as Plane;
      });
      return Promise.resolve({ planes: cut, window });
    },
    close: () => Promise.resolve(),
  };
}

/** A frame that is left black: nothing anywhere, over all of the picture. */
export function blackPart(name: string, { width, height }: Size): OpenPart {
  const data = { x: 0, y: 0, width, height };
  return {
    name,
    size: { width, height },
    data,
    read(channels, top, end) {
      const window = rowsOf(data, top, end);
      const black = new Float32Array(window.width * window.height);
      return Promise.resolve({ planes: channels.map(() => black), window });
    },
    close: () => Promise.resolve(),
  };
}

/** The rows of a window from one to before another. */
function rowsOf(data: Window, top: number, end: number): Window {
  const first = Math.min(data.y + data.height, Math.max(data.y, top));
  const last = Math.min(data.y + data.height, Math.max(first, end));
  return { ...data, y: first, height: last - first };
}
