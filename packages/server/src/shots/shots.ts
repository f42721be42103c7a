import { sql } from 'kysely';
import { dataRoles, type ProblemKind } from '@june-haze/core';
import { addProblemsBetween, describeSource } from '../intake/sourceState.ts';
import {
  outputPattern,
  outputSettingsSchema,
  sourcesOfOutput,
  viewingSchema,
  type Check,
  type Shot,
  type ShotSummary,
  type Source,
  type StageProof,
} from '@june-haze/contract';
import type { Db } from '../database/connect.ts';
import { colourKey } from '../library/items.ts';
import { ledgerState } from './ledger.ts';
import { matchProof, matchState } from './match.ts';
import { standingBalances } from './standingBalances.ts';
import type { ShotRow } from './shotRows.ts';
import { declaredOf } from './declared.ts';
import { changedSince } from './changedSince.ts';
import { namedShot } from './outputs.ts';

export async function listShots(db: Db): Promise<ShotSummary[]> {
  const rows = await db.selectFrom('shots').selectAll().orderBy('updated_at', 'desc').execute();
  return Promise.all(rows.map(async (row) => summarise(await readShot(db, row))));
}

function summarise(shot: Shot): ShotSummary {
  const { id, name, firstFrame, lastFrame, rate, width, height, updatedAt, proofs, strip } = shot;
  return { id, name, firstFrame, lastFrame, rate, width, height, updatedAt, proofs, strip };
}

let lastSnapshot = 0;
/** The time in milliseconds, or one more than before within one: it rises across restarts too. */
const nextSnapshot = () => (lastSnapshot = Math.max(lastSnapshot + 1, Date.now()));

/** A shot whole, with its proofs rolled up. */
export async function readShot(
  db: Db,
  row: ShotRow,
  checks?: { progress(sourceId: string): Check | undefined },
): Promise<Shot> {
  const snapshot = nextSnapshot();
  const [sourceRows, outputRows, runRows, ledger, colour] = await Promise.all([
    db.selectFrom('sources').selectAll().where('shot_id', '=', row.id).orderBy('position').execute(),
    db.selectFrom('outputs').selectAll().where('shot_id', '=', row.id).orderBy('position').execute(),
    db
      .selectFrom('runs')
      .innerJoin('outputs', 'outputs.id', 'runs.output_id')
      .where('outputs.shot_id', '=', row.id)
      .select([
        'runs.id',
        'runs.output_id',
        'runs.state',
        'runs.started_at',
        'runs.finished_at',
        'runs.recipe',
        'runs.message',
      ])
      .select('outputs.settings')
      .select((eb) =>
        eb
          .selectFrom('run_frames')
          .whereRef('run_frames.run_id', '=', 'runs.id')
          .select(sql<RunFrameRow[]>`coalesce(json_agg(run_frames order by frame), '[]')`.as('f'))
          .as('frames'),
      )
      .orderBy('runs.started_at', 'desc')
      .limit(20)
      .execute(),
    ledgerState(db, row.id),
    colourKey(db, row),
  ]);
  const sources = sourceRows.map((r) => describeSource(r, checks?.progress(r.id)));
  addProblemsBetween(sources, sourceRows, row.rate);
  // What is only shown for comparison does not say how long or large the shot is.
  const plates = sources.filter((s) => s.reading.use === 'plate');
  const moving = plates.filter((s) => !s.still);
  const main = mainSource(plates) ?? sources[0];
  // The render gives the range: a plate may begin elsewhere and be longer.
  const [first, last] = rangeOf(moving, main);
  const balances = await standingBalances(db, row.id, ledger.revision, sourceRows);
  const { document } = ledger;
  const match = await matchState(db, row, colour, sources, mainSource(plates));
  const latest = new Set<string>();
  const runs: Shot['runs'] = [];
  for (const r of runRows) {
    // What was written before an output's last run is not held against the files as they are now.
    const range = latest.has(r.output_id)
      ? undefined
      : ([r.recipe.settings.firstFrame, r.recipe.settings.lastFrame] as const);
    latest.add(r.output_id);
    const declared = range
      ? await declaredOf(db, sourcesOfOutput(outputSettingsSchema.parse(r.settings), document), sourceRows, range)
      : (r.recipe.declared ?? []);
    runs.push({
      id: r.id,
      outputId: r.output_id,
      state: r.state,
      message: r.message,
      startedAt: r.started_at.toISOString(),
      finishedAt: r.finished_at?.toISOString() ?? null,
      changedSince: [
        ...changedSince(r.recipe, { row, document, colour, settings: r.settings, declared }),
        ...(range && r.frames?.some((f) => f.replaced) ? ['its files on disk'] : []),
      ],
      frames: (r.frames ?? []).map((f) => ({
        frame: f.frame,
        state: f.state,
        message: f.message,
        milliseconds: f.milliseconds,
        bytes: f.bytes,
        readBack: f.read_back,
        by: f.taken_by,
      })),
    });
  }
  const size = { width: main?.width ?? 0, height: main?.height ?? 0 };
  return {
    snapshot,
    id: row.id,
    name: row.name,
    firstFrame: first,
    lastFrame: last,
    rate: row.rate,
    places: row.places,
    ...size,
    updatedAt: row.updated_at.toISOString(),
    workingSpace: row.working_space,
    viewing: viewingSchema.parse(row.viewing),
    colour,
    sources,
    ledger,
    match,
    balances,
    outputs: outputRows.map((o) => {
      const settings = outputSettingsSchema.parse(o.settings);
      return { id: o.id, ...settings, pattern: outputPattern(namedShot(row, size), settings) };
    }),
    runs,
    proofs: {
      intake: intakeProof(sources),
      match: matchProof(match),
      build: buildProof(balances, ledger.document.entries.length),
      output: outputProof(runs),
    },
    strip: stripOf(main, first, last),
    notices: [],
  };
}

type RunFrameRow = Shot['runs'][number]['frames'][number] & {
  replaced: boolean;
  read_back: Shot['runs'][number]['frames'][number]['readBack'];
  taken_by: string | null;
};

/** The render among sources: the one with most passes, then most frames. */
function mainSource(plates: readonly Source[]): Source | undefined {
  const length = (s: Source) => (s.still ? 0 : s.lastFrame - s.firstFrame);
  return [...plates].sort((a, b) => b.passes.length - a.passes.length || length(b) - length(a))[0];
}

function rangeOf(moving: readonly Source[], main: Source | undefined): [number, number] {
  if (main && (!main.still || !moving.length)) return [main.firstFrame, main.lastFrame];
  if (!moving.length) return [1, 1];
  return [Math.min(...moving.map((s) => s.firstFrame)), Math.max(...moving.map((s) => s.lastFrame))];
}

function stripOf(source: Source | undefined, first: number, last: number): ShotSummary['strip'] {
  const pass = source?.passes.find((p) => p.role === 'beauty') ?? source?.passes.find((p) => !dataRoles.has(p.role));
  if (!source || !pass) return [];
  const bad = new Set([...source.missing, ...source.damaged.map((d) => d.frame)]);
  const pick = (share: number) => {
    let frame = Math.round(first + (last - first) * share);
    while (bad.has(frame) && frame < last) frame++;
    return frame;
  };
  return [0, 0.5, 1].map((share) => ({
    sourceId: source.id,
    stamp: source.stamp,
    frame: pick(share),
    pass: pass.name,
  }));
}

/** The tag proof: every source declared and confirmed by a person, and nothing in its file contradicting. */
function intakeProof(sources: readonly Source[]): StageProof {
  if (!sources.length) return { state: 'unproved', figure: 'nothing brought in' };
  const confirmed = sources.filter((s) => s.confirmed).length;
  const open = sources.flatMap((s) => s.problems.filter((p) => p.silenced === null));
  const bad = new Set(
    open.filter((p) => brokenKinds.has(p.kind)).flatMap((p) => p.frames.map((f) => `${p.source}/${f}`)),
  );
  if (bad.size) return { state: 'fails', figure: `${counted(bad.size)} bad` };
  if (open.some((p) => contradictingKinds.has(p.kind))) return { state: 'differs', figure: 'spaces contradict' };
  const checking = sources.some((s) => s.check.stage !== 'done' && s.check.stage !== 'failed');
  if (checking) return { state: 'unproved', figure: 'looking at files' };
  if (open.length)
    return { state: 'differs', figure: `${open.length} ${open.length === 1 ? 'problem' : 'problems'} open` };
  const figure =
    sources.length === 1
      ? confirmed
        ? '1 source declared'
        : 'not confirmed'
      : `${confirmed} of ${sources.length} declared`;
  return { state: confirmed === sources.length ? 'proved' : 'unproved', figure };
}

const brokenKinds: ReadonlySet<ProblemKind> = new Set([
  'missing-frames',
  'unreadable-frame',
  'truncated-frame',
  'foreign-file',
]);
const contradictingKinds: ReadonlySet<ProblemKind> = new Set([
  'space-contradiction',
  'encoded-as-linear',
  'linear-as-picture',
  'tone-mapped',
  'integer-linear',
]);

/** The worst of the frames that were balanced. */
function buildProof(balances: Shot['balances'], entries: number): StageProof {
  if (!entries) return { state: 'unproved', figure: 'no ledger' };
  if (!balances.length) return { state: 'unproved', figure: 'not balanced yet' };
  // What a person does with the passes is no fault of theirs: they balance if they did as they came.
  const off = balances.filter((b) => !b.balanced && !b.asCame?.balanced && !b.packing?.within);
  if (!off.length) return { state: 'proved', figure: 'balanced' };
  const share = Math.max(...off.map((b) => b.share));
  return { state: 'differs', figure: `off by ${(share * 100).toFixed(share < 0.001 ? 4 : 1)} %` };
}

function outputProof(runs: Shot['runs']): StageProof {
  const last = runs[0];
  if (!last) return { state: 'unproved', figure: 'not written' };
  const done = last.frames.filter((f) => f.state === 'done');
  if (last.state === 'running') return writingProof(done.length, last.frames.length);
  const held = heldProof(last.state, done.length);
  if (held?.figure.startsWith('paused')) return held;
  if (last.state === 'failed' && last.message !== null) return { state: 'fails', figure: 'not put together' };
  if (last.frames.some((f) => f.state === 'failed'))
    return { state: 'fails', figure: `${counted(last.frames.filter((f) => f.state === 'failed').length)} failed` };
  if (held) return held;
  if (done.some((f) => !f.readBack?.proved)) return { state: 'differs', figure: 'reads back otherwise' };
  if (last.changedSince.length) return { state: 'unproved', figure: 'changed since written' };
  return { state: 'proved', figure: `${counted(done.length)} read back` };
}

/** What the output stage says while a run is under way. */
export async function runProof(db: Db, runId: string): Promise<StageProof> {
  const counts = await db
    .selectFrom('run_frames')
    .innerJoin('runs', 'runs.id', 'run_frames.run_id')
    .select((eb) => [
      eb.fn.countAll().as('all'),
      eb.fn.countAll().filterWhere('run_frames.state', '=', 'done').as('done'),
      'runs.state',
    ])
    .where('run_id', '=', runId)
    .groupBy('runs.state')
    .executeTakeFirstOrThrow();
  const done = Number(counts.done);
  return heldProof(counts.state, done) ?? writingProof(done, Number(counts.all));
}

/** Of a run that takes no frames: frames in hand may still come. */
function heldProof(state: Shot['runs'][number]['state'], done: number): StageProof | undefined {
  if (state === 'paused') return { state: 'unproved', figure: `paused at ${done}` };
  return state === 'cancelled' ? { state: 'unproved', figure: `stopped at ${done}` } : undefined;
}

const writingProof = (done: number, all: number): StageProof => ({
  state: 'unproved',
  figure: `writing ${done} of ${all}`,
});

const counted = (frames: number) => `${frames} ${frames === 1 ? 'frame' : 'frames'}`;
