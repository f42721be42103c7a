import { existsSync, readFileSync } from 'node:fs';
import { freemem, totalmem } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { acceptSchema, outputSettingsSchema } from '@june-haze/contract';
import { beginChecked, openEngine, settingsFromEnvironment, type Engine } from '@june-haze/server';

/** The running application leaves its settings in var/running.json; the environment goes before it. */
function environment(): NodeJS.ProcessEnv {
  const file = join(dirname(fileURLToPath(import.meta.url)), '../var/running.json');
  const left = existsSync(file) ? (JSON.parse(readFileSync(file, 'utf8')) as Record<string, string>) : {};
  const env = { ...left, ...process.env };
  if (!env.JUNE_DATABASE)
    throw new Error(
      'No database is up: start June Haze with "npm start", or give JUNE_DATABASE, JUNE_MEDIA, JUNE_OUTPUT and JUNE_DATA.',
    );
  return env;
}

export async function withEngine(use: (engine: Engine) => Promise<void>): Promise<void> {
  const engine = await openEngine(settingsFromEnvironment(environment()), () => undefined);
  try {
    await use(engine);
  } finally {
    await engine.close();
  }
}

interface RenderOptions {
  output: string;
  frames?: string;
  overwrite?: boolean;
  accept?: string;
}

/**
 * Begins a run and takes frames until it is finished; a running server shares the work. What the page wants accepted has to be accepted here too.
 */
export async function render(shotName: string, options: RenderOptions): Promise<void> {
  await withEngine(async ({ connection, pool, runs, places }) => {
    const { db } = connection;
    const shot = await db
      .selectFrom('shots')
      .select(['id', 'name'])
      .where('name', 'ilike', shotName)
      .executeTakeFirst();
    if (!shot) throw new Error(`There is no shot named "${shotName}" on the shelf.`);
    const outputs = await db.selectFrom('outputs').selectAll().where('shot_id', '=', shot.id).execute();
    const output = outputs.find((o) => o.settings.name.toLowerCase() === options.output.toLowerCase());
    if (!output)
      throw new Error(
        `Shot ${shot.name} has no output named "${options.output}"; it has ${outputs.map((o) => o.settings.name).join(', ') || 'none'}.`,
      );
    const range = /^(\d+)(?:-(\d+))?$/.exec(options.frames ?? '');
    if (options.frames && !range) throw new Error(`"${options.frames}" is no range of frames; write 1001-1024.`);
    const frames = range && { firstFrame: Number(range[1]), lastFrame: Number(range[2] ?? range[1]) };
    if (!outputSettingsSchema.safeParse({ ...output.settings, ...frames }).success)
      throw new Error(`Frames ${options.frames} cannot be written: they go from 0 to 9999999.`);
    const reason = acceptSchema.shape.reason.safeParse(options.accept ?? null);
    if (!reason.success) throw new Error('Say in a few words why it may be so: --accept "the plate is a stand-in".');
    const runId = await beginChecked({ db, pool, runs, places }, output.id, {
      overwrite: options.overwrite === true,
      ...(frames ? { range: frames } : {}),
      ...(reason.data === null ? {} : { reason: reason.data }),
    });
    for (let shown = -1; ;) {
      const run = await db.selectFrom('runs').select('state').where('id', '=', runId).executeTakeFirstOrThrow();
      const frames = await db
        .selectFrom('run_frames')
        .selectAll()
        .where('run_id', '=', runId)
        .orderBy('frame')
        .execute();
      const finished = frames.filter((f) => f.state !== 'waiting' && f.state !== 'writing').length;
      if (finished !== shown) process.stderr.write(`${finished} of ${frames.length} frames\n`);
      shown = finished;
      if (run.state !== 'running') {
        const pattern = (await db.selectFrom('runs').select('recipe').where('id', '=', runId).executeTakeFirstOrThrow())
          .recipe.pattern;
        const list = frames.map((f) => ({
          frame: f.frame,
          state: f.state,
          message: f.message,
          proved: f.read_back?.proved ?? null,
        }));
        process.stdout.write(
          `${JSON.stringify({ state: run.state, pattern: join(places.outputFolder, pattern), frames: list })}\n`,
        );
        if (run.state !== 'done')
          throw new Error(frames.find((f) => f.message)?.message ?? `the run was ${run.state}.`);
        return;
      }
      await new Promise((resume) => setTimeout(resume, 200));
    }
  });
}

export async function worker({ threads }: { threads?: string } = {}): Promise<void> {
  if (threads !== undefined) process.env.JUNE_THREADS = threads;
  await withEngine(async ({ pool }) => {
    const count = `${pool.threads} ${pool.threads === 1 ? 'thread' : 'threads'}`;
    const gigabytes = (bytes: number) => (bytes / 1e9).toFixed(1);
    process.stderr.write(
      `taking frames with ${count}, ${gigabytes(freemem())} of ${gigabytes(totalmem())} GB of memory free; stop with Ctrl-C\n`,
    );
    await new Promise<void>((resume) => {
      process.once('SIGINT', resume);
      process.once('SIGTERM', resume);
    });
  });
}
