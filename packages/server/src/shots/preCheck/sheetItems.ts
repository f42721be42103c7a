import { sheetLayout } from '@june-haze/core';
import { countOfFrames, sizeOfOutput, type PreCheckItem } from '@june-haze/contract';
import { note, stop, warning, type Asked } from './lines.ts';

/** A sheet of more pixels opens in few programs (common practice, no source). */
const mostPixels = 200e6;
/** JPEG has 16 bits for a side (ITU-T T.81, B.2.2). */
const longestJpegSide = 65_535;

/** What a contact sheet comes to. */
export function sheetItems({ shot, settings }: Asked): PreCheckItem[] {
  const count = countOfFrames(settings);
  if (count < 1) return [];
  const { columns, rows, width, height } = sheetLayout(count, sizeOfOutput(settings, shot), settings);
  const smaller = { words: 'Pictures 320 wide', settings: { width: 320 } };
  const tooLarge =
    width * height > mostPixels || (settings.sheetFile === 'jpeg' && Math.max(width, height) > longestJpegSide);
  return [
    tooLarge
      ? stop(
          `A sheet of ${width}×${height} is too large for what opens pictures; take fewer frames, or smaller ones.`,
          smaller,
        )
      : note(`${count} pictures, ${columns} in a row and ${rows} rows: ${width}×${height}.`),
    ...(!tooLarge && width * height > mostPixels / 4
      ? [warning('The sheet is large; it may open slowly elsewhere.', smaller)]
      : []),
    note('Its frames are kept beside it, hidden, until all are there; then it is put together and read back.'),
  ];
}
