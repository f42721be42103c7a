import { sizeWords, type SurveySource } from '../survey.ts';
import { rateWords, sameRate } from './shape.ts';
import type { Problem } from './problem.ts';

/**
 * Sources against each other and the shot's rate. The render (most passes, then most frames) gives the size; pictures that stand alone may
 * have any. Without a rate to keep to, the render's rate is it.
 */
export function betweenSources(sources: readonly SurveySource[], rate: number | undefined): Problem[] {
  const moving = sources.filter((s) => s.facts && s.kind !== 'still');
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
    if (main?.facts && s !== main && sizeWords(s.facts!) !== sizeWords(main.facts))
      found.push({
        ...about,
        kind: 'size-mismatch',
        text: `${sizeWords(s.facts!)}, the render ${main.name} is ${sizeWords(main.facts)}`,
      });
    else if (
      main?.facts &&
      s !== main &&
      s.facts!.kind === 'exr' &&
      main.facts.kind === 'exr' &&
      (s.facts!.displayWindow.xMin !== main.facts.displayWindow.xMin ||
        s.facts!.displayWindow.yMin !== main.facts.displayWindow.yMin)
    )
      found.push({
        ...about,
        kind: 'window-mismatch',
        text: `its display window begins at ${s.facts!.displayWindow.xMin}, ${s.facts!.displayWindow.yMin}, that of ${main.name} at ${main.facts.displayWindow.xMin}, ${main.facts.displayWindow.yMin}`,
      });
    return found;
  });
}
