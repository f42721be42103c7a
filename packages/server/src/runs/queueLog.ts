import { appendFileSync, mkdirSync, renameSync, statSync } from 'node:fs';
import { dirname } from 'node:path';
import { Logger } from 'graphile-worker';

/** A log that is longer is put aside, and the one before it thrown away. */
const longest = 4 << 20;

/** The queue's own words, all but its chatter, kept in a file: what happened to a frame's job can be read afterwards. */
export function queueLogger(file: string): Logger {
  mkdirSync(dirname(file), { recursive: true });
  return new Logger((scope) => (level, message) => {
    if (level === 'debug') return;
    const who = [scope.workerId, scope.taskIdentifier, scope.jobId].filter((w) => w !== undefined).join(' ');
    try {
      if ((statSync(file, { throwIfNoEntry: false })?.size ?? 0) > longest) renameSync(file, `${file}.before`);
      appendFileSync(file, `${new Date().toISOString()} ${level} ${who} ${message.replace(/\s*\n\s*/g, ' | ')}\n`);
    } catch {
      // A full disk must not stop the work that would make it known.
    }
  });
}
