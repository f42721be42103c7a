import type { ReadBack } from '@june-haze/contract';
import type { WrittenFile } from '../database/tables.ts';
import type { MovieTask } from './movieTasks.ts';
import type { ComputePool } from './pool.ts';

export interface AssembledFile {
  readonly bytes: number;
  readonly milliseconds: number;
  readonly written: WrittenFile;
  /** Of every frame, in order. */
  readonly readBacks: readonly ReadBack[];
}

/** So many frames are proved by one task at most: a thread is free again for others between two. */
const mostFrames = 48;

/** Puts a movie or a contact sheet together of its frames, and proves it. */
export const assembleFrames = (pool: ComputePool, task: MovieTask): Promise<AssembledFile> =>
  task.settings.kind === 'sheet' ? assembleSheet(pool, task) : assembleMovie(pool, task);

async function assembleSheet(pool: ComputePool, task: MovieTask): Promise<AssembledFile> {
  const started = performance.now();
  await pool.run('writeSheetFile', task);
  const readBacks = await pool.run('proveSheet', task);
  const written = await pool.run('writtenFile', task.path);
  return { bytes: written.bytes, milliseconds: performance.now() - started, written, readBacks };
}

/**
 * Puts a movie together of its frames; then threads decode it again by its own tags, each some of its frames, and compare them with what was
 * shown.
 */
async function assembleMovie(pool: ComputePool, task: MovieTask): Promise<AssembledFile> {
  const started = performance.now();
  await pool.run('encodeMovieFile', task);
  const { count } = task.frames;
  const each = Math.min(mostFrames, Math.ceil(count / pool.threads));
  const parts = Array.from({ length: Math.ceil(count / each) }, (_, i) => ({
    first: i * each,
    count: Math.min(each, count - i * each),
  }));
  const readBacks = await Promise.all(parts.map((part) => pool.run('proveMovieFrames', { ...task, ...part })));
  const written = await pool.run('writtenFile', task.path);
  return { bytes: written.bytes, milliseconds: performance.now() - started, written, readBacks: readBacks.flat() };
}
