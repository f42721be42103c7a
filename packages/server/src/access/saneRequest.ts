import type { RequestHandler } from 'express';
import { RequestError } from '../errors.ts';

/** Subtotals within subtotals, and everything else that nests, go no deeper. */
const deepest = 48;

/** Why a body cannot be taken at all; walked without recursion, since it may be nested as deep as its size allows. */
function faultOf(body: unknown): string | undefined {
  const waiting: [unknown, number][] = [[body, 0]];
  for (let next = waiting.pop(); next; next = waiting.pop()) {
    const [value, depth] = next;
    if (typeof value === 'string' && value.includes('\0'))
      return 'A text holds a character that no text can hold (NUL).';
    if (typeof value !== 'object' || value === null) continue;
    if (depth >= deepest)
      return `What is nested deeper than ${deepest} levels is not taken: subtotals within subtotals.`;
    for (const [key, inner] of Object.entries(value)) waiting.push([key, depth], [inner, depth + 1]);
  }
  return undefined;
}

/** Refuses texts with NUL, which PostgreSQL keeps none of, and bodies that are nested without end. */
export const saneRequest: RequestHandler = (request, _response, next) => {
  if (/%00/.test(request.url)) throw new RequestError(400, 'A text holds a character that no text can hold (NUL).');
  const fault = faultOf(request.body);
  if (fault !== undefined) throw new RequestError(400, fault);
  next();
};
