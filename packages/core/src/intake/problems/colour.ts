import { findSpace } from '../../colour/spaces.ts';
import { agrees, weightOf } from '../evidence.ts';
import { looksEncoded, looksLinear } from '../pixelEvidence.ts';
import { looksToneMapped } from '../toneMapped.ts';
import type { FileKind } from '../fileFacts.ts';
import { isInteger, type SurveySource } from '../survey.ts';
import type { Problem } from './problem.ts';

const short = (v: number) => String(Number(v.toPrecision(3)));

/** What must be known of a source to judge its space. */
export type ColourSubject = Pick<
  SurveySource,
  'id' | 'space' | 'traits' | 'sampleType' | 'measuredFrames' | 'measuredFull'
> & { readonly fileKind: FileKind };

/** What contradicts a source's space, guessed or `declared` and perhaps `confirmed`: its tags, its name, its kind of file, its pixels. */
export function colourProblems(source: ColourSubject, declared = source.space.guess, confirmed = false): Problem[] {
  if (!source.traits && !source.space.evidence.length) return [];
  if (declared === undefined || findSpace(declared)?.family === 'data') return [];
  const space = findSpace(declared);
  const frames = source.measuredFrames;
  const about = { source: source.id, pass: null, file: null, frames: [] as number[], sampled: false };
  const seen = { ...about, frames, sampled: !source.measuredFull };
  const { traits, sampleType } = source;
  const found: Problem[] = [];
  const integer = isInteger(source);
  // Who declared it encoded, against the kind of file, has seen this.
  const settled = confirmed && space?.encoding !== 'linear';
  if (!integer && traits && !settled && looksEncoded(traits) && saysLinear(source))
    found.push({
      ...seen,
      kind: 'encoded-as-linear',
      text: traits.eightBit
        ? `looks encoded for a display in a file that is taken for linear: ${traits.codes} levels, all between 0 and 1`
        : `looks encoded for a display in a file that is taken for linear: median ${short(traits.median)}, nothing above ${short(traits.maximum)}`,
    });
  if (
    !integer &&
    traits?.top &&
    !found.length &&
    !settled &&
    saysLinear(source) &&
    looksToneMapped(traits.maximum, traits.top)
  )
    found.push({
      ...seen,
      kind: 'tone-mapped',
      text: `ends at ${short(traits.maximum)} in every channel with a crowd just below it: light that went through a tone curve, a camera’s LUT or a clip`,
    });
  if (
    integer &&
    traits &&
    source.fileKind !== 'dpx' &&
    looksLinear(traits) &&
    space?.encoding !== 'linear' &&
    !strongTag(source)
  )
    found.push({
      ...seen,
      kind: 'linear-as-picture',
      text: `looks linear in a file that is taken for an encoded picture: half of it lies below ${short(traits.median)}, the brightest reach ${short(traits.bright)}`,
    });
  if (integer && space?.encoding === 'linear')
    found.push({
      ...about,
      kind: 'integer-linear',
      text: `${sampleType} codes carry ${declared}: dark tones will band`,
    });
  if (!found.length) found.push(...contradictions(source, declared, about, seen));
  return found;
}

/** A linear reading stands behind it that a person would fall for: the kind of file, chromaticities, a name. */
const saysLinear = (source: ColourSubject) =>
  source.space.evidence.some(
    (e) =>
      e.from !== 'pixels' &&
      (e.about === 'linear' || findSpace(e.space ?? '')?.encoding === 'linear' || e.about === 'primaries'),
  );

/** A tag that says the curve: then the file is what it says, however dark. */
const strongTag = (source: ColourSubject) =>
  source.space.evidence.some(
    (e) => e.from === 'colour identity' || (e.from === 'colour tags' && /linear/.test(e.says)),
  );

/** Evidence that names another space than the one in force. The kind of file alone contradicts nothing. */
function contradictions(
  source: ColourSubject,
  declared: string,
  about: Omit<Problem, 'kind' | 'text'>,
  seen: Omit<Problem, 'kind' | 'text'>,
): Problem[] {
  const against = source.space.evidence.filter(
    (e) => e.from !== 'kind of file' && agrees(e, declared) === false && weightOf(e) >= 0.5,
  );
  if (!against.length) return [];
  const pixels = against.every((e) => e.from === 'pixels');
  const words = against.map((e) => `${e.from}: ${e.says}`).join('; ');
  return [{ ...(pixels ? seen : about), kind: 'space-contradiction', text: `taken for ${declared}, but ${words}` }];
}
