import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { Logger, makeWorkerUtils, run, type Runner, type WorkerUtils } from 'graphile-worker';
import { builtinColour, type ColourKey, type ShotColour } from '@june-haze/core';
import { viewingSchema, type OutputSettings } from '@june-haze/contract';
import type { ComputePool } from '../compute/pool.ts';
import type { Connection, Db } from '../database/connect.ts';
import type { RunRecipe } from '../database/tables.ts';
import { RequestError } from '../errors.ts';
import type { MediaFolders } from '../media/mediaFolders.ts';
import { colourKey } from '../library/items.ts';
import { colourOf } from '../library/store.ts';
import { declaredOf } from '../shots/declared.ts';
import { outputPath, outputPattern, writtenViewing } from '../shots/outputs.ts';
import { frameFiles, planOf } from '../shots/plan.ts';
import { readShot, requireShot } from '../shots/shots.ts';
import { freeAbandonedJobs } from './abandoned.ts';
import { ledgerState } from '../shots/ledger.ts';

interface FrameJob {
  readonly runId: string;
  readonly frame: number;
}

const quiet = new Logger(() => () => undefined);

export interface RunPlaces {
  readonly outputFolder: string;
  readonly proofFolder: string;
  readonly libraryFolder: string;
  /** Where files that are dropped on the page go. */
  readonly uploadFolder: string;
}

/**
 * Runs: each frame is a job on the queue, so that any process with the same database and folders may take it.
 * A frame's result is stored once, when its file is whole and read back.
 */
export class Runs {
  private readonly connection: Connection;
  private readonly pool: ComputePool;
  private readonly media: MediaFolders;
  private readonly places: RunPlaces;
  private readonly changed: (shotId: string) => void;
  private utils: WorkerUtils | undefined;
  private runner: Runner | undefined;
  private leave: (() => void) | undefined;

  constructor(
    connection: Connection,
    pool: ComputePool,
    media: MediaFolders,
    places: RunPlaces,
    changed: (shotId: string) => void,
  ) {
    this.connection = connection;
    this.pool = pool;
    this.media = media;
    this.places = places;
    this.changed = changed;
  }

  private get db(): Db {
    return this.connection.db;
  }

  /** Prepares the queue's tables and starts taking jobs. */
  async start(): Promise<void> {
    this.utils = await makeWorkerUtils({ pgPool: this.connection.pool, logger: quiet });
    await this.utils.migrate();
    this.leave = await freeAbandonedJobs(this.connection.pool, this.utils);
    this.runner = await run({
      pgPool: this.connection.pool,
      logger: quiet,
      noHandleSignals: true,
      concurrency: 2,
      pollInterval: 1000,
      taskList: { 'write-frame': (payload) => this.takeFrame(payload as FrameJob) },
    });
  }

  async stop(): Promise<void> {
    await this.runner?.stop();
    await this.utils?.release();
    this.leave?.();
  }

  /** Freezes the recipe and queues every frame. Returns the run's id. */
  async begin(outputId: string, options: { settings?: OutputSettings; overwrite: boolean }): Promise<string> {
    const output = await this.db.selectFrom('outputs').selectAll().where('id', '=', outputId).executeTakeFirst();
    if (!output) throw new RequestError(404, 'This output is no longer in the shot.');
    const shot = await requireShot(this.db, output.shot_id);
    const running = await this.db
      .selectFrom('runs')
      .select('id')
      .where('output_id', '=', outputId)
      .where('state', '=', 'running')
      .executeTakeFirst();
    if (running) throw new RequestError(409, 'This output is being written already; stop that run first.');
    const { document } = await ledgerState(this.db, shot.id);
    const colour = await colourKey(this.db, shot);
    const { rows } = await planOf(this.db, this.colour(colour), shot.id, document, shot.working_space);
    const { width, height } = await readShot(this.db, shot);
    if (!rows.length || !document.entries.length)
      throw new RequestError(400, 'The ledger is empty: there is nothing to write.');
    const settings = options.settings ?? output.settings;
    if (settings.lastFrame < settings.firstFrame) throw new RequestError(400, 'The range runs backwards.');
    const pattern = outputPattern(shot, settings);
    if (!options.overwrite) refuseToReplace(this.places.outputFolder, pattern, settings);
    const recipe: RunRecipe = {
      document,
      workingSpace: shot.working_space,
      viewing: writtenViewing(viewingSchema.parse(shot.viewing), settings),
      colour,
      declared: declaredOf(document, rows),
      rate: shot.rate,
      settings,
      pattern,
      width,
      height,
    };
    const { id } = await this.db
      .insertInto('runs')
      .values({ output_id: outputId, state: 'running', recipe: JSON.stringify(recipe), finished_at: null })
      .returning('id')
      .executeTakeFirstOrThrow();
    const frames = Array.from(
      { length: settings.lastFrame - settings.firstFrame + 1 },
      (_, i) => settings.firstFrame + i,
    );
    await this.db
      .insertInto('run_frames')
      .values(
        frames.map((frame) => ({
          run_id: id,
          frame,
          state: 'waiting' as const,
          message: null,
          milliseconds: null,
          bytes: null,
          read_back: null,
        })),
      )
      .execute();
    for (const frame of frames) await this.utils!.addJob('write-frame', { runId: id, frame }, { maxAttempts: 3 });
    this.changed(shot.id);
    return id;
  }

  /** Stops a run: frames not begun are left out, the frame in hand is finished whole. */
  async cancel(runId: string): Promise<void> {
    const changed = await this.db
      .updateTable('runs')
      .set({ state: 'cancelled', finished_at: new Date() })
      .where('id', '=', runId)
      .where('state', '=', 'running')
      .returning('output_id')
      .executeTakeFirst();
    if (!changed) throw new RequestError(409, 'This run is not being written any more.');
    await this.db
      .updateTable('run_frames')
      .set({ state: 'cancelled' })
      .where('run_id', '=', runId)
      .where('state', '=', 'waiting')
      .execute();
    await this.tell(changed.output_id);
  }

  private async tell(outputId: string): Promise<void> {
    const row = await this.db.selectFrom('outputs').select('shot_id').where('id', '=', outputId).executeTakeFirst();
    if (row) this.changed(row.shot_id);
  }

  private async takeFrame({ runId, frame }: FrameJob): Promise<void> {
    const found = await this.db
      .selectFrom('run_frames as f')
      .innerJoin('runs', 'runs.id', 'f.run_id')
      .innerJoin('outputs', 'outputs.id', 'runs.output_id')
      .where('f.run_id', '=', runId)
      .where('f.frame', '=', frame)
      .select(['f.state', 'runs.state as run_state', 'runs.recipe', 'runs.output_id', 'outputs.shot_id'])
      .executeTakeFirst();
    // A frame that stands as being written here was in the hands of a process that died: it is begun again.
    if (!found || !['waiting', 'writing'].includes(found.state) || found.run_state !== 'running') return;
    const { numUpdatedRows } = await this.db
      .updateTable('run_frames')
      .set({ state: 'writing' })
      .where('run_id', '=', runId)
      .where('frame', '=', frame)
      .where('state', 'in', ['waiting', 'writing'])
      .executeTakeFirst();
    if (!numUpdatedRows) return;
    const { recipe } = found;
    const result = await this.write(found.shot_id, runId, recipe, frame).catch((error: Error) => error);
    const failed = result instanceof Error;
    await this.db
      .updateTable('run_frames')
      .set({
        state: failed ? 'failed' : 'done',
        message: failed ? result.message : null,
        milliseconds: failed ? null : result.milliseconds,
        bytes: failed ? null : result.bytes,
        read_back: failed ? null : JSON.stringify(result.readBack),
      })
      .where('run_id', '=', runId)
      .where('frame', '=', frame)
      .execute();
    await this.finishIfLast(runId);
    await this.tell(found.output_id);
  }

  private async write(shotId: string, runId: string, recipe: RunRecipe, frame: number) {
    const key = recipe.colour ?? builtinColour;
    const { plan: whole, rows } = await planOf(
      this.db,
      this.colour(key),
      shotId,
      { ...recipe.document, balanceAgainst: undefined },
      recipe.workingSpace,
      recipe.declared,
    );
    const files = await frameFiles(this.media, whole, rows, frame);
    return this.pool.run('writeOneFrame', {
      plan: whole,
      files,
      workingSpace: recipe.workingSpace,
      viewing: recipe.viewing,
      colour: { key, folder: this.places.libraryFolder },
      rate: recipe.rate,
      settings: recipe.settings,
      width: recipe.width,
      height: recipe.height,
      path: outputPath(this.places.outputFolder, recipe.pattern, frame),
      // The pictures of the first frame stand for the run.
      pictures: frame === recipe.settings.firstFrame ? join(this.places.proofFolder, runId) : undefined,
    });
  }

  private colour(key: ColourKey): ShotColour {
    return colourOf({ key, folder: this.places.libraryFolder });
  }

  private async finishIfLast(runId: string): Promise<void> {
    const states = await this.db
      .selectFrom('run_frames')
      .select('state')
      .distinct()
      .where('run_id', '=', runId)
      .execute();
    const some = (state: string) => states.some((s) => s.state === state);
    if (some('waiting') || some('writing')) return;
    await this.db
      .updateTable('runs')
      .set({ state: some('failed') ? 'failed' : 'done', finished_at: new Date() })
      .where('id', '=', runId)
      .where('state', '=', 'running')
      .execute();
  }
}

/** Replacing files is explicit. */
function refuseToReplace(folder: string, pattern: string, settings: OutputSettings): void {
  for (let frame = settings.firstFrame; frame <= settings.lastFrame; frame++) {
    const path = outputPath(folder, pattern, frame);
    if (existsSync(path))
      throw new RequestError(409, `${path.split('/').at(-1)} is already there; say that files may be replaced.`);
  }
}
