import { undoneDisplay } from '../config/shotColour.ts';
import { samePrimaries, type Primaries } from '../colour/primaries.ts';
import { findSpace, linearSpaceOf, type ColourSpace } from '../colour/spaces.ts';

/** Where a piece of evidence comes from, in the order of trust (docs/intake.md). */
export type EvidenceSource =
  | 'saved rule'
  | 'colour identity'
  | 'ACES container flag'
  | 'chromaticities'
  | 'colour tags'
  | 'ICC profile'
  | 'config’s file rules'
  | 'file name'
  | 'pixels'
  | 'kind of file';

/** One piece of evidence for or against a space. */
export interface Evidence {
  readonly from: EvidenceSource;
  readonly says: string;
  /** The space it points to, if it names one. */
  readonly space?: string;
  /** A space that it rules out, and says nothing of others. */
  readonly against?: string;
  /** What of the space it speaks of: all of it (when left out), its primaries alone, or whether it is linear, encoded for a display, or a log. */
  readonly about?: 'space' | 'primaries' | 'linear' | 'encoded' | 'log';
  /** 0 … 1: how far it is to be trusted; left out for the usual trust in its kind. */
  readonly weight?: number;
}

export interface SpaceGuess {
  /** Undefined when nothing names a space: then a person must. */
  readonly guess?: string;
  /** 0 … 1. */
  readonly confidence: number;
  readonly evidence: readonly Evidence[];
}

/** How far each kind of evidence is trusted by itself. Our judgement; common practice, no source. */
const usualWeight: Readonly<Record<EvidenceSource, number>> = {
  'saved rule': 0.95,
  'colour identity': 0.95,
  'ACES container flag': 0.95,
  chromaticities: 0.8,
  'colour tags': 0.85,
  'ICC profile': 0.85,
  'config’s file rules': 0.7,
  'file name': 0.65,
  pixels: 0.6,
  'kind of file': 0.4,
};
const order = Object.keys(usualWeight) as EvidenceSource[];

export const weightOf = (e: Evidence): number => e.weight ?? usualWeight[e.from];

/** Whether a piece of evidence agrees with a declared space; undefined when it says nothing about it. */
export function agrees(evidence: Evidence, declared: string): boolean | undefined {
  // Codes of a picture whose view is undone are those of its display.
  const undone = undoneDisplay(declared);
  if (undone !== undefined) return agrees(evidence, undone);
  const space = findSpace(declared);
  if (!space) return evidence.space === undefined ? undefined : evidence.space.toLowerCase() === declared.toLowerCase();
  if (evidence.against !== undefined) return evidence.against === space.name ? false : undefined;
  if (evidence.about === 'linear') return space.encoding === 'linear';
  if (evidence.about === 'encoded') return space.family === 'display';
  if (evidence.about === 'log') return space.family === 'log';
  const named = evidence.space === undefined ? undefined : findSpace(evidence.space);
  if (!named) return undefined;
  // A kind of file tells an encoded picture from light, not one display's encoding from another's.
  if (evidence.from === 'kind of file' && named.family === 'display' && space.family === 'display') return true;
  if (evidence.about === 'primaries' || evidence.from === 'chromaticities')
    return samePrimaries(named.primaries, space.primaries);
  return named.name === space.name || (bothPictures(named, space) && evidence.from !== 'colour identity');
}

/** Tags of pictures seldom tell the sRGB curve from a plain 2.2, nor Rec.709's camera curve from its display's. */
function bothPictures(a: ColourSpace, b: ColourSpace): boolean {
  const near = [
    ['sRGB', 'Gamma 2.2'],
    ['Rec.709', 'BT.1886'],
  ];
  return near.some((pair) => pair.includes(a.name) && pair.includes(b.name));
}

/** Chromaticities as evidence: they say which primaries, and nothing of the curve. */
export function chromaticityEvidence(primaries: Primaries): Evidence {
  const space = linearSpaceOf(primaries);
  const says = space ? `the primaries of ${space.name}` : 'primaries of none of the known spaces';
  return { from: 'chromaticities', says, about: 'primaries', ...(space ? { space: space.name } : {}) };
}

/**
 * Weighs evidence: strongest kind first, what is seen in the pixels over what the kind of file suggests, nothing resolved in silence:
 * every piece stays listed, whatever it says. `confidence` is 1 less the chance that all agreeing pieces err, lowered by what contradicts.
 */
export function weighEvidence(evidence: readonly Evidence[]): SpaceGuess {
  const sorted = [...evidence].sort((a, b) => order.indexOf(a.from) - order.indexOf(b.from));
  // Primaries name a linear space where the file is a linear kind; of a picture they say less than its other tags.
  const picture = sorted.some((e) => e.from === 'kind of file' && findSpace(e.space ?? '')?.family === 'display');
  const named = sorted.filter((e) => e.space !== undefined && !(picture && e.about === 'primaries'));
  const guess = settle(named[0], sorted);
  if (guess === undefined) return { confidence: 0, evidence: sorted };
  let doubt = 1;
  let held = 1;
  for (const e of sorted) {
    const agreeing = agrees(e, guess);
    // What speaks of a part of the space only counts for less; what the kind of file suggests is soon outweighed.
    const share = e.about && e.about !== 'space' && e.from !== 'pixels' ? 0.6 : 1;
    const against = e.from === 'kind of file' ? 0.2 : 0.6;
    if (agreeing === true) doubt *= 1 - weightOf(e) * share;
    if (agreeing === false) held *= 1 - against * weightOf(e) * share;
  }
  return { guess, confidence: Math.round((1 - doubt) * held * 100) / 100, evidence: sorted };
}

/** The strongest named space, unless the pixels rule its encoding out and nothing firm stands behind it. */
function settle(first: Evidence | undefined, all: readonly Evidence[]): string | undefined {
  const pixels = all.filter((e) => e.from === 'pixels');
  const encoded = pixels.find((e) => e.about === 'encoded' && weightOf(e) >= 0.6);
  const linear = pixels.find((e) => e.about === 'linear' && weightOf(e) >= 0.6);
  const space = first?.space === undefined ? undefined : findSpace(first.space);
  const firm = first && ['saved rule', 'colour identity', 'ACES container flag'].includes(first.from);
  if (encoded && !firm && (!space || space.encoding === 'linear')) {
    const p3 = space && findSpace('Display P3')!;
    return p3 && samePrimaries(space.primaries, p3.primaries) ? p3.name : 'sRGB';
  }
  if (linear && !firm && space?.family === 'display' && first!.from !== 'colour tags' && first!.from !== 'ICC profile')
    return linearSpaceOf(space.primaries)?.name ?? 'Linear Rec.709';
  const saidLinear = all.some((e) => e.from === 'file name' && e.about === 'linear');
  if (saidLinear && first?.from === 'kind of file' && space?.family === 'display')
    return linearSpaceOf(space.primaries)?.name;
  return first?.space;
}
