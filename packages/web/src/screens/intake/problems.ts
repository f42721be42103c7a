import { findSpace, type ProblemKind } from '@june-haze/core';
import type { ListedProblem, Shot, Source } from '@june-haze/contract';
import type { ShotRequest } from '../../api/shots.ts';
import { frameCount } from './frames.ts';

/** One row of the problems list. */
export interface ProblemRow {
  readonly key: string;
  readonly source: Source;
  readonly state: 'fails' | 'differs' | 'unproved';
  readonly title: string;
  readonly about: string;
  readonly remedies: readonly Remedy[];
  /** The listed problems that the row stands for; they can be silenced. A space that is not confirmed cannot. */
  readonly problems: readonly ListedProblem[];
  /** The reason of a row that was silenced. */
  readonly silenced: string | null;
}

export interface Remedy {
  readonly label: string;
  readonly request: ShotRequest;
  /** It is in force already. */
  readonly inForce?: boolean;
}

const titles: Readonly<Record<ProblemKind, string>> = {
  'missing-frames': 'Frames are missing',
  'unreadable-frame': 'A frame cannot be read',
  'truncated-frame': 'A frame ends early',
  'foreign-file': 'Another kind of file',
  'size-mismatch': 'Another size',
  'window-mismatch': 'Another window',
  'rate-mismatch': 'Another rate',
  'mixed-channels': 'Channels differ between frames',
  'mixed-types': 'Sample types differ between frames',
  'space-contradiction': 'Evidence contradicts the space',
  'integer-linear': 'Integers carry a linear space',
  'encoded-as-linear': 'Encoded pixels in a linear kind of file',
  'linear-as-picture': 'Linear pixels in a kind of file for pictures',
  'tone-mapped': 'Light without highlights: tone-mapped or clipped',
  'half-overflow': 'Values beyond what a half holds',
  'non-finite': 'Pixels are not numbers',
  'negative-values': 'Negative light',
  'depth-reversed': 'Depth looks reversed',
  'alpha-mismatch': 'Alpha contradicts the pixels',
  'duplicate-frames': 'Frames repeat',
  'changed-files': 'Files changed',
};

const badFrameKinds: ReadonlySet<ProblemKind> = new Set<ProblemKind>([
  'missing-frames',
  'unreadable-frame',
  'truncated-frame',
  'foreign-file',
]);
const valueKinds: ReadonlySet<ProblemKind> = new Set<ProblemKind>(['non-finite', 'half-overflow', 'negative-values']);
const failing: ReadonlySet<ProblemKind> = new Set<ProblemKind>([...badFrameKinds, 'changed-files']);

/** What about a shot's sources a person should look at, worst first, each with what can be done about it in one click. */
export function problemRows(shot: Shot): ProblemRow[] {
  const rows = shot.sources.flatMap((source) => [
    ...grouped(source.problems).map((problems) => row(shot, source, problems)),
    ...(source.confirmed || source.check.stage !== 'done' ? [] : [unconfirmed(source)]),
    ...(source.check.stage === 'failed' ? [failed(source)] : []),
  ]);
  const rank = { fails: 0, differs: 1, unproved: 2 };
  return rows.sort((a, b) => rank[a.state] - rank[b.state]);
}

/** Bad frames of a source are one row, and so are odd values of one kind in several passes: one remedy serves them all. */
function grouped(problems: readonly ListedProblem[]): ListedProblem[][] {
  const key = (p: ListedProblem) =>
    badFrameKinds.has(p.kind)
      ? `bad ${p.silenced ?? ''}`
      : valueKinds.has(p.kind)
        ? `${p.kind} ${p.silenced ?? ''}`
        : p.key;
  const groups = new Map<string, ListedProblem[]>();
  for (const p of problems) groups.set(key(p), [...(groups.get(key(p)) ?? []), p]);
  return [...groups.values()];
}

function row(shot: Shot, source: Source, problems: readonly ListedProblem[]): ProblemRow {
  const first = problems[0]!;
  const looked = source.measuredFrames.length;
  const sampled = first.sampled && looked > 1 ? ` Seen in ${first.frames.length} of ${looked} sampled frames.` : '';
  const texts = problems
    .slice(0, 6)
    .map((p) => (p.pass && !p.text.includes(p.pass) ? `${p.text} (${p.pass})` : p.text));
  const more = problems.length > 6 ? `, and ${problems.length - 6} more` : '';
  return {
    key: `${source.id}/${first.key}`,
    source,
    state: failing.has(first.kind) ? 'fails' : 'differs',
    title: problems.length > 1 && badFrameKinds.has(first.kind) ? 'Frames are missing or damaged' : titles[first.kind],
    about: `${source.name}: ${texts.map((t) => t.replace(/\.$/, '')).join(', ')}${more}.${sampled}`,
    remedies: remediesOf(shot, source, first),
    problems,
    silenced: first.silenced,
  };
}

const patch = (source: Source, body: unknown): ShotRequest => ({
  path: `/sources/${source.id}`,
  method: 'PATCH',
  body,
});
const declare = (source: Source, declaredSpace: string): Remedy => ({
  label: `Declare ${declaredSpace}`,
  request: patch(source, { declaredSpace, confirmed: true }),
});
const again = (source: Source, label = 'Look again', full = false): Remedy => ({
  label,
  request: { path: `/sources/${source.id}/examine${full ? '?full=1' : ''}`, method: 'POST' },
});

function remediesOf(shot: Shot, source: Source, problem: ListedProblem): Remedy[] {
  switch (problem.kind) {
    case 'missing-frames':
    case 'unreadable-frame':
    case 'truncated-frame':
    case 'foreign-file':
      return [...onWrite(source), again(source)];
    case 'rate-mismatch':
      return rateRemedies(shot, source);
    case 'encoded-as-linear':
      return [declare(source, 'sRGB')];
    case 'linear-as-picture':
      return [declare(source, 'Linear Rec.709')];
    case 'integer-linear':
      return [declare(source, 'sRGB')];
    case 'space-contradiction':
      return [...new Set(source.evidence.filter((e) => e.agrees === false && e.from !== 'kind of file').map(spaceOf))]
        .filter((s) => s !== undefined)
        .map((s) => declare(source, s));
    case 'half-overflow':
    case 'non-finite':
    case 'negative-values':
      return source.measuredFrames.length >= frameCount(source) ? [] : [again(source, 'Look at every frame', true)];
    case 'alpha-mismatch':
      return (['premultiplied', 'straight'] as const)
        .filter((kind) => kind !== source.alpha)
        .map((alpha) => ({ label: `Read as ${alpha}`, request: patch(source, { reading: { alpha } }) }));
    case 'changed-files':
      return [again(source)];
    default:
      return [];
  }
}

/** What is written where a frame is bad; the one in force is marked. */
function onWrite(source: Source): Remedy[] {
  const words = { hold: 'Hold the last good', black: 'Leave black', stop: 'Stop there' } as const;
  return (['hold', 'black', 'stop'] as const).map((onFault) => ({
    label: words[onFault],
    request: patch(source, { reading: { onFault } }),
    inForce: source.reading.onFault === onFault,
  }));
}

function rateRemedies(shot: Shot, source: Source): Remedy[] {
  const rate = (r: number) => String(Number(r.toFixed(3)));
  return [
    { label: `Read as ${rate(shot.rate)}`, request: patch(source, { reading: { rate: shot.rate } }) },
    ...(source.rate === null
      ? []
      : [
          {
            label: `Take the shot as ${rate(source.rate)}`,
            request: { path: `/shots/${shot.id}`, method: 'PATCH' as const, body: { rate: source.rate } },
          },
        ]),
  ];
}

/** The space that a piece of evidence would have declared. */
function spaceOf(evidence: Source['evidence'][number]): string | undefined {
  if (evidence.space === undefined) return undefined;
  return findSpace(evidence.space)?.name ?? evidence.space;
}

const unconfirmed = (source: Source): ProblemRow => ({
  key: `${source.id}/unconfirmed`,
  source,
  state: 'unproved',
  title: source.declaredSpace ? 'Space not confirmed' : 'No space declared',
  about: source.declaredSpace
    ? `${source.name}: ${source.declaredSpace} is a guess, ${Math.round(source.confidence * 100)} % sure`
    : `${source.name}: nothing in it says which; open it and try some on`,
  remedies: source.declaredSpace
    ? [{ label: `Confirm ${source.declaredSpace}`, request: patch(source, { confirmed: true }) }]
    : [],
  problems: [],
  silenced: null,
});

const failed = (source: Source): ProblemRow => ({
  key: `${source.id}/failed`,
  source,
  state: 'fails',
  title: 'The files could not be looked at',
  about: source.check.message ?? source.name,
  remedies: [again(source)],
  problems: [],
  silenced: null,
});
