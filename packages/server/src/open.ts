import { mkdir, stat } from 'node:fs/promises';
import { availableParallelism } from 'node:os';
import { basename, dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { ServerEvent } from '@june-haze/contract';
import { removeAbandoned } from '@june-haze/files';
import { ComputePool } from './compute/pool.ts';
import { connect, type Connection } from './database/connect.ts';
import { Notices } from './database/notices.ts';
import { Checks } from './intake/checks.ts';
import { uploadsPlace } from './intake/uploads.ts';
import { MediaFolders } from './media/mediaFolders.ts';
import { queueLogger } from './runs/queueLog.ts';
import type { RunPlaces } from './runs/runPlaces.ts';
import { Runs } from './runs/runs.ts';

export interface Settings {
  readonly databaseUrl: string;
  /** Folders to bring material from; the first also gets the demo. */
  readonly mediaFolders: readonly string[];
  readonly outputFolder: string;
  readonly dataFolder: string;
  /** Compute threads, and frames that are written at once; as many as there are processors when left out. */
  readonly threads?: number;
}

/** Settings from the environment, as the start command and the tests give them. */
export function settingsFromEnvironment(env: NodeJS.ProcessEnv): Settings {
  const need = (name: string) => {
    const value = env[name];
    if (!value) throw new Error(`The environment lacks ${name}; start June Haze with "npm start".`);
    return value;
  };
  return {
    databaseUrl: need('JUNE_DATABASE'),
    mediaFolders: need('JUNE_MEDIA').split(':'),
    outputFolder: need('JUNE_OUTPUT'),
    dataFolder: need('JUNE_DATA'),
    ...(env.JUNE_THREADS ? { threads: wholeThreads(env.JUNE_THREADS) } : {}),
  };
}

/** A number of threads as somebody wrote it. Throws a sentence for what is none. */
function wholeThreads(words: string): number {
  const threads = Number(words);
  if (!Number.isInteger(threads) || threads < 1 || threads > 256)
    throw new Error(`JUNE_THREADS is a whole number from 1 to 256, and not "${words}".`);
  return threads;
}

export interface Engine {
  readonly connection: Connection;
  readonly pool: ComputePool;
  readonly media: MediaFolders;
  readonly runs: Runs;
  readonly checks: Checks;
  readonly places: RunPlaces;
  readonly notices: Notices;
  close(): Promise<void>;
}

/**
 * Everything but HTTP: the database, the worker threads, the media folders and the queue. What happens is told to `tell` and to the other
 * processes. Throws a sentence for a media folder that is not there.
 */
export async function openEngine(settings: Settings, tell: (event: ServerEvent) => void): Promise<Engine> {
  const [own, ...others] = settings.mediaFolders;
  await Promise.all([own!, settings.outputFolder].map((f) => mkdir(f, { recursive: true })));
  for (const folder of others)
    if (!(await stat(folder).catch(() => undefined))?.isDirectory())
      throw new Error(`The media folder ${folder} does not exist; make it, or take it out of JUNE_MEDIA.`);
  for (const folder of [settings.outputFolder, settings.dataFolder]) await removeAbandoned(folder);
  // Each frame that is written takes a connection now and then, besides what pages and the queue take.
  const connection = await connect(settings.databaseUrl, 8 + (settings.threads ?? availableParallelism()));
  const notices = new Notices(connection.pool, settings.databaseUrl);
  const tellAll = (event: ServerEvent) => {
    tell(event);
    notices.tell(event);
  };
  const changed = (shotId: string) => tellAll({ kind: 'shot', shotId });
  const threads = join(dirname(fileURLToPath(import.meta.url)), 'server-worker.mjs');
  const pool = new ComputePool(threads, settings.threads);
  // Looking through files takes long: pictures that somebody waits for go first.
  const background = new ComputePool(threads, undefined, { yields: true });
  const uploadFolder = join(settings.dataFolder, uploadsPlace);
  await mkdir(join(uploadFolder, '.pieces'), { recursive: true });
  // What was written can be brought in again.
  const roots = [...settings.mediaFolders, settings.outputFolder, uploadFolder];
  const media = new MediaFolders(roots, (task) => pool.run('walkMaterial', task));
  const places = {
    outputFolder: settings.outputFolder,
    proofFolder: join(settings.dataFolder, 'proofs'),
    libraryFolder: join(settings.dataFolder, 'library'),
    uploadFolder,
  };
  const log = queueLogger(join(settings.dataFolder, 'log/queue.log'));
  const runs = new Runs(connection, pool, media, places, tellAll, log);
  await runs.start();
  const checks = new Checks({
    db: connection.db,
    pool: background,
    media,
    libraryFolder: places.libraryFolder,
    changed,
  });
  return {
    connection,
    pool,
    media,
    runs,
    checks,
    places,
    notices,
    async close() {
      await checks.stop();
      await runs.stop();
      await notices.stop();
      await Promise.all([pool.close(), background.close()]);
      await connection.close();
    },
  };
}

export const demoPlace = (settings: Settings) => basename(settings.mediaFolders[0]!);
