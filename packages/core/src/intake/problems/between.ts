import type { Box } from '../../exr/types.ts';
import { sizeWords } from '../survey.ts';
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
  return moving.flatMap((s): Problem[] => {
    const about = { source: s.id, pass: null, file: null, frames: [], sampled: false };
    const found: Problem[] = [];
    if (wanted && s.rate !== null && !sameRate(s.rate, wanted))
      found.push({
        ...about,
        kind: 'rate-mismatch',
        text: `${rateWords(s.rate)} fps${rate === undefined ? ` beside ${rateWords(wanted)}` : ` in a shot of ${rateWords(wanted)}`}`,
      });
    if (main && s !== main && size(s) !== size(main))
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
}

const size = ({ displayWindow }: ComparedSource) => sizeWords({ displayWindow: displayWindow! });
const begin = ({ displayWindow }: ComparedSource) => `${displayWindow!.xMin}, ${displayWindow!.yMin}`;
