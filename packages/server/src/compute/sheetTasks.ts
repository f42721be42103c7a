import { readFile } from 'node:fs/promises';
import { basename } from 'node:path';
import {
  comparePictures,
  cutFromSheet,
  displayCodes,
  largestBlockDifference,
  recodePicture,
  sheetLayout,
} from '@june-haze/core';
import { frameAtPlace, type OutputSettings, type ReadBack } from '@june-haze/contract';
import { decodeFrame, decodePicture, framePlace, writeSheet, type SheetToWrite } from '@june-haze/files';
import { toCodes, type MovieTask, type OpenedMovie } from './movieTasks.ts';
import { figuresOf, jpegBlockLimit, saveProofPictures, strayedOf } from './readBack.ts';
import { encodingOf, opened } from './writeTask.ts';

/** What stands below the pictures of an output's sheet: the numbers of its frames. */
export const sheetLabels = (
  settings: Pick<OutputSettings, 'labels' | 'firstFrame' | 'lastFrame' | 'step'>,
  count: number,
): string[] | null =>
  settings.labels ? Array.from({ length: count }, (_, i) => String(frameAtPlace(settings, i))) : null;

const sheetOf = (task: OpenedMovie): SheetToWrite => ({
  file: task.settings.sheetFile,
  quality: task.settings.quality,
  columns: task.settings.columns,
  labels: sheetLabels(task.settings, task.frames.count),
  encoding: encodingOf(task),
  words: task.words,
  frames: task.frames,
});

/** Puts a contact sheet together of its frames. */
export const writeSheetFile = (task: MovieTask): Promise<void> => writeSheet(sheetOf(opened(task)), task.path);

/** Decodes a contact sheet by its own tags and compares each picture that is cut out of it with what was shown. */
export const proveSheet = (task: MovieTask): Promise<ReadBack[]> => provePicturesOf(opened(task));

/** The same for who has the colours open. */
export async function provePicturesOf(task: OpenedMovie): Promise<ReadBack[]> {
  const { path, settings, frames } = task;
  const encoding = encodingOf(task);
  const sheet = await decodePicture(await readFile(path));
  const layout = sheetLayout(frames.count, task, settings);
  if (sheet.width !== layout.width || sheet.height !== layout.height)
    throw new Error(
      `${basename(path)}: it reads back ${sheet.width}×${sheet.height} and not ${layout.width}×${layout.height}.`,
    );
  const tags = `${sheet.taggedBy} says ${sheet.encoding ? displayCodes[sheet.encoding].name : 'nothing that is known'}`;
  const lossy = settings.sheetFile === 'jpeg';
  const readBacks: ReadBack[] = [];
  for (let i = 0; i < frames.count; i++) {
    const file = framePlace(frames, i);
    const shown = toCodes(decodeFrame(await readFile(file), file).samples);
    const cut = cutFromSheet(sheet.rgba, layout, i);
    const tagged = recodePicture(cut, sheet.encoding ?? 'srgb', encoding);
    const ignoring = recodePicture(cut, 'srgb', encoding);
    if (i === 0 && task.picturesFolder !== undefined)
      await saveProofPictures(task.picturesFolder, task, { shown, tagged, ignoring });
    const difference = comparePictures(shown, tagged, task.width, encoding);
    const stray = lossy ? largestBlockDifference(shown, tagged, task.width) : difference.maxCode;
    const limit = lossy ? jpegBlockLimit : 0;
    const right = sheet.encoding === encoding;
    readBacks.push({
      tagged: figuresOf(difference),
      ignoring: figuresOf(strayedOf(shown, ignoring, task.width, encoding, i === 0)),
      tags,
      alpha: null,
      judged: [
        lossy
          ? `lossy: means of 8×8 blocks differ by ${stray.toFixed(2)} of at most ${limit} code values`
          : `cut out of the sheet, largest difference ${stray} of at most ${limit} code values`,
        ...(right ? [] : ['its tags are not the ones that were written']),
      ].join('; '),
      proved: stray <= limit && right,
    });
  }
  return readBacks;
}
