import { boxHeight, boxWidth, type Box } from '../exr/types.ts';
import { dataRoles, guessRole, type Pass, type PassRole } from '../sequence/passes.ts';
import { weighEvidence, type Evidence, type SpaceGuess } from './evidence.ts';
import type { AlphaKind, FileFacts, FileKind, StoredType } from './fileFacts.ts';
import { framesOf, type Material, type MaterialMember } from './material.ts';
import { colourPass, type FrameMeasures } from './measures.ts';
import { nameEvidence } from './nameEvidence.ts';
import { pixelEvidence, traitsOf, type ColourPixels, type PixelTraits } from './pixelEvidence.ts';

/** How the look at one file went. */
export type FileLook =
  | { readonly file: string; readonly frame: number; readonly facts: FileFacts }
  | { readonly file: string; readonly frame: number; readonly fault: FileFault };

export interface FileFault {
  readonly kind: 'unreadable-frame' | 'foreign-file' | 'growing';
  readonly message: string;
}

/** A member with every file of it looked at. */
export interface LookedMember extends MaterialMember {
  readonly looks: readonly FileLook[];
  /** Frames whose files hold the same bytes as another's; found by who has the bytes. */
  readonly repeats: readonly (readonly [frame: number, of: number])[];
}

/** A source with all its files' headers read, and the pixels of some frames measured. */
export interface LookedMaterial extends Material {
  readonly members: readonly LookedMember[];
  readonly measures: readonly FrameMeasures[];
  /** Every frame's pixels were measured. */
  readonly full: boolean;
  /** Texts and logs that lie among its frames, by their paths. */
  readonly strangers?: readonly string[];
}

export interface SurveyPass {
  readonly name: string;
  readonly role: PassRole;
  readonly channels: readonly string[];
  readonly part: number;
  readonly pattern: string;
}

/** What Intake says of a source: the same on the command line and on the screen. */
export interface SurveySource {
  readonly id: string;
  readonly name: string;
  readonly pattern: string;
  readonly view: 'left' | 'right' | null;
  readonly version: number | null;
  readonly kind: 'sequence' | 'still' | 'movie';
  readonly fileKind: FileKind;
  readonly frames: readonly [first: number, last: number];
  readonly step: number;
  readonly missing: readonly number[];
  readonly unreadable: readonly number[];
  readonly displayWindow: Box | null;
  readonly width: number;
  readonly height: number;
  readonly pixelAspect: number;
  readonly rate: number | null;
  readonly codec: string;
  readonly sampleType: StoredType;
  readonly alpha: AlphaKind;
  readonly passes: readonly SurveyPass[];
  readonly space: SpaceGuess;
  /** What the colour pixels of the measured frames are like; null when none were measured. */
  readonly traits: PixelTraits | null;
  /** What its picture is like at a coarse grid, by measured frame. */
  readonly prints: readonly { readonly frame: number; readonly values: readonly number[] }[];
  readonly measuredFrames: readonly number[];
  readonly measuredFull: boolean;
  /** The most usual file of the member that stands for the picture; undefined when none can be read. */
  readonly facts: FileFacts | undefined;
}

/** The facts that most files of a member share; of several equally usual the earliest frame's. Undefined when none was readable. */
export function usualFacts(looks: readonly FileLook[]): FileFacts | undefined {
  if (!usual.has(looks)) usual.set(looks, mostCommonFacts(looks));
  return usual.get(looks);
}
/** Asked for a dozen times of twenty thousand looks, which do not change once they are taken. */
const usual = new WeakMap<readonly FileLook[], FileFacts | undefined>();

function mostCommonFacts(looks: readonly FileLook[]): FileFacts | undefined {
  const counts = new Map<string, { facts: FileFacts; count: number }>();
  for (const look of looks) {
    if (!('facts' in look)) continue;
    const key = shapeOf(look.facts);
    const entry = counts.get(key) ?? { facts: look.facts, count: 0 };
    entry.count++;
    counts.set(key, entry);
  }
  return [...counts.values()].sort((a, b) => b.count - a.count)[0]?.facts;
}

/** Size, channels and types in one line: equal for files of one make. */
function shapeOf(f: FileFacts): string {
  return `${f.width}×${f.height} ${channelsOf(f).join(',')} ${f.sampleType}`;
}

/** A file's channels with their parts, in order. */
export function channelsOf(f: FileFacts): readonly string[] {
  let found = channels.get(f.passes);
  if (!found) {
    found = f.passes.flatMap((p) => p.channels.map((c) => `${p.part}/${c.name}`)).sort();
    channels.set(f.passes, found);
  }
  return found;
}
/** By the passes, which files of one make share. */
const channels = new WeakMap<FileFacts['passes'], readonly string[]>();

/** The member that stands for a source's picture: the beauty, else the first with a pass that holds colour. */
export function pictureMember(source: { readonly members: readonly LookedMember[] }): LookedMember {
  const readable = source.members.filter((m) => usualFacts(m.looks));
  return (
    readable.find((m) => m.pass === null || guessRole(m.pass) === 'beauty') ??
    readable.find((m) => colourPass(passesOf(m, 0))) ??
    readable[0] ??
    source.members[0]!
  );
}

/** A member's passes under the names that its file has in the set; `firstPart` counts parts through the set's files. */
export function passesOf(member: LookedMember, firstPart: number): Pass[] {
  const facts = usualFacts(member.looks);
  if (!facts) return [];
  const passes = member.pass !== null && dataRoles.has(guessRole(member.pass)) ? asOnePass(facts.passes) : facts.passes;
  return passes.map((p) => {
    if (member.pass === null) return { ...p, part: p.part + firstPart };
    const own = p.role === 'beauty' || passes.length === 1;
    return {
      ...p,
      name: own ? member.pass : `${member.pass}.${p.name}`,
      role: own ? guessRole(member.pass) : p.role,
      part: p.part + firstPart,
    };
  });
}

/** A file of data alone: channels without a layer's name (X, Y, Z) are one pass. */
function asOnePass(passes: readonly Pass[]): Pass[] {
  const loose = passes.filter((p) => p.part === 0 && p.channels.every((c) => !c.name.includes('.')));
  if (loose.length < 2) return [...passes];
  const joined = { ...loose[0]!, channels: loose.flatMap((p) => [...p.channels]) };
  return [joined, ...passes.filter((p) => !loose.includes(p))];
}

/** All passes of a source, each with its member. */
export function sourcePasses(source: {
  readonly members: readonly LookedMember[];
}): { pass: Pass; member: LookedMember }[] {
  let first = 0;
  return source.members.flatMap((member) => {
    const passes = passesOf(member, first).map((pass) => ({ pass, member }));
    first += usualFacts(member.looks)?.parts ?? 1;
    return passes;
  });
}

/** Evidence from elsewhere than the files: a config's rules, rules that a person saved. */
export type MoreEvidence = (pattern: string) => readonly Evidence[];

/** Says what a source is. `id` is its own among the sources of the survey. */
export function describeSource(source: LookedMaterial, id: string, more: MoreEvidence = () => []): SurveySource {
  const picture = pictureMember(source);
  const facts = usualFacts(picture.looks);
  const passes = sourcePasses(source);
  const sequences = source.members.map((m) => m.sequence);
  const numbered = sequences.filter((s) => s.frames.length > 0);
  const longest = [...numbered].sort((a, b) => b.frames.length - a.frames.length)[0];
  const movie = facts?.kind === 'movie';
  const all = (longest ? numbered : sequences).flatMap((s) => [...framesOf(s)]);
  const range = movie
    ? ([1, facts.frames ?? 1] as const)
    : ([all.reduce((a, b) => Math.min(a, b)), all.reduce((a, b) => Math.max(a, b))] as const);
  const unreadable = source.members.flatMap((m) => m.looks.filter(isBroken).map((l) => l.frame));
  const alpha = alphaOf(source, facts);
  const pixels = colourPixels(source);
  return {
    id,
    name: source.pattern.split('/').at(-1)!,
    pattern: source.pattern,
    view: source.view ?? facts?.view ?? null,
    version: source.version,
    kind: movie ? 'movie' : longest ? 'sequence' : 'still',
    fileKind: facts?.kind ?? 'exr',
    frames: [range[0], range[1]],
    step: longest?.step ?? 1,
    missing: longest ? sortedUnique(numbered.flatMap((s) => missingFrames(s, range, longest.step))) : [],
    unreadable: sortedUnique(unreadable),
    displayWindow: facts?.displayWindow ?? null,
    width: facts?.width ?? 0,
    height: facts?.height ?? 0,
    pixelAspect: facts?.pixelAspect ?? 1,
    rate: facts?.rate ?? null,
    codec: facts?.codec ?? 'unknown',
    sampleType: storedTypeOf(source) ?? 'mixed',
    alpha,
    passes: passes.map(({ pass, member }) => ({
      name: pass.name,
      role: pass.role,
      channels: pass.channels.map((c) => c.name),
      part: pass.part,
      pattern: member.sequence.pattern,
    })),
    space: spaceOf(source, facts, more),
    traits: (pixels && traitsOf(pixels.channels)) ?? null,
    prints: source.measures.map((m) => ({ frame: m.frame, values: m.print })),
    measuredFrames: source.measures.map((m) => m.frame),
    measuredFull: source.full,
    facts,
  };
}

/** A file that cannot be read whole, though it should be by now. */
export const isBroken = (look: FileLook): boolean =>
  'facts' in look ? look.facts.missingChunks > 0 : look.fault.kind !== 'growing';

/** Frames of a whole range that a member lacks; a single frame of a pass lacks none. */
export function missingFrames(
  sequence: MaterialMember['sequence'],
  [first, last]: readonly [number, number],
  step: number,
): number[] {
  if (sequence.frames.length === 0) return [];
  const own = new Set(sequence.frames);
  const missing: number[] = [];
  for (let n = first; n <= last; n += step) if (!own.has(n)) missing.push(n);
  return missing;
}

export const sortedUnique = (numbers: readonly number[]): number[] => [...new Set(numbers)].sort((a, b) => a - b);

function storedTypeOf(source: LookedMaterial): StoredType | undefined {
  const types = new Set(source.members.flatMap((m) => usualFacts(m.looks)?.sampleType ?? []));
  return types.size > 1 ? 'mixed' : [...types][0];
}

function alphaOf(source: LookedMaterial, facts: FileFacts | undefined): AlphaKind {
  const alone = source.members.some((m) => m.pass !== null && guessRole(m.pass) === 'alpha');
  return facts && facts.alpha !== 'none' ? facts.alpha : alone ? 'premultiplied' : 'none';
}

/** The statistics of the pass that stands for the picture, over all measured frames. */
export function colourPixels(source: LookedMaterial): ColourPixels | undefined {
  const pass = colourPass(sourcePasses(source).map((p) => p.pass));
  if (!pass) return undefined;
  const channels = source.measures.flatMap((m) =>
    m.passes.filter((p) => p.pass === pass.name).flatMap((p) => p.channels.filter((c) => c.component !== 'A')),
  );
  const imaginary: Record<string, number> = {};
  for (const m of source.measures)
    for (const [space, share] of Object.entries(m.imaginary))
      imaginary[space] = (imaginary[space] ?? 0) + share / source.measures.length;
  return { channels: channels.map((c) => c.statistics), imaginary };
}

function spaceOf(source: LookedMaterial, facts: FileFacts | undefined, more: MoreEvidence): SpaceGuess {
  if (!facts || !colourPass(sourcePasses(source).map((p) => p.pass)))
    return {
      guess: 'Raw',
      confidence: 0.9,
      evidence: [{ from: 'kind of file', says: 'no pass holds colour', space: 'Raw' }],
    };
  const pixels = colourPixels(source);
  const integer = isInteger(facts);
  return weighEvidence([
    ...facts.evidence,
    ...more(source.pattern),
    ...nameEvidence(source.pattern.split('/').at(-1)!),
    ...(pixels ? pixelEvidence(facts.kind, integer, pixels) : []),
  ]);
}

/** Whether a file stores colour as integers. */
export const isInteger = (facts: { readonly sampleType: string }): boolean => /^uint\d/.test(facts.sampleType);

/** Sizes in words: `960×540`. */
export const sizeWords = (f: Pick<FileFacts, 'displayWindow'>): string =>
  `${boxWidth(f.displayWindow)}×${boxHeight(f.displayWindow)}`;
