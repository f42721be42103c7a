import type { Box } from '../../exr/types.ts';
import type { FileFacts } from '../fileFacts.ts';
import {
  channelsOf,
  pictureMember,
  sizeWords,
  usualFacts,
  type LookedMaterial,
  type LookedMember,
  type SurveySource,
} from '../survey.ts';
import { framesText, type Problem, type ProblemKind } from './problem.ts';

const readable = (member: LookedMember) =>
  member.looks.flatMap((l) => ('facts' in l ? [{ frame: l.frame, file: l.file, facts: l.facts }] : []));

/** Frames of a member, and passes of a set, that differ from the rest in size, windows, channels or types. */
export function shapeProblems(material: LookedMaterial, source: SurveySource): Problem[] {
  return [...material.members.flatMap((m) => withinMember(m, source)), ...betweenMembers(material, source)];
}

function withinMember(member: LookedMember, source: SurveySource): Problem[] {
  const usual = usualFacts(member.looks);
  const looks = readable(member);
  if (!usual || looks.length < 2) return [];
  const odd = (kind: ProblemKind, differs: (f: FileFacts) => boolean, words: (f: FileFacts) => string): Problem[] => {
    const found = looks.filter((l) => differs(l.facts));
    if (!found.length) return [];
    const frames = found.map((l) => l.frame);
    return [
      {
        kind,
        source: source.id,
        pass: member.pass,
        file: found.length === 1 ? found[0]!.file : null,
        frames,
        sampled: false,
        text: `${framesText(frames)} ${words(found[0]!.facts)}`,
      },
    ];
  };
  const size = (f: FileFacts) => sizeWords(f) !== sizeWords(usual);
  const channels = String(channelsOf(usual));
  const types = typesOf(usual);
  const main = usualDataWindow(looks.map((l) => l.facts));
  return [
    ...odd('size-mismatch', size, (f) => `${sizeWords(f)} among ${sizeWords(usual)}`),
    ...odd(
      'window-mismatch',
      (f) =>
        !size(f) &&
        (!sameBox(f.displayWindow, usual.displayWindow) || (main !== undefined && !sameBox(f.dataWindow, main))),
      (f) =>
        sameBox(f.displayWindow, usual.displayWindow)
          ? `with a data window of ${boxWords(f.dataWindow)} among ${boxWords(main!)}`
          : `with a display window of ${boxWords(f.displayWindow)} among ${boxWords(usual.displayWindow)}`,
    ),
    ...odd(
      'mixed-channels',
      (f) => String(channelsOf(f)) !== channels,
      (f) => channelWords(f, usual),
    ),
    ...odd(
      'mixed-types',
      (f) => String(channelsOf(f)) === channels && typesOf(f) !== types,
      (f) => `stored as ${f.sampleType} among ${usual.sampleType}`,
    ),
    ...odd(
      'rate-mismatch',
      (f) => f.rate !== null && usual.rate !== null && !sameRate(f.rate, usual.rate),
      (f) => `at ${rateWords(f.rate!)} among ${rateWords(usual.rate!)} fps`,
    ),
  ];
}

function typesOf(f: FileFacts): string {
  let found = types.get(f.passes);
  if (found === undefined) {
    const channels = f.passes.flatMap((p) => p.channels.map((c) => `${p.part}/${c.name}:${c.type}`)).sort();
    types.set(f.passes, (found = channels.join(',')));
  }
  return `${f.sampleType} ${found}`;
}
/** By the passes, which files of one make share. */
const types = new WeakMap<FileFacts['passes'], string>();

function channelWords(f: FileFacts, usual: FileFacts): string {
  const [own, all] = [new Set(channelsOf(f)), new Set(channelsOf(usual))];
  const names = (list: string[]) => list.map((c) => c.slice(c.indexOf('/') + 1)).join(', ');
  const lacking = [...all].filter((c) => !own.has(c));
  const more = [...own].filter((c) => !all.has(c));
  const words = [
    ...(lacking.length ? [`lacking ${names(lacking)}`] : []),
    ...(more.length ? [`with ${names(more)} besides`] : []),
  ];
  return words.join(' and ');
}

/**
 * The data window of more than half of the files. Windows that follow what is in the picture differ from frame to frame, and then
 * there is none: that is a habit, no fault.
 */
function usualDataWindow(all: readonly FileFacts[]): Box | undefined {
  const counts = new Map<string, { box: Box; count: number }>();
  for (const { dataWindow } of all) {
    const key = boxWords(dataWindow);
    counts.set(key, { box: dataWindow, count: (counts.get(key)?.count ?? 0) + 1 });
  }
  const first = [...counts.values()].sort((a, b) => b.count - a.count)[0];
  return first && first.count * 2 > all.length ? first.box : undefined;
}

const sameBox = (a: Box, b: Box) => boxWords(a) === boxWords(b);
const boxWords = (b: Box) => `${b.xMin}, ${b.yMin} to ${b.xMax}, ${b.yMax}`;

/** Passes of a set against its beauty. */
function betweenMembers(material: LookedMaterial, source: SurveySource): Problem[] {
  if (material.members.length < 2) return [];
  const usual = usualOfSet(material);
  if (!usual) return [];
  // Windows cut to what each pass shows differ from pass to pass; one that differs from all others is a fault.
  const windows = new Set(
    material.members.flatMap((m) => {
      const facts = usualFacts(m.looks);
      return facts ? [boxWords(facts.dataWindow)] : [];
    }),
  );
  return material.members.flatMap((m): Problem[] => {
    const facts = usualFacts(m.looks);
    if (!facts) return [];
    const about = { source: source.id, pass: m.pass, file: null, frames: [], sampled: false };
    if (sizeWords(facts) !== sizeWords(usual))
      return [
        { ...about, kind: 'size-mismatch', text: `pass ${m.pass} is ${sizeWords(facts)} among ${sizeWords(usual)}` },
      ];
    if (!sameBox(facts.displayWindow, usual.displayWindow))
      return [
        {
          ...about,
          kind: 'window-mismatch',
          text: `pass ${m.pass} has a display window of ${boxWords(facts.displayWindow)} among ${boxWords(usual.displayWindow)}`,
        },
      ];
    if (windows.size === 2 && material.members.length > 2 && !sameBox(facts.dataWindow, usual.dataWindow))
      return [
        {
          ...about,
          kind: 'window-mismatch',
          text: `pass ${m.pass} has a data window of ${boxWords(facts.dataWindow)} among ${boxWords(usual.dataWindow)}`,
        },
      ];
    if (facts.rate !== null && usual.rate !== null && !sameRate(facts.rate, usual.rate))
      return [
        {
          ...about,
          kind: 'rate-mismatch',
          text: `pass ${m.pass} is at ${rateWords(facts.rate)} fps among ${rateWords(usual.rate)}`,
        },
      ];
    return [];
  });
}

/** The facts that most passes of a set share in size; the beauty's when they are divided. */
function usualOfSet(material: LookedMaterial): FileFacts | undefined {
  const counts = new Map<string, { facts: FileFacts; count: number }>();
  for (const m of [pictureMember(material), ...material.members]) {
    const facts = usualFacts(m.looks);
    if (!facts) continue;
    const key = `${sizeWords(facts)} ${boxWords(facts.displayWindow)}`;
    counts.set(key, { facts: counts.get(key)?.facts ?? facts, count: (counts.get(key)?.count ?? 0) + 1 });
  }
  return [...counts.values()].sort((a, b) => b.count - a.count)[0]?.facts;
}

/** Rates are the same when they differ by rounding (23.976 and 24000/1001). */
export const sameRate = (a: number, b: number): boolean => Math.abs(a - b) < 2e-4 * b;
export const rateWords = (rate: number): string => String(Number(rate.toFixed(3)));
