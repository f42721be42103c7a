import { samePrimaries, type Primaries } from '../colour/primaries.ts';
import { findSpace, linearSpaceOf } from '../colour/spaces.ts';
import type { ExrAttribute } from '../exr/types.ts';

/** One piece of evidence for or against a space. */
export interface Evidence {
  /** Where it comes from: 'colour identity', 'chromaticities', 'file name', 'kind of file'. */
  readonly from: string;
  readonly says: string;
  /** The space it points to, if it names one. */
  readonly space?: string;
}

export interface SpaceGuess {
  readonly guess?: string;
  readonly evidence: readonly Evidence[];
}

/** Tokens in file names that name a space. Common practice, no source. */
const nameTokens: readonly (readonly [RegExp, string])[] = [
  [/acescg|lin_?ap1/, 'ACEScg'],
  [/aces2065|lin_?ap0/, 'ACES2065-1'],
  [/lin_?(srgb|rec709)|linear[-_. ]?(srgb|rec709)/, 'Linear Rec.709'],
  [/lin_?rec2020/, 'Linear Rec.2020'],
  [/acescct/, 'ACEScct'],
  [/s-?log3.*cine/, 'S-Log3 S-Gamut3.Cine'],
  [/s-?log3/, 'S-Log3 S-Gamut3'],
  [/log-?c4/, 'LogC4'],
  [/log-?c3?(?![a-z0-9])/, 'LogC3'],
  [/log3g10/, 'Log3G10'],
  [/v-?log/, 'V-Log'],
  [/srgb/, 'sRGB'],
  [/rec709|bt709/, 'Rec.709'],
];

/**
 * Guesses a linear file's space, strongest evidence first: colour identity, chromaticities, a name, the kind of file.
 * Nothing is resolved in silence: every piece is listed, whatever it says.
 */
export function guessSpace(fileName: string, attributes: ReadonlyMap<string, ExrAttribute>): SpaceGuess {
  const evidence: Evidence[] = [];
  const identity = attributes.get('colorInteropID')?.value;
  if (typeof identity === 'string') {
    evidence.push({ from: 'colour identity', says: identity, space: findSpace(identity)?.name });
  }
  if (attributes.get('acesImageContainerFlag')?.value === 1) {
    evidence.push({ from: 'ACES container flag', says: 'ACES2065-1', space: 'ACES2065-1' });
  }
  const primaries = attributes.get('chromaticities')?.value as Primaries | undefined;
  if (primaries) {
    const space = linearSpaceOf(primaries);
    const says = space ? `the primaries of ${space.name}` : 'primaries of none of the known spaces';
    evidence.push({ from: 'chromaticities', says, space: space?.name });
  }
  const named = nameTokens.find(([token]) => token.test(fileName.toLowerCase()));
  if (named) evidence.push({ from: 'file name', says: named[1], space: named[1] });
  evidence.push({
    from: 'kind of file',
    says: primaries ? 'an EXR is linear' : 'an EXR is linear; without chromaticities it means Rec.709 primaries',
    space: primaries ? undefined : 'Linear Rec.709',
  });
  return { guess: evidence.find((e) => e.space)?.space, evidence };
}

/** Whether a piece of evidence agrees with a declared space; undefined when it says nothing about it. */
export function agrees(evidence: Evidence, declared: string): boolean | undefined {
  if (!evidence.space) return undefined;
  const [a, b] = [findSpace(evidence.space), findSpace(declared)];
  if (!a || !b) return undefined;
  if (evidence.from === 'chromaticities') return samePrimaries(a.primaries, b.primaries);
  return a.name === b.name;
}
