import { mkdir, rename, rm, stat } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { FileStore } from '@tus/file-store';
import { Server } from '@tus/server';
import type { UploadHashes, UploadPlan } from '@june-haze/contract';
import { kindOfName, isShown } from '@june-haze/files';
import type { ComputePool } from '../compute/pool.ts';
import type { Db } from '../database/connect.ts';
import { RequestError } from '../errors.ts';
import { requireShot } from '../shots/shotRows.ts';

/** The media folder that dropped files go to, by its outside name. */
export const uploadsPlace = 'uploads';
/** No single file beyond this. */
const largestFile = 512 * 2 ** 30;
/** Pieces that never became whole are thrown away after a week. */
const patience = 7 * 24 * 3600 * 1000;

/**
 * A path within the uploads that a browser named: every segment must be a plain name. Throws a 400 RequestError that names it otherwise.
 */
export function safePath(path: string): string {
  const segments = path.split('/');
  const plain = segments.every((s) => s !== '' && !/^\.|[\\\0]|^\s|\s$/.test(s) && s.length <= 200);
  if (!plain || segments.length > 12)
    throw new RequestError(400, `"${path.slice(0, 200)}" is not taken as a file's name.`);
  return segments.join('/');
}

/** A shot's own folder of a batch within the uploads: no drop reaches what was dropped on another shot. */
export const batchPlace = (shotId: string, batch: string): string => `${shotId}/${safePath(batch)}`;

/** Which files of a plan are not in the uploads, and which are there in the same size; other kinds of files are neither asked for nor taken. */
export async function lackingFiles(
  folder: string,
  { shot, batch, files }: UploadPlan,
): Promise<{ lacking: string[]; alike: string[] }> {
  const lacking: string[] = [];
  const alike: string[] = [];
  for (const { path, size } of files) {
    const name = safePath(path);
    if (!kindOfName(name) || !name.split('/').every(isShown)) continue;
    const there = await stat(join(folder, batchPlace(shot, batch), name)).catch(() => undefined);
    (there?.size === size ? alike : lacking).push(path);
  }
  return { lacking, alike };
}

/** Which files hold something else than what lies in the uploads under their name; hashed on worker threads. */
export async function otherFiles(
  pool: ComputePool,
  folder: string,
  { shot, batch, files }: UploadHashes,
): Promise<string[]> {
  const place = join(folder, batchPlace(shot, batch));
  const found = await Promise.all(files.map(({ path }) => pool.run('hashFile', { path: join(place, safePath(path)) })));
  return files.filter(({ hash }, i) => found[i] !== hash).map(({ path }) => path);
}

/**
 * Resumable uploads (tus protocol 1.0): pieces gather in a folder of their own; a file that is whole is moved to its place in one step, so
 * that no half of one is ever seen. Metadata: `shot`, `batch` and `path`. Pieces that nobody goes on with are thrown away after a week.
 */
export function uploadServer(db: Db, uploadFolder: string, pieceFolder: string): Server {
  const target = (metadata: Readonly<Record<string, string | null>> | undefined): string => {
    const path = safePath(metadata?.path ?? '');
    if (!kindOfName(path)) throw new RequestError(400, `${path}: files of this kind are not brought in.`);
    return join(uploadFolder, batchPlace(metadata?.shot ?? '', metadata?.batch ?? ''), path);
  };
  return new Server({
    path: '/api/files',
    relativeLocation: true,
    maxSize: largestFile,
    datastore: new FileStore({ directory: pieceFolder, expirationPeriodInMilliseconds: patience }),
    onUploadCreate: async (_request, upload) => {
      try {
        await requireShot(db, upload.metadata?.shot ?? '');
        target(upload.metadata);
      } catch (error) {
        if (!(error instanceof RequestError)) throw error;
        // The protocol's library answers with what is thrown in this form.
        throw { status_code: error.status, body: error.message };
      }
      return {};
    },
    onUploadFinish: async (_request, upload) => {
      const place = target(upload.metadata);
      await mkdir(dirname(place), { recursive: true });
      await rename(join(pieceFolder, upload.id), place);
      // Nothing of it stays among the pieces.
      await rm(join(pieceFolder, `${upload.id}.json`), { force: true });
      return {};
    },
  });
}
