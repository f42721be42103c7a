import {
  fileOfFrame,
  framesOf,
  measureFrame,
  offeredChannels,
  openExr,
  pictureMember,
  sampleBytes,
  sourcePasses,
  usualFacts,
  type FrameMeasures,
  type FramePlanes,
  type LookedMember,
  type Pass,
} from '@june-haze/core';
import { openSource } from '../byteSource.ts';
import { decodeFile } from '../formats/decode.ts';
import { readPasses } from '../readPasses.ts';

/** A part's channels are decoded together up to this many bytes: its chunks hold them all. */
const together = 512 << 20;

/** Frames whose pixels are looked at: the ends and what lies evenly between, among the frames that can be read. */
export function sampledFrames(source: { readonly members: readonly LookedMember[] }, count = 5): number[] {
  const good = readableFrames(source);
  // A movie decodes from a key frame on: fewer frames, the same confidence.
  if (isMovie(source)) count = Math.min(count, 3);
  if (good.length <= count) return good;
  return Array.from({ length: count }, (_, i) => good[Math.round((i * (good.length - 1)) / (count - 1))]!);
}

const isMovie = (source: { readonly members: readonly LookedMember[] }) =>
  pictureMember(source).looks.some((l) => 'facts' in l && l.facts.kind === 'movie');

/** Frames of the picture's member that can be read whole; a movie's are counted from 1. */
export function readableFrames(source: { readonly members: readonly LookedMember[] }): number[] {
  const { looks } = pictureMember(source);
  const movie = looks.map((l) => ('facts' in l ? l.facts.frames : null)).find((n) => n !== null);
  if (movie) return Array.from({ length: movie }, (_, i) => i + 1);
  return looks.filter((l) => 'facts' in l && l.facts.missingChunks === 0).map((l) => l.frame);
}

/** A member with one look that stands for all: what measuring needs, small enough to send. */
export function slimMember(member: LookedMember): LookedMember {
  const facts = usualFacts(member.looks);
  const look = member.looks.find((l) => 'facts' in l && l.facts === facts);
  return { ...member, looks: look ? [look] : [], repeats: [] };
}

/** Measures all passes of a frame of a source. `locate` gives the real path of a relative one. */
export async function measureSource(
  source: { readonly members: readonly LookedMember[] },
  frame: number,
  locate: (file: string) => Promise<string>,
): Promise<FrameMeasures> {
  const members = new Map(sourcePasses(source).map(({ pass, member }) => [pass, member]));
  const firsts = firstParts(source.members);
  const decoded = new Map<string, Promise<FramePlanes>>();
  const read = async (pass: Pass): Promise<FramePlanes> => {
    const member = members.get(pass)!;
    const facts = usualFacts(member.looks)!;
    const frames = framesOf(member.sequence);
    const own = frames.includes(frame) || facts.kind === 'movie' ? frame : frames.length === 1 ? frames[0]! : frame;
    const file = fileOfFrame(member.sequence, own);
    const path = await locate(file);
    if (facts.kind !== 'exr') return remember(decoded, file, () => decodeFile(path, file, facts, own - 1, facts.range));
    const part = pass.part - firsts.get(member)!;
    const names = await partChannels(path, file, part);
    const channels = names.small ? names.all : pass.channels.map((c) => c.name);
    return remember(decoded, `${file}/${part}/${names.small ? '' : pass.name}`, async () => {
      const request = { path, name: file, part, channels, data: true, level: 0 };
      const { width, rows, planes, missing } = await readPasses(request);
      if (missing.length) throw new Error(`${file}: it cannot be read whole.`);
      return { width, height: rows, planes: Object.fromEntries(channels.map((c, i) => [c, planes[i]!])) };
    });
  };
  return measureFrame(frame, [...members.keys()], read);
}

function remember<T>(held: Map<string, Promise<T>>, key: string, make: () => Promise<T>): Promise<T> {
  const found = held.get(key) ?? make();
  held.set(key, found);
  return found;
}

function firstParts(members: readonly LookedMember[]): Map<LookedMember, number> {
  let first = 0;
  return new Map(
    members.map((m) => {
      const own = first;
      first += usualFacts(m.looks)?.parts ?? 1;
      return [m, own];
    }),
  );
}

async function partChannels(path: string, name: string, index: number): Promise<{ all: string[]; small: boolean }> {
  const source = await openSource(path, name);
  try {
    const part = (await openExr(source)).parts[index];
    const channels = part ? offeredChannels(part) : [];
    const { xMin = 0, xMax = 0, yMin = 0, yMax = 0 } = part?.displayWindow ?? {};
    const bytes = channels.reduce((n, c) => n + sampleBytes[c.type], 0) * (xMax - xMin + 1) * (yMax - yMin + 1);
    return { all: channels.map((c) => c.name), small: bytes <= together };
  } finally {
    await source.close();
  }
}
