import { sql } from 'kysely';
import { agrees, dataRoles } from '@june-haze/core';
import {
  outputSettingsSchema,
  viewingSchema,
  type Shot,
  type ShotSummary,
  type Source,
  type StageProof,
} from '@june-haze/contract';
import type { Selectable } from 'kysely';
import type { Db } from '../database/connect.ts';
import type { Database } from '../database/tables.ts';
import { RequestError } from '../errors.ts';
import { colourKey } from '../library/items.ts';
import { ledgerState } from './ledger.ts';
import { outputPattern } from './outputs.ts';

type SourceRow = Selectable<Database['sources']>;
export type ShotRow = Selectable<Database['shots']>;

const uuid = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/;

export async function requireShot(db: Db, id: string): Promise<ShotRow> {
  const row = uuid.test(id)
    ? await db.selectFrom('shots').selectAll().where('id', '=', id).executeTakeFirst()
    : undefined;
  if (!row) throw new RequestError(404, 'This shot is no longer on the shelf.');
  return row;
}

export async function requireSource(db: Db, id: string): Promise<SourceRow> {
  const row = uuid.test(id)
    ? await db.selectFrom('sources').selectAll().where('id', '=', id).executeTakeFirst()
    : undefined;
  if (!row) throw new RequestError(404, 'This source is no longer in the shot.');
  return row;
}

export async function createShot(db: Db, name: string, demo = false): Promise<string> {
  return db.transaction().execute(async (t) => {
    const viewing = JSON.stringify(viewingSchema.parse({ display: 'sRGB', view: 'ACES SDR', exposure: 0 }));
    const { id } = await t
      .insertInto('shots')
      .values({
        name,
        working_space: 'ACEScg',
        viewing,
        config_id: null,
        rate: 24,
        ledger_head: 0,
        balance: null,
        demo,
      })
      .returning('id')
      .executeTakeFirstOrThrow();
    const document = JSON.stringify({ version: 1, entries: [] });
    await t
      .insertInto('ledger_revisions')
      .values({ shot_id: id, number: 0, parent: null, document, summary: 'empty' })
      .execute();
    return id;
  });
}

export async function touchShot(db: Db, id: string): Promise<void> {
  await db.updateTable('shots').set({ updated_at: new Date() }).where('id', '=', id).execute();
}

export function describeSource(row: SourceRow): Source {
  const { facts } = row;
  const still = facts.still;
  return {
    id: row.id,
    name: row.pattern,
    folder: row.folder,
    pattern: row.pattern,
    ...facts,
    layout: facts.layout ?? [],
    still,
    passes: facts.passes.map((p) => ({ ...p, channels: [...p.channels] })),
    declaredSpace: row.declared_space,
    confirmed: row.confirmed,
    evidence: facts.evidence.map((e) => ({
      ...e,
      agrees: row.declared_space ? agrees(e, row.declared_space) : undefined,
    })),
  };
}

export async function listShots(db: Db): Promise<ShotSummary[]> {
  const rows = await db.selectFrom('shots').selectAll().orderBy('updated_at', 'desc').execute();
  return Promise.all(rows.map(async (row) => summarise(await readShot(db, row))));
}

function summarise(shot: Shot): ShotSummary {
  const { id, name, firstFrame, lastFrame, rate, width, height, updatedAt, proofs, strip } = shot;
  return { id, name, firstFrame, lastFrame, rate, width, height, updatedAt, proofs, strip };
}

/** A shot whole, with its proofs rolled up. */
export async function readShot(db: Db, row: ShotRow): Promise<Shot> {
  const [sourceRows, outputRows, runRows, ledger, colour] = await Promise.all([
    db.selectFrom('sources').selectAll().where('shot_id', '=', row.id).orderBy('position').execute(),
    db.selectFrom('outputs').selectAll().where('shot_id', '=', row.id).orderBy('position').execute(),
    db
      .selectFrom('runs')
      .innerJoin('outputs', 'outputs.id', 'runs.output_id')
      .where('outputs.shot_id', '=', row.id)
      .select(['runs.id', 'runs.output_id', 'runs.state', 'runs.started_at', 'runs.finished_at'])
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
  const sources = sourceRows.map(describeSource);
  const moving = sources.filter((s) => !s.still);
  const first = moving.length ? Math.min(...moving.map((s) => s.firstFrame)) : 1;
  const last = moving.length ? Math.max(...moving.map((s) => s.lastFrame)) : 1;
  const balance = row.balance && row.balance.revision === ledger.revision ? row.balance : null;
  const runs = runRows.map((r) => ({
    id: r.id,
    outputId: r.output_id,
    state: r.state,
    startedAt: r.started_at.toISOString(),
    finishedAt: r.finished_at?.toISOString() ?? null,
    frames: (r.frames ?? []).map((f) => ({
      frame: f.frame,
      state: f.state,
      message: f.message,
      milliseconds: f.milliseconds,
      bytes: f.bytes,
      readBack: f.read_back,
    })),
  }));
  return {
    id: row.id,
    name: row.name,
    firstFrame: first,
    lastFrame: last,
    rate: row.rate,
    width: sources[0]?.width ?? 0,
    height: sources[0]?.height ?? 0,
    updatedAt: row.updated_at.toISOString(),
    workingSpace: row.working_space,
    viewing: viewingSchema.parse(row.viewing),
    colour,
    sources,
    ledger,
    balance,
    outputs: outputRows.map((o) => ({
      id: o.id,
      ...outputSettingsSchema.parse(o.settings),
      pattern: outputPattern(row, o.settings),
    })),
    runs,
    proofs: {
      intake: intakeProof(sources),
      match: { state: 'unproved', figure: 'not yet compared' },
      build: buildProof(balance, ledger.document.entries.length),
      output: outputProof(runs),
    },
    strip: stripOf(sources[0], first, last),
  };
}

type RunFrameRow = Shot['runs'][number]['frames'][number] & {
  read_back: Shot['runs'][number]['frames'][number]['readBack'];
};

function stripOf(source: Source | undefined, first: number, last: number): ShotSummary['strip'] {
  const pass = source?.passes.find((p) => p.role === 'beauty') ?? source?.passes.find((p) => !dataRoles.has(p.role));
  if (!source || !pass) return [];
  const bad = new Set([...source.missing, ...source.damaged.map((d) => d.frame)]);
  const pick = (share: number) => {
    let frame = Math.round(first + (last - first) * share);
    while (bad.has(frame) && frame < last) frame++;
    return frame;
  };
  return [0, 0.5, 1].map((share) => ({ sourceId: source.id, frame: pick(share), pass: pass.name }));
}

/** The tag proof: every source declared and confirmed by a person, and nothing in its file contradicting. */
function intakeProof(sources: readonly Source[]): StageProof {
  if (!sources.length) return { state: 'unproved', figure: 'nothing brought in' };
  const confirmed = sources.filter((s) => s.confirmed).length;
  const contradicted = sources.some(
    (s) => s.confirmed && s.evidence.some((e) => e.agrees === false && e.from !== 'kind of file'),
  );
  const broken = sources.reduce((n, s) => n + s.missing.length + s.damaged.length, 0);
  if (broken) return { state: 'fails', figure: `${broken} ${broken === 1 ? 'frame' : 'frames'} bad` };
  if (contradicted) return { state: 'differs', figure: 'tags contradict' };
  const figure =
    sources.length === 1
      ? confirmed
        ? '1 source declared'
        : 'not confirmed'
      : `${confirmed} of ${sources.length} declared`;
  return { state: confirmed === sources.length ? 'proved' : 'unproved', figure };
}

function buildProof(balance: Shot['balance'], entries: number): StageProof {
  if (!entries) return { state: 'unproved', figure: 'no ledger' };
  if (!balance) return { state: 'unproved', figure: 'not balanced yet' };
  if (balance.balanced) return { state: 'proved', figure: 'balanced' };
  return { state: 'differs', figure: `off by ${(balance.share * 100).toFixed(balance.share < 0.001 ? 4 : 1)} %` };
}

function outputProof(runs: Shot['runs']): StageProof {
  const last = runs[0];
  if (!last) return { state: 'unproved', figure: 'not written' };
  const done = last.frames.filter((f) => f.state === 'done');
  if (last.state === 'running') return { state: 'unproved', figure: `writing ${done.length} of ${last.frames.length}` };
  if (last.frames.some((f) => f.state === 'failed'))
    return { state: 'fails', figure: `${counted(last.frames.filter((f) => f.state === 'failed').length)} failed` };
  if (last.state === 'cancelled') return { state: 'unproved', figure: `stopped at ${done.length}` };
  if (done.some((f) => !f.readBack?.proved)) return { state: 'differs', figure: 'reads back otherwise' };
  return { state: 'proved', figure: `${counted(done.length)} read back` };
}

const counted = (frames: number) => `${frames} ${frames === 1 ? 'frame' : 'frames'}`;
