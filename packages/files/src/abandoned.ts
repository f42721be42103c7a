import { readdir, rm, stat } from 'node:fs/promises';
import { hostname } from 'node:os';
import { join } from 'node:path';

/** This machine, as temporary names have it. */
const machine = hostname().replace(/[^\w]/g, '');
/** What another machine left is its own to remove, until it is so old that nobody writes it any more. */
const oldest = 24 * 3600 * 1000;

/** The hidden name of a file that is being written: it says by which process of which machine. */
export const temporaryName = (name: string): string => `.${name}.${machine}-${process.pid}.${Date.now()}.part`;
const temporary = /^\..+\.(\w*)-(\d+)\.(\d+)\.part$/;

function isAlive(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'EPERM';
  }
}

/** Removes what killed processes left half-written below a folder; returns how many files that were. */
export async function removeAbandoned(folder: string): Promise<number> {
  const started = Date.now() - process.uptime() * 1000;
  let removed = 0;
  const entries = await readdir(folder, { withFileTypes: true }).catch(() => []);
  for (const entry of entries) {
    const path = join(folder, entry.name);
    if (entry.isDirectory()) {
      removed += await removeAbandoned(path);
      continue;
    }
    const [, where, pid, time] = temporary.exec(entry.name) ?? [];
    if (where === undefined) continue;
    // A number is given again: what is older than this process was not written by it.
    const dead = where === machine && (Number(pid) === process.pid ? Number(time) < started : !isAlive(Number(pid)));
    const age = Date.now() - ((await stat(path).catch(() => undefined))?.mtimeMs ?? Date.now());
    if (!dead && age < oldest) continue;
    await rm(path, { force: true });
    removed++;
  }
  return removed;
}
