import { findSpace, type ProblemKind } from '@june-haze/core';
import type { ListedProblem, Shot, Source } from '@june-haze/contract';
import type { ShotRequest } from '../../api/shots.ts';

/** One row of the problems list. */
export interface ProblemRow {
  readonly key: string;
  readonly source: Source;
  readonly state: 'fails' | 'differs' | 'unproved';
  readonly title: string;
  readonly about: string;
  readonly remedies: readonly Remedy[];
  /** The listed problem, which can be silenced; what is not confirmed cannot. */
  readonly problem: ListedProblem | undefined;
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
  'half-overflow': 'Values beyond what a half holds',
  'non-finite': 'Pixels are not numbers',
  'negative-values': 'Negative light',
  'depth-reversed': 'Depth looks reversed',
  'alpha-mismatch': 'Alpha contradicts the pixels',
  'duplicate-frames': 'Frames repeat',
  'changed-files': 'Files changed',
};

const failing: ReadonlySet<ProblemKind> = new Set<ProblemKind>([
  'missing-frames',
  'unreadable-frame',
  'truncated-frame',
  'foreign-file',
  'changed-files',
]);

/** What about a shot's sources a person should look at, worst first, each with what can be done about it in one click. */
export function problemRows(shot: Shot): ProblemRow[] {
  const rows = shot.sources.flatMap((source) => [
    ...source.problems.map((problem) => row(shot, source, problem)),
    ...(source.confirmed || source.check.stage !== 'done' ? [] : [unconfirmed(source)]),
    ...(source.check.stage === 'failed' ? [failed(source)] : []),
  ]);
  const rank = { fails: 0, differs: 1, unproved: 2 };
  return rows.sort((a, b) => rank[a.state] - rank[b.state]);
}

function row(shot: Shot, source: Source, problem: ListedProblem): ProblemRow {
  const sampled = problem.sampled
    ? ` Seen in ${problem.frames.length} of ${source.measuredFrames.length} sampled frames.`
    : '';
  return {
    key: `${source.id}/${problem.key}`,
    source,
    state: failing.has(problem.kind) ? 'fails' : 'differs',
    title: titles[problem.kind],
    about: `${source.name}: ${problem.text}.${sampled}`,
    remedies: remediesOf(shot, source, problem),
    problem,
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
      return source.measuredFull ? [] : [again(source, 'Look at every frame', true)];
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
  problem: undefined,
});

const failed = (source: Source): ProblemRow => ({
  key: `${source.id}/failed`,
  source,
  state: 'fails',
  title: 'The files could not be looked at',
  about: source.check.message ?? source.name,
  remedies: [again(source)],
  problem: undefined,
});
