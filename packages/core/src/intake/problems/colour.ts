import { findSpace } from '../../colour/spaces.ts';
import { agrees, weightOf } from '../evidence.ts';
import { looksEncoded, looksLinear, traitsOf } from '../pixelEvidence.ts';
import { colourPixels, isInteger, type LookedMaterial, type SurveySource } from '../survey.ts';
import type { Problem } from './problem.ts';

const short = (v: number) => String(Number(v.toPrecision(3)));

/** What contradicts a source's space, guessed or `declared`: its tags, its name, its kind of file, its pixels. */
export function colourProblems(
  material: LookedMaterial,
  source: SurveySource,
  declared = source.space.guess,
): Problem[] {
  const { facts } = source;
  if (!facts || declared === undefined || findSpace(declared)?.family === 'data') return [];
  const space = findSpace(declared);
  const frames = material.measures.map((m) => m.frame);
  const about = { source: source.id, pass: null, file: null, frames: [] as number[], sampled: false };
  const seen = { ...about, frames, sampled: !material.full };
  const pixels = colourPixels(material);
  const traits = pixels && traitsOf(pixels.channels);
  const found: Problem[] = [];
  const integer = isInteger(facts);
  if (!integer && traits && looksEncoded(traits) && saysLinear(source))
    found.push({
      ...seen,
      kind: 'encoded-as-linear',
      text: traits.eightBit
        ? `looks encoded for a display in a file that is taken for linear: ${traits.codes} levels, all between 0 and 1`
        : `looks encoded for a display in a file that is taken for linear: median ${short(traits.median)}, nothing above ${short(traits.maximum)}`,
    });
  if (
    integer &&
    traits &&
    facts.kind !== 'dpx' &&
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
      text: `${facts.sampleType} codes carry ${declared}: dark tones will band`,
    });
  if (!found.length) found.push(...contradictions(source, declared, about, seen));
  return found;
}

/** A linear reading stands behind it that a person would fall for: the kind of file, chromaticities, a name. */
const saysLinear = (source: SurveySource) =>
  source.space.evidence.some(
    (e) =>
      e.from !== 'pixels' &&
      (e.about === 'linear' || findSpace(e.space ?? '')?.encoding === 'linear' || e.about === 'primaries'),
  );

/** A tag that says the curve: then the file is what it says, however dark. */
const strongTag = (source: SurveySource) =>
  source.space.evidence.some(
    (e) => e.from === 'colour identity' || (e.from === 'colour tags' && /linear/.test(e.says)),
  );

/** Evidence that names another space than the one in force. The kind of file alone contradicts nothing. */
function contradictions(
  source: SurveySource,
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
