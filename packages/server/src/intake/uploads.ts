import { mkdir, rename, stat } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { FileStore } from '@tus/file-store';
import { Server } from '@tus/server';
import type { UploadPlan } from '@june-haze/contract';
import { kindOfName, isShown } from '@june-haze/files';
import { RequestError } from '../errors.ts';

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

/** Which files of a plan are not in the uploads whole; files of other kinds are neither asked for nor taken. */
export async function lackingFiles(folder: string, { batch, files }: UploadPlan): Promise<string[]> {
  const lacking: string[] = [];
  for (const { path, size } of files) {
    const name = safePath(path);
    if (!kindOfName(name) || !name.split('/').every(isShown)) continue;
    const there = await stat(join(folder, safePath(batch), name)).catch(() => undefined);
    if (!there || there.size !== size) lacking.push(path);
  }
  return lacking;
}

/**
 * Resumable uploads (tus protocol 1.0): pieces gather in a folder of their own; a file that is whole is moved to its place in one step, so
 * that no half of one is ever seen. Metadata: `batch` and `path`.
 */
export function uploadServer(uploadFolder: string, pieceFolder: string): Server {
  const target = (metadata: Readonly<Record<string, string | null>> | undefined): string => {
    const path = safePath(`${metadata?.batch ?? ''}/${metadata?.path ?? ''}`);
    if (!kindOfName(path)) throw new RequestError(400, `${path}: files of this kind are not brought in.`);
    return join(uploadFolder, path);
  };
  return new Server({
    path: '/api/files',
    relativeLocation: true,
    maxSize: largestFile,
    datastore: new FileStore({ directory: pieceFolder, expirationPeriodInMilliseconds: patience }),
    onUploadCreate: (_request, upload) => {
      try {
        target(upload.metadata);
      } catch (error) {
        // The protocol's library answers with what is thrown in this form.
        throw { status_code: 400, body: (error as Error).message };
      }
      return Promise.resolve({});
    },
    onUploadFinish: async (_request, upload) => {
      const place = target(upload.metadata);
      await mkdir(dirname(place), { recursive: true });
      await rename(join(pieceFolder, upload.id), place);
      return {};
    },
  });
}
