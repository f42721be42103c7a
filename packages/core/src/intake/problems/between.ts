import { findSpace } from '../../colour/spaces.ts';
import type { Box } from '../../exr/types.ts';
import { isInteger, sizeWords } from '../survey.ts';
import { rateWords, sameRate } from './shape.ts';
import type { Problem } from './problem.ts';

/** What of a source is held against the others. */
export interface ComparedSource {
  readonly id: string;
  readonly name: string;
  readonly kind: 'sequence' | 'still' | 'movie';
  readonly fileKind: string;
  readonly frames: readonly [first: number, last: number];
  readonly rate: number | null;
  readonly passes: readonly unknown[];
  readonly displayWindow: Box | null;
  readonly sampleType: string;
  readonly prints: readonly { readonly frame: number; readonly values: readonly number[] }[];
  readonly space: { readonly guess?: string | undefined };
}

/** Codes of 8 bits are this far from the number they stand for, at most, and a little. */
const codeError = 0.75 / 255;

/**
 * Pictures whose codes are the numbers of a linear source beside them as they stand: the encoding was left out when they were saved.
 * Compared at a coarse grid of pixels, so sizes must be the same.
 */
function unencodedPictures(sources: readonly ComparedSource[]): Problem[] {
  const linear = sources.filter((s) => !isInteger(s) && findSpace(s.space.guess ?? '')?.encoding === 'linear');
  const pictures = sources.filter((s) => isInteger(s) && findSpace(s.space.guess ?? '')?.encoding !== 'linear');
  return pictures.flatMap((picture): Problem[] => {
    for (const other of linear) {
      if (size(other) !== size(picture)) continue;
      for (const a of picture.prints) {
        const twin = other.prints.find((b) => sameNumbers(a.values, b.values));
        if (!twin) continue;
        const text = `its codes are the numbers of ${other.name}, frame ${twin.frame}, without any encoding`;
        return [
          {
            kind: 'linear-as-picture',
            source: picture.id,
            pass: null,
            file: null,
            frames: [a.frame],
            sampled: true,
            text,
          },
        ];
      }
    }
    return [];
  });
}

function sameNumbers(codes: readonly number[], light: readonly number[]): boolean {
  let [telling, same] = [0, 0];
  for (let i = 0; i < codes.length; i++) {
    // Clipped and black samples agree in any encoding.
    if (!(light[i]! > 0.03 && light[i]! < 0.9)) continue;
    telling++;
    if (Math.abs(codes[i]! - light[i]!) <= codeError) same++;
  }
  return telling >= 30 && same >= 0.95 * telling;
}

/**
 * Sources against each other and the shot's rate. The render (most passes, then most frames) gives the size; pictures that stand alone may
 * have any. Without a rate to keep to, the render's rate is it.
 */
export function betweenSources(sources: readonly ComparedSource[], rate: number | undefined): Problem[] {
  const moving = sources.filter((s) => s.displayWindow && s.kind !== 'still');
  const main = [...moving].sort(
    (a, b) => b.passes.length - a.passes.length || b.frames[1] - b.frames[0] - (a.frames[1] - a.frames[0]) || 0,
  )[0];
  const wanted =
    rate ?? [...moving].filter((s) => s.rate !== null).sort((a, b) => b.passes.length - a.passes.length)[0]?.rate;
  const fromSizes = moving.flatMap((s): Problem[] => {
    const about = { source: s.id, pass: null, file: null, frames: [], sampled: false };
    const found: Problem[] = [];
    if (wanted && s.rate !== null && !sameRate(s.rate, wanted))
      found.push({
        ...about,
        kind: 'rate-mismatch',
        text: `${rateWords(s.rate)} fps${rate === undefined ? ` beside ${rateWords(wanted)}` : ` in a shot of ${rateWords(wanted)}`}`,
      });
    // A movie beside a render is of its own size: a witness camera, a cut, a plate to be placed.
    if (main && s !== main && s.kind !== 'movie' && size(s) !== size(main))
      found.push({
        ...about,
        kind: 'size-mismatch',
        text: `${size(s)}, the render ${main.name} is ${size(main)}`,
      });
    else if (main && s !== main && s.fileKind === 'exr' && main.fileKind === 'exr' && begin(s) !== begin(main))
      found.push({
        ...about,
        kind: 'window-mismatch',
        text: `its display window begins at ${begin(s)}, that of ${main.name} at ${begin(main)}`,
      });
    return found;
  });
  return [...fromSizes, ...unencodedPictures(sources.filter((s) => s.displayWindow))];
}

const size = ({ displayWindow }: ComparedSource) => sizeWords({ displayWindow: displayWindow! });
const begin = ({ displayWindow }: ComparedSource) => `${displayWindow!.xMin}, ${displayWindow!.yMin}`;
