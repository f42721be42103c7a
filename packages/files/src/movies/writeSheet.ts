import { readFile } from 'node:fs/promises';
import { basename } from 'node:path';
import { drawOnSheet, emptySheet, sheetLayout, toEightBits, type CodeEncoding } from '@june-haze/core';
import type { FileWords } from '../fileWords.ts';
import { encodeJpeg, encodePngSamples } from '../pictures.ts';
import { WriteError, writeWhole } from '../writeWhole.ts';
import { decodeFrame, framePlace, type FramesAside } from './movieFrame.ts';

/** How a contact sheet's file is packed. */
export type SheetFile = 'png' | 'jpeg';

export interface SheetToWrite {
  readonly file: SheetFile;
  /** JPEG: 1 … 100, 100 the best. */
  readonly quality: number;
  readonly columns: number | null;
  /** What stands below each picture, in their order; null for nothing. */
  readonly labels: readonly string[] | null;
  readonly encoding: CodeEncoding;
  readonly words: FileWords;
  /** Where its pictures lie, as a movie's frames do, without alpha, and how many there are. */
  readonly frames: FramesAside & { readonly count: number };
}

/** Puts pictures, as `encodeFrame` makes them, together on one sheet, tagged as they are. Throws a WriteError where one is gone or of another size. */
export async function writeSheet(sheet: SheetToWrite, path: string): Promise<void> {
  const { count } = sheet.frames;
  const open = async (index: number) => {
    const place = framePlace(sheet.frames, index);
    const bytes = await readFile(place).catch(() => {
      throw new WriteError(basename(path), `of its ${count} frames the ${index + 1}. is gone; write it again.`);
    });
    return decodeFrame(bytes, place);
  };
  const first = await open(0);
  const layout = sheetLayout(count, first, { columns: sheet.columns, labels: sheet.labels !== null });
  const all = emptySheet(layout);
  for (let i = 0; i < count; i++) {
    const { width, height, samples } = i === 0 ? first : await open(i);
    if (width !== first.width || height !== first.height)
      throw new WriteError(basename(path), `its ${i + 1}. frame is of another size; write it again.`);
    drawOnSheet(all, layout, i, toEightBits(samples), sheet.labels?.[i] ?? '');
  }
  const size = { width: layout.width, height: layout.height, channels: 3 as const };
  const bytes =
    sheet.file === 'jpeg'
      ? await encodeJpeg(all, size, sheet.encoding, sheet.quality, sheet.words)
      : await encodePngSamples(all, size, sheet.encoding, sheet.words);
  await writeWhole(path, (sink) => sink.write(0, bytes));
}
