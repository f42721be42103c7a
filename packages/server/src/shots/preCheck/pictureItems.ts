import { arePlainLevels, canRecode, displayCodes, hdrIsApart, isHdr, type CodeEncoding } from '@june-haze/core';
import { fileKindOf, holdsDeepSamples, holdsStraightAlpha, isDithered, type PreCheckItem } from '@june-haze/contract';
import { movieSays } from '@june-haze/files';
import type { WritingColours } from '../../compute/colourTasks.ts';
import { lookName } from '../outputs.ts';
import { note, stop, warning, type Asked } from './lines.ts';
import { asRec709, codecNames } from './movieItems.ts';

/** Of files that hold what is shown. */
export function pictureItems(asked: Asked): PreCheckItem[] {
  const { shot, settings, colours } = asked;
  const { display, view, exposure, black, white, gamma } = shot.viewing;
  const look = lookName(shot.viewing);
  const trims = [
    ...(arePlainLevels({ black, white }) ? [] : [`levels, ${black} to ${white}, are`]),
    ...(gamma === 1 ? [] : [`gamma of ${gamma} is`]),
    ...(exposure === 0 ? [] : [`exposure of ${exposure.toFixed(1)} stops is`]),
  ];
  return [
    note(`Through the viewing: ${display} / ${view}. Values above what the display shows are clipped.`),
    ...saidItems(asked),
    ...(colours.viewIsLinear
      ? [
          stop(
            `The view ${view} leaves numbers linear, and the files would be tagged as codes of ${display}: they would be seen dark and wrong.`,
            toned(colours, colours.display),
          ),
        ]
      : []),
    ...(look && settings.bakeLook
      ? [
          warning(`The look ${look} is baked into these files.`, {
            words: 'Leave it out',
            settings: { bakeLook: false },
          }),
        ]
      : []),
    ...(look && !settings.bakeLook
      ? [note(`The look ${look} is shown only, not written; the output can ask for it.`)]
      : []),
    note(
      holdsStraightAlpha(settings)
        ? 'Where the total has alpha it is written, and colour is divided by it before it is viewed: what glows without covering is lost beside it.'
        : 'Alpha is dropped.',
    ),
    ...(isDithered(settings) ? [note('What lies between two codes is spread over both by chance.')] : []),
    ...(holdsDeepSamples(settings.kind) ? [note(`${settings.bits} bits a sample.`)] : []),
    ...(fileKindOf(settings) === 'jpeg' ? [note(`Lossy, quality ${settings.quality} of 100.`)] : []),
    ...trims.map((t) => warning(`The viewing ${t} baked into these files.`, plainViewing)),
  ];
}

const plainViewing: PreCheckItem['mend'] = {
  words: 'View plainly',
  viewing: { exposure: 0, black: 0, white: 1, gamma: 1 },
};

const toned = (colours: WritingColours, encoding: CodeEncoding | undefined): PreCheckItem['mend'] => {
  const other = encoding && colours.others[encoding];
  return other && { words: `See through ${other.display} · ${other.view}`, viewing: other };
};

/** Whether files of the kind can say what the display's codes are. */
function saidItems({ shot, settings, colours }: Asked): PreCheckItem[] {
  const { display } = shot.viewing;
  if (!colours.display)
    return [
      stop(
        `Pictures for ${display} cannot be tagged: choose a display of sRGB, Rec.709, P3 or PQ codes.`,
        toned(colours, 'srgb') ?? toned(colours, 'bt1886'),
      ),
    ];
  if (settings.codes && !canRecode(colours.display, settings.codes))
    return [
      stop(`${hdrIsApart} The display shows codes of ${displayCodes[colours.display].name}.`, {
        words: 'Write the display’s own codes',
        settings: { codes: null },
      }),
    ];
  const encoding = settings.codes ?? colours.display;
  const { name, iccCurve } = displayCodes[encoding];
  const kind = fileKindOf(settings);
  const profiled = kind === 'jpeg' || kind === 'tiff';
  if (profiled && !iccCurve)
    return [
      stop(`Codes of ${name} cannot be said in a ${kind.toUpperCase()}: its profile has no word for them.`, {
        ...(settings.kind === 'sheet'
          ? { words: 'Write a PNG', settings: { sheetFile: 'png' } }
          : { words: 'Write PNG of 16 bits', settings: { kind: 'png', bits: 16 } }),
      }),
    ];
  if (settings.kind === 'movie' && !movieSays(settings.codec, encoding))
    return [
      stop(
        `${codecNames[settings.codec]} movies have no number for ${name}: they would say nothing, or something wrong.`,
        asRec709,
      ),
    ];
  if (settings.codes && settings.codes !== colours.display)
    return [note(`Written as codes of ${name} that show the same light as those of ${display}.`)];
  const web = kind === 'png' || kind === 'jpeg';
  if (web && encoding !== 'srgb' && !isHdr(encoding))
    return [
      {
        ...note(`The codes are ${name}, and tagged so; what shows pictures without asking takes them for sRGB.`),
        mend: { words: 'Write sRGB codes', settings: { codes: 'srgb' } },
      },
    ];
  return [];
}
