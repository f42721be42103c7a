import { rm } from 'node:fs/promises';
import { hostname } from 'node:os';
import { join } from 'node:path';
import type { Logger } from 'graphile-worker';
import { framePlace, type FramesAside } from '@june-haze/files';
import { builtinColour, timecodeOfFrame, type ColourKey } from '@june-haze/core';
import {
  countOfFrames,
  fileOfFrame,
  filesOfFrame,
  isOneFile,
  outputSettingsSchema,
  placeOfFrame,
  timecodeFrame,
  sizeOfOutput,
  type Accepted,
  type OutputSettings,
  type ServerEvent,
  type TriedFrame,
  type TryFrame,
} from '@june-haze/contract';
import { assembleFrames } from '../compute/assembleFrames.ts';
import type { ComputePool } from '../compute/pool.ts';
import type { Connection, Db } from '../database/connect.ts';
import { isOutage, untilKept } from '../database/outage.ts';
import type { RunRecipe } from '../database/tables.ts';
import { RequestError } from '../errors.ts';
import type { MediaFolders } from '../media/mediaFolders.ts';
import type { ColourPlace } from '../library/store.ts';
import { filesInTheWay, namedShot, nameClash } from '../shots/outputs.ts';
import { frameFiles, planOf } from '../shots/plan.ts';
import { requireShot } from '../shots/shotRows.ts';
import { runProof } from '../shots/shots.ts';
import { makeRecipe, type PlanPlaces } from './makeRecipe.ts';
import { passesOfFrame } from './passesOfFrame.ts';
import { changeRun, type RunChange } from './changeRun.ts';
import { assembleTask, endRun, enqueueRun, reconcileRuns } from './enqueue.ts';
import { endAssembled, framesAside, removeFramesOf, runningRecipe, sweepFrames } from './assembledRuns.ts';
import type { RunPlaces } from './runPlaces.ts';
import { triedFolder, tryFrames } from './tryFrames.ts';
import { keepPictures, unchangedFrames } from './unchangedFrames.ts';
import { wholeRecipe } from './wholeRecipe.ts';
import { calmPulse, Queue, type Pulse } from './queue.ts';

/** Where a frame goes, and its pictures. */
interface FramePlace {
  readonly path: string;
  /** All files of the frame, where it is several. */
  readonly files: readonly string[];
  readonly pictures: string | undefined;
}

/** This process, as pages name it. */
const thisProcess = `${hostname()} ${process.pid}`;

interface BeginOptions {
  /** Others than the output's own. */
  readonly settings?: OutputSettings;
  readonly overwrite: boolean;
  /** What somebody accepted of the list before writing. */
  readonly accepted?: readonly Accepted[];
}

interface FrameJob {
  readonly runId: string;
  readonly frame: number;
}

/**
 * Runs: each frame is a job on the queue, so that any process with the same database and folders may take it. The tables say what is done;
 * jobs only call for it, and are held against the tables again and again. A frame's result is stored once, when its file is whole and read
 * back.
 */
export class Runs {
  private readonly connection: Connection;
  private readonly pool: ComputePool;
  private readonly media: MediaFolders;
  private readonly places: RunPlaces;
  private readonly tell: (event: ServerEvent) => void;
  private readonly queue: Queue;
  private readonly pulse: Pulse;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private stopped = false;

  constructor(
    connection: Connection,
    pool: ComputePool,
    media: MediaFolders,
    places: RunPlaces,
    tell: (event: ServerEvent) => void,
    logger: Logger,
    pulse: Pulse = calmPulse,
  ) {
    this.connection = connection;
    this.pool = pool;
    this.media = media;
    this.places = places;
    this.tell = tell;
    this.pulse = pulse;
    const tasks = {
      'write-frame': (job: FrameJob) => this.takeFrame(job),
      [assembleTask]: ({ runId }: { runId: string }) => this.takeAssembled(runId),
    };
    this.queue = new Queue(connection.pool, logger, tasks, pulse, pool.threads);
  }

  private get planPlaces(): PlanPlaces {
    return { db: this.db, pool: this.pool, media: this.media, libraryFolder: this.places.libraryFolder };
  }

  private get db(): Db {
    return this.connection.db;
  }

  /** Starts taking jobs, and holds runs against their jobs from now on. */
  async start(): Promise<void> {
    await this.queue.start();
    await this.reconcile();
    await this.kept(() => sweepFrames(this.db, this.places.outputFolder));
    const next = () => {
      if (this.stopped) return;
      this.timer = setTimeout(() => void this.reconcile().then(next), this.pulse.silence);
      this.timer.unref();
    };
    next();
  }

  async stop(): Promise<void> {
    this.stopped = true;
    clearTimeout(this.timer);
    await this.queue.stop();
  }

  private async reconcile(): Promise<void> {
    try {
      for (const runId of await reconcileRuns(this.db)) await this.tellOf(runId);
    } catch (error) {
      // While the database is away there is nothing to hold against; the next round comes.
      if (!isOutage(error)) console.error('runs could not be looked through:', error);
    }
  }

  /** Freezes the recipe and queues every frame. Returns the run's id. */
  async begin(outputId: string, options: BeginOptions): Promise<string> {
    const { output, shot } = await this.outputOf(outputId);
    const settings = options.settings ?? output.settings;
    const recipe = await makeRecipe(this.planPlaces, shot, settings);
    const clash = await nameClash(this.db, namedShot(shot, recipe), { id: outputId, settings });
    if (clash !== undefined) throw new RequestError(409, clash);
    if (!options.overwrite) refuseToReplace(this.places.outputFolder, recipe.pattern, settings);
    const unchanged = await unchangedFrames({ db: this.db, pool: this.pool, places: this.places }, outputId, recipe);
    const id = await enqueueRun(this.db, outputId, { ...recipe, accepted: [...(options.accepted ?? [])] }, unchanged);
    if (unchanged?.frames.includes(settings.firstFrame)) await keepPictures(this.places, unchanged.runId, id);
    // What earlier runs left half done is not taken up any more.
    if (isOneFile(settings)) await removeFramesOf(this.db, this.places.outputFolder, outputId, id);
    this.tell({ kind: 'shot', shotId: shot.id });
    return id;
  }

  /** Writes one frame aside as a run would, of what becomes one file some; see `tryFrames`. */
  async tryFrames(outputId: string, tried: TryFrame): Promise<TriedFrame> {
    const { output, shot } = await this.outputOf(outputId);
    const writers = {
      recipe: (range: object) => makeRecipe(this.planPlaces, shot, { ...output.settings, ...range }),
      write: (recipe: RunRecipe, frame: number, place: FramePlace) => this.write(shot.id, recipe, frame, place),
      assemble: this.assemble.bind(this),
    };
    return tryFrames(writers, triedFolder(this.places, outputId), tried);
  }

  private async outputOf(id: string) {
    const found = await this.db.selectFrom('outputs').selectAll().where('id', '=', id).executeTakeFirst();
    if (!found) throw new RequestError(404, 'This output is no longer in the shot.');
    // Settings that are younger than the output have their usual values.
    const output = { ...found, settings: outputSettingsSchema.parse(found.settings) };
    return { output, shot: await requireShot(this.db, output.shot_id) };
  }

  /** Stops, pauses or takes up a run again; frames in hand are finished whole. Throws a 409 RequestError where it stands otherwise. */
  async change(runId: string, to: RunChange): Promise<void> {
    await changeRun(this.db, runId, to);
    await this.tellOf(runId);
  }

  /** Says that a run's shot is another. */
  private async tellOf(runId: string): Promise<void> {
    const row = await this.db
      .selectFrom('runs')
      .innerJoin('outputs', 'outputs.id', 'runs.output_id')
      .select('outputs.shot_id')
      .where('runs.id', '=', runId)
      .executeTakeFirst();
    if (row) this.tell({ kind: 'shot', shotId: row.shot_id });
  }

  private kept<T>(task: () => Promise<T>): Promise<T> {
    return untilKept(task, () => this.stopped);
  }

  private async takeFrame({ runId, frame }: FrameJob): Promise<void> {
    const found = await this.kept(() => this.begun(runId, frame));
    if (!found) return;
    const { recipe } = found;
    const place = {
      path: isOneFile(recipe.settings)
        ? framePlace(framesAside(this.places.outputFolder, recipe, runId), placeOfFrame(recipe.settings, frame))
        : join(this.places.outputFolder, fileOfFrame(recipe, frame)),
      files: filesOfFrame(recipe, frame).map((f) => join(this.places.outputFolder, f)),
      // The pictures of the first frame stand for the run.
      pictures: frame === recipe.settings.firstFrame ? join(this.places.proofFolder, runId) : undefined,
    };
    const result = await this.write(found.shot_id, recipe, frame, place).catch((error: Error) => error);
    const failed = result instanceof Error;
    const done = {
      state: failed ? ('failed' as const) : ('done' as const),
      message: failed ? result.message : null,
      milliseconds: failed ? null : result.milliseconds,
      bytes: failed ? null : result.bytes,
    };
    const readBack = failed ? null : result.readBack;
    const written = failed ? null : result.written;
    // Written is written: the result waits for a database that is away.
    const ended = await this.kept(() =>
      this.db.transaction().execute(async (t) => {
        // One frame of a run after the other: of two that end at once, neither would see the other done, and nobody would end the run.
        await t.selectFrom('runs').select('id').where('id', '=', runId).forUpdate().execute();
        const { numUpdatedRows } = await t
          .updateTable('run_frames')
          .set({
            ...done,
            read_back: readBack && JSON.stringify(readBack),
            written: written && JSON.stringify(written),
            replaced: false,
          })
          .where('run_id', '=', runId)
          .where('frame', '=', frame)
          .where('take', '=', found.take)
          .where('state', '=', 'writing')
          .executeTakeFirst();
        return numUpdatedRows ? endRun(t, runId) : undefined;
      }),
    );
    if (ended === undefined) return;
    if (ended) await this.kept(() => this.tellOf(runId));
    else {
      const proof = await this.kept(() => runProof(this.db, runId));
      this.tell({
        kind: 'frame',
        shotId: found.shot_id,
        runId,
        frame: { frame, ...done, readBack, by: thisProcess },
        proof,
      });
    }
  }

  /** Marks a frame as being written by this take of it; undefined when there is nothing to write. */
  private begun(runId: string, frame: number) {
    return this.db.transaction().execute(async (t) => {
      const found = await t
        .selectFrom('runs')
        .innerJoin('outputs', 'outputs.id', 'runs.output_id')
        .where('runs.id', '=', runId)
        .where('runs.state', '=', 'running')
        .select(['runs.recipe', 'outputs.shot_id'])
        .executeTakeFirst();
      if (!found) return undefined;
      // A frame that stands as being written here was in the hands of a process that died: it is begun again.
      const taken = await t
        .updateTable('run_frames')
        .set((eb) => ({ state: 'writing' as const, take: eb('take', '+', 1), taken_by: thisProcess }))
        .where('run_id', '=', runId)
        .where('frame', '=', frame)
        .where('state', 'in', ['waiting', 'writing'])
        .returning('take')
        .executeTakeFirst();
      return taken && { ...found, recipe: wholeRecipe(found.recipe), take: taken.take };
    });
  }

  /** Puts a run's one file together of its frames, and ends the run. */
  private async takeAssembled(runId: string): Promise<void> {
    const recipe = await this.kept(() => runningRecipe(this.db, runId));
    if (!recipe) return;
    const frames = framesAside(this.places.outputFolder, recipe, runId);
    const path = join(this.places.outputFolder, recipe.pattern);
    const place = { frames, path, pictures: join(this.places.proofFolder, runId) };
    const result = await this.assemble(recipe, place).catch((error: Error) => error);
    const ended = await this.kept(() => endAssembled(this.db, runId, recipe, result));
    // Frames of what failed are kept: it may be put together again.
    if (ended && !(result instanceof Error)) await rm(frames.folder, { recursive: true, force: true });
    if (ended) await this.kept(() => this.tellOf(runId));
  }

  private assemble(
    { settings, viewing, colour, rate, ...shot }: RunRecipe,
    place: { readonly frames: FramesAside; readonly path: string; readonly pictures: string },
  ) {
    return assembleFrames(this.pool, {
      settings,
      rate,
      timecode: timecodeOfFrame(timecodeFrame(settings, rate, settings.firstFrame), rate),
      words: settings,
      frames: { ...place.frames, count: countOfFrames(settings) },
      path: place.path,
      viewing,
      colour: this.colour(colour ?? builtinColour),
      ...sizeOfOutput(settings, shot),
      picturesFolder: place.pictures,
    });
  }

  private async write(shotId: string, recipe: RunRecipe, frame: number, { files: paths, ...place }: FramePlace) {
    const key = recipe.colour ?? builtinColour;
    const document = { ...recipe.document, balanceAgainst: undefined };
    const { plan: whole, rows } = await this.kept(() =>
      planOf(this.db, this.pool, this.colour(key), shotId, document, recipe.workingSpace, {
        declared: recipe.declared,
        frame,
        size: { width: recipe.width, height: recipe.height },
      }),
    );
    const files = await frameFiles(this.media, whole, rows, frame);
    const { settings } = recipe;
    const passes =
      settings.kind === 'passes'
        ? await this.kept(() => passesOfFrame(this.planPlaces, shotId, recipe, rows, frame, paths))
        : undefined;
    return this.pool.run('writeOneFrame', {
      plan: whole,
      files,
      workingSpace: recipe.workingSpace,
      viewing: recipe.viewing,
      colour: this.colour(key),
      rate: recipe.rate,
      timecode: timecodeFrame(recipe.settings, recipe.rate, frame),
      seed: frame,
      settings,
      width: recipe.width,
      height: recipe.height,
      ...(passes ? { passes } : {}),
      ...place,
    });
  }

  private colour(key: ColourKey): ColourPlace {
    return { key, folder: this.places.libraryFolder };
  }
}

/** Replacing files is explicit. */
function refuseToReplace(folder: string, pattern: string, settings: OutputSettings): void {
  const [first] = filesInTheWay(folder, pattern, settings);
  if (first !== undefined) throw new RequestError(409, `${first} is already there; say that files may be replaced.`);
}
