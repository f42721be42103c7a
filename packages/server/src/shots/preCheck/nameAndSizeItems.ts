import { countOfFrames, isOneFile, sizeOfOutput, windowsOfOutput, type PreCheckItem } from '@june-haze/contract';
import { note, stop, type Asked } from './lines.ts';

/** Names that would not do: one for all frames, or numbers below 0. */
export function nameItems({ settings }: Asked, pattern: string): PreCheckItem[] {
  const { firstFrame, offset, rate } = settings;
  const one = !isOneFile(settings) && !pattern.includes('#') && countOfFrames(settings) > 1;
  const mend = { words: 'Number the files', settings: { fileName: `${settings.fileName}.####` } };
  return [
    ...(one ? [stop(`${pattern} has no hash marks for the frame: all frames would be one file.`, mend)] : []),
    ...(!isOneFile(settings) && firstFrame + offset < 0
      ? [
          stop(`Files cannot be numbered from ${firstFrame + offset}.`, {
            words: 'Number them as the frames',
            settings: { offset: 0 },
          }),
        ]
      : []),
    ...(offset && !isOneFile(settings)
      ? [note(`Frame ${firstFrame} is the file of number ${firstFrame + offset}, and so on.`)]
      : []),
    ...(rate === null ? [] : [note(`The files say ${rate} frames a second; no frame is made or left out for it.`)]),
  ];
}

/** What is left out of the shot's picture and range, and how it is made another size. */
export function sizeItems({ shot, settings }: Asked): PreCheckItem[] {
  const { crop, step } = settings;
  const { crop: part, ...size } = sizeOfOutput(settings, shot);
  const outside = part.x + part.width > shot.width || part.y + part.height > shot.height;
  if (outside)
    return [
      stop(
        `The part of ${part.width}×${part.height} from ${part.x}, ${part.y} does not lie in ${shot.width}×${shot.height}.`,
        {
          words: 'Take all of it',
          settings: { crop: null },
        },
      ),
    ];
  const { data, display, between } = windowsOfOutput(settings, shot);
  if (between)
    return [
      stop(`In ${size.width}×${size.height} the part would begin between two pixels of the shot’s window.`, {
        words: 'Let the part be the window',
        settings: { keepWindow: false },
      }),
    ];
  const isIn = settings.kind === 'exr' && crop !== null && settings.keepWindow;
  const inWindow = isIn
    ? `; data window from ${data.xMin}, ${data.yMin} in a display window of ${display.xMax + 1}×${display.yMax + 1}`
    : '';
  const resized = size.width !== part.width || size.height !== part.height;
  return [
    ...(crop
      ? [note(`A part of the picture: ${part.width}×${part.height} from ${part.x}, ${part.y}${inWindow}.`)]
      : []),
    ...(resized
      ? [
          note(
            `${size.width}×${size.height}, filtered in light by Mitchell and Netravali’s cubic${size.width > part.width ? '; larger than its pixels are' : ''}.`,
          ),
        ]
      : []),
    ...(step > 1 ? [note(`One frame of every ${step}, ${countOfFrames(settings)} in all.`)] : []),
  ];
}
