import { isHdr } from '@june-haze/core';
import {
  countOfFrames,
  halvesOddSide,
  holdsStraightAlpha,
  sizeOfOutput,
  type OutputSettings,
  type PreCheckItem,
} from '@june-haze/contract';
import { note, stop, warning, type Asked } from './lines.ts';

/** What a movie's player takes for granted. */
export const asRec709: PreCheckItem['mend'] = { words: 'Write Rec.709 codes', settings: { codes: 'bt1886' } };

export const codecNames = { h264: 'H.264', vp9: 'VP9', prores: 'ProRes' } as const;

function packingOf({ codec, quality, alpha }: Pick<OutputSettings, 'codec' | 'quality'> & { alpha: boolean }): string {
  if (codec !== 'prores') return `colour at half the size, quality ${quality} of 100`;
  return alpha ? 'colour and alpha at every pixel' : 'colour at half the width';
}

/** What movies ask for besides. */
export function movieItems({ shot, settings, colours }: Asked): PreCheckItem[] {
  const rate = settings.rate ?? shot.rate;
  const { codec, quality } = settings;
  const { width, height } = sizeOfOutput(settings, shot);
  const alpha = holdsStraightAlpha(settings);
  const odd = halvesOddSide({ kind: settings.kind, codec, alpha }, { width, height });
  const seconds = countOfFrames(settings) / rate;
  const deep = codec === 'prores' || isHdr(settings.codes ?? colours.display);
  return [
    ...(odd
      ? [
          stop(`${codecNames[codec]} halves colour, and ${width}×${height} has an odd side.`, {
            words: 'Write VP9',
            settings: { codec: 'vp9' },
          }),
        ]
      : []),
    ...((settings.codes ?? colours.display) === 'srgb' && codec !== 'prores'
      ? [
          warning(
            'The movie says that its codes are sRGB; players that ask no movie what it is take it for Rec.709 and show it darker.',
            asRec709,
          ),
        ]
      : []),
    note(
      `${codecNames[codec]}, ${deep ? 10 : 8} bits, ${packingOf({ codec, quality, alpha })}; ${seconds.toFixed(2)} s at ${rate}.`,
    ),
    note('Its frames are kept beside it, hidden, until all are there; then it is put together and read back.'),
  ];
}
