import { createHash } from 'node:crypto';
import { open, stat } from 'node:fs/promises';

/** What a file system says of a file; times in milliseconds since 1970. */
export interface FileState {
  readonly bytes: number;
  /** When its content was written, which a copy may carry over, and when anything of it changed, which none can. */
  readonly modifiedAt: number;
  readonly changedAt: number;
}

/** The state of a file; undefined when it is not there. Reads nothing of it. */
export async function stateOf(path: string): Promise<FileState | undefined> {
  const s = await stat(path).catch(() => undefined);
  return s && { bytes: s.size, modifiedAt: s.mtimeMs, changedAt: s.ctimeMs };
}

/** A file's identity for caches, short and plain: another whenever the file is written, replaced or touched. */
export function identityOfState({ bytes, modifiedAt, changedAt }: FileState): string {
  return [bytes, Math.round(modifiedAt), Math.round(changedAt)].map((n) => n.toString(36)).join('-');
}

const block = 64 * 1024;
/** Places of a file that are hashed, spread over it; so much agreement is no chance. */
const places = 8;

/**
 * A hash over a block at eight places of a file, its end among them, or over all of one that is no larger than that. Cheap at any size;
 * undefined when the file cannot be read.
 */
export async function contentPrint(path: string, bytes: number): Promise<string | undefined> {
  const handle = await open(path, 'r').catch(() => undefined);
  if (!handle) return undefined;
  try {
    const hash = createHash('sha1').update(`${bytes} `);
    const buffer = Buffer.alloc(block);
    const count = bytes <= places * block ? Math.ceil(bytes / block) : places;
    for (let i = 0; i < count; i++) {
      const at = bytes <= places * block ? i * block : Math.round(((bytes - block) * i) / (count - 1));
      const { bytesRead } = await handle.read(buffer, 0, block, at);
      hash.update(buffer.subarray(0, bytesRead));
    }
    return hash.digest('base64url');
  } catch {
    return undefined;
  } finally {
    await handle.close();
  }
}

/** A file as it was when it was looked at. */
export interface KnownFile {
  readonly file: string;
  readonly bytes: number;
  readonly modifiedAt: number;
  readonly changedAt: number | null;
  readonly print: string | null;
}

/** A file that is not what it was: its identity now, or null when it is gone. */
export interface ChangedFile {
  readonly file: string;
  readonly now: string | null;
}

/** File systems keep times in other steps than milliseconds. */
const sameTime = (a: number, b: number) => Math.abs(a - b) < 2;

/**
 * Which of a folder's files are not what they were. Size and time settle most; a file with both the same that was touched since, as one
 * copied over with its old time was, is told by its content.
 */
export async function findChanged(folder: string, known: readonly KnownFile[]): Promise<ChangedFile[]> {
  const changed: ChangedFile[] = [];
  for (const was of known) {
    const path = `${folder}/${was.file}`;
    const now = await stateOf(path);
    if (!now) {
      changed.push({ file: was.file, now: null });
      continue;
    }
    const same = now.bytes === was.bytes && sameTime(now.modifiedAt, was.modifiedAt);
    if (same && (was.changedAt === null || sameTime(now.changedAt, was.changedAt))) continue;
    if (same && was.print !== null && (await contentPrint(path, now.bytes)) === was.print) continue;
    changed.push({ file: was.file, now: identityOfState(now) });
  }
  return changed;
}
