import { setTimeout as wait } from 'node:timers/promises';

/** Codes of a connection that is gone or refused, and of PostgreSQL stopping or starting (its manual, appendix A, classes 08 and 57P). */
const outageCodes = /^(ECONN|EPIPE|ETIMEDOUT|ENOTFOUND|EHOSTUNREACH|08|57P0)/;
const outageWords =
  /connection terminated|terminating connection|timeout exceeded when trying to connect|client has encountered/i;

/** Whether an error says that the database is away, not that a request to it was wrong. */
export function isOutage(error: unknown): boolean {
  if (!(error instanceof Error)) return false;
  const { code } = error as { code?: unknown };
  if (error instanceof AggregateError) return error.errors.some(isOutage);
  return (typeof code === 'string' && outageCodes.test(code)) || outageWords.test(error.message);
}

/** Does something that must not be lost, again and again while the database is away. Other errors are thrown, and the last when `given up`. */
export async function untilKept<T>(task: () => Promise<T>, givenUp: () => boolean, milliseconds = 500): Promise<T> {
  for (;;) {
    try {
      return await task();
    } catch (error) {
      if (!isOutage(error) || givenUp()) throw error;
      await wait(milliseconds);
    }
  }
}
