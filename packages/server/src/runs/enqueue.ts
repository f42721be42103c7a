import { sql } from 'kysely';
import { isOneFile, outputKinds } from '@june-haze/contract';
import type { Db } from '../database/connect.ts';
import type { RunRecipe } from '../database/tables.ts';
import { RequestError } from '../errors.ts';
import type { UnchangedFrames } from './unchangedFrames.ts';

/** The queue's task that puts one file together of its frames. */
export const assembleTask = 'assemble-frames';

/** Kinds of outputs all of whose frames become one file. */
const oneFileKinds = outputKinds.filter((kind) => isOneFile({ kind }));

/** So often a frame is tried when the process that has it dies or the machine fails it; a fault of the frame itself is not tried again. */
const attempts = 10;

/** A run's place in the queue by its output's priority: lower numbers are taken first. */
const priorityOf = (recipe: string) =>
  sql`(case ${sql.ref(recipe)} #>> '{settings,priority}' when 'first' then -1 when 'last' then 1 else 0 end)::int`;

/**
 * Jobs for frames of a run that have none, by one statement; a job is known by its run and frame. Their times are a microsecond apart, so
 * that frames are taken in order.
 */
async function addJobs(t: Db, runId: string, frames: ReturnType<typeof sql>): Promise<void> {
  const priority = sql`(select ${priorityOf('recipe')} from runs where id = ${runId})`;
  await sql`
    select count(*) from graphile_worker.add_jobs(array(
      select row('write-frame', json_build_object('runId', ${runId}::text, 'frame', f), null,
                 now() + row_number() over (order by f) * interval '1 microsecond' - interval '1 second', ${attempts}::int,
                 ${runId}::text || '/' || f, ${priority}, null)::graphile_worker.job_spec
      from (${frames}) as wanted (f) order by f), true)`.execute(t);
}

/**
 * Makes a run with its frames and their jobs, all or nothing. Throws a 409 RequestError when the output is being written already: of
 * several that are begun at once, one is made. Frames that are `unchanged` since an earlier run are done already.
 */
export async function enqueueRun(
  db: Db,
  outputId: string,
  recipe: RunRecipe,
  unchanged?: UnchangedFrames,
): Promise<string> {
  const { firstFrame, lastFrame, step } = recipe.settings;
  return db.transaction().execute(async (t) => {
    const made = await t
      .insertInto('runs')
      .values({ output_id: outputId, state: 'running', recipe: JSON.stringify(recipe), finished_at: null })
      .onConflict((c) => c.column('output_id').where('state', 'in', ['running', 'paused']).doNothing())
      .returning('id')
      .executeTakeFirst();
    if (!made) throw new RequestError(409, 'This output is being written already; stop that run first.');
    const all = sql`select generate_series(${firstFrame}::int, ${lastFrame}::int, ${step}::int)`;
    if (unchanged)
      await sql`
        insert into run_frames (run_id, frame, state, milliseconds, bytes, read_back, written, taken_by)
        select ${made.id}, frame, 'done', milliseconds, bytes, read_back, written, taken_by from run_frames
        where run_id = ${unchanged.runId} and frame = any(${unchanged.frames}::int[])`.execute(t);
    const left = sql`
      select f from (${all}) as s (f) where not exists (select 1 from run_frames where run_id = ${made.id} and frame = f)`;
    await sql`insert into run_frames (run_id, frame, state) select ${made.id}, f, 'waiting' from (${left}) as s (f)`.execute(
      t,
    );
    await addJobs(t, made.id, sql`select frame from run_frames where run_id = ${made.id} and state = 'waiting'`);
    await endRun(t, made.id);
    return made.id;
  });
}

/** Jobs for what is left to write of a run; ends it where nothing is. */
export async function resumeJobs(t: Db, runId: string): Promise<void> {
  await addJobs(
    t,
    runId,
    sql`select frame from run_frames where run_id = ${runId} and state in ('waiting', 'writing')`,
  );
  await endRun(t, runId);
}

/** Takes back the jobs of frames that nobody has begun. */
export async function withdrawJobs(db: Db, runId: string): Promise<void> {
  await sql`
    select count(*) from graphile_worker.complete_jobs(array(
      select id from graphile_worker.jobs where key like ${`${runId}/%`} and locked_at is null))`.execute(db);
}

/**
 * Holds runs against their jobs, as a killed process leaves them: frames that no job will write get one, frames whose job was given up
 * fail by name, and a run with nothing left to do is ended. Returns the runs that changed.
 */
export async function reconcileRuns(db: Db): Promise<string[]> {
  const running = await db.selectFrom('runs').select('id').where('state', '=', 'running').execute();
  const changed: string[] = [];
  for (const { id } of running) {
    const moved = await db.transaction().execute(async (t) => {
      // One process at a time: the others find nothing left to do.
      const run = await t.selectFrom('runs').select('state').where('id', '=', id).forUpdate().executeTakeFirst();
      if (run?.state !== 'running') return false;
      const failed = await sql`
        update run_frames f set state = 'failed',
          message = 'It was begun ' || j.attempts || ' times and never finished; the queue’s log says more.'
        from graphile_worker.jobs j
        where f.run_id = ${id} and f.state in ('waiting', 'writing')
          and j.key = f.run_id::text || '/' || f.frame and j.attempts >= j.max_attempts and j.locked_at is null`.execute(
        t,
      );
      const lost = sql`
        select frame from run_frames f where f.run_id = ${id} and f.state in ('waiting', 'writing')
          and not exists (select 1 from graphile_worker.jobs j where j.key = ${id}::text || '/' || f.frame)`;
      const { rows } = await sql<{ n: string }>`select count(*) as n from (${lost}) as l`.execute(t);
      if (Number(rows[0]!.n) > 0) await addJobs(t, id, lost);
      const given = await sql`
        update runs set state = 'failed', finished_at = now(),
          message = 'Putting it together was begun ' || j.attempts || ' times and never finished; the queue’s log says more.'
        from graphile_worker.jobs j
        where runs.id = ${id} and runs.state = 'running' and j.key = ${id}::text || '/whole'
          and j.attempts >= j.max_attempts and j.locked_at is null`.execute(t);
      if (Number(given.numAffectedRows ?? 0) > 0) return true;
      return Number(failed.numAffectedRows ?? 0) > 0 || Number(rows[0]!.n) > 0 || (await endRun(t, id));
    });
    if (moved) changed.push(id);
  }
  return changed;
}

/**
 * Ends a run when no frame of it is left to write; returns whether it did. What becomes one file is put together first, when all frames are there, by a
 * job that ends the run.
 */
export async function endRun(db: Db, runId: string): Promise<boolean> {
  const nothingLeft = sql`not exists (select 1 from run_frames where run_id = ${runId} and state in ('waiting', 'writing'))`;
  const failed = sql`exists (select 1 from run_frames where run_id = ${runId} and state = 'failed')`;
  const whole = sql`recipe #>> '{settings,kind}' = any(${oneFileKinds}::text[]) and not ${failed}`;
  await sql`
    select graphile_worker.add_job(${assembleTask}::text, json_build_object('runId', ${runId}::text),
      job_key := ${runId}::text || '/whole', max_attempts := ${attempts}::int, priority := ${priorityOf('runs.recipe')})
    from runs where id = ${runId} and state = 'running' and ${nothingLeft} and ${whole}
      and not exists (select 1 from graphile_worker.jobs where key = ${runId}::text || '/whole')`.execute(db);
  const ended = await sql`
    update runs set finished_at = now(), state = case when ${failed} then 'failed' else 'done' end
    where id = ${runId} and state = 'running' and ${nothingLeft} and not (${whole})`.execute(db);
  return Number(ended.numAffectedRows ?? 0) > 0;
}
