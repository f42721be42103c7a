import { ZodError } from 'zod';
import { isOutage } from './database/outage.ts';

/** The form of every id of the database. */
export const isId = (text: string): boolean => /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/.test(text);

/** An error that reaches the person as one sentence with an HTTP status. */
export class RequestError extends Error {
  readonly status: number;
  constructor(status: number, message: string) {
    super(message);
    this.name = 'RequestError';
    this.status = status;
  }
}

/** What the person is told of any error: an HTTP status and one sentence. */
export function describeError(error: unknown): [number, string] {
  if (error instanceof RequestError) return [error.status, error.message];
  if (error instanceof ZodError) {
    const first = error.issues[0];
    return [400, `${first?.path.join('.') || 'The request'}: ${first?.message ?? 'is not understood.'}`];
  }
  if (isOutage(error))
    return [503, 'The database does not answer; it is tried again by itself, nothing that was kept is lost.'];
  if (error instanceof Error) {
    // Errors from worker threads keep their sentence and stack, not their class or name.
    const kind = /^\w+/.exec(error.stack ?? '')?.[0] ?? error.name;
    if (['ExrError', 'FormatError', 'ForeignFile', 'PlanError', 'ColourFileError', 'UnknownNameError'].includes(kind))
      return [422, error.message];
    const { status, code } = error as { status?: unknown; code?: unknown };
    // PostgreSQL's class 22: a value that cannot be what it stands for (its manual, appendix A).
    if (typeof code === 'string' && /^22[0-9A-Z]{3}$/.test(code))
      return [400, 'A value in the request cannot be what it stands for.'];
    // The file system's own words name places on this machine.
    if (typeof code === 'string' && /^E[A-Z]+$/.test(code) && status === 404) return [404, 'There is no such file.'];
    if (typeof status === 'number' && status >= 400 && status < 500) return [status, error.message];
    return [500, 'Something failed on the server; its log says what.'];
  }
  return [500, 'Something failed on the server; its log says what.'];
}
