import { problemSchema } from '@june-haze/contract';
import type { z } from 'zod';
import { takeBegun } from './begunRequests.ts';

/** What the server refused, in its own sentence. */
export class ApiProblem extends Error {
  readonly status: number;
  constructor(status: number, message: string) {
    super(message);
    this.name = 'ApiProblem';
    this.status = status;
  }
}

export async function failure(response: Response): Promise<ApiProblem> {
  const body = problemSchema.safeParse(await response.json().catch(() => undefined));
  return new ApiProblem(response.status, body.success ? body.data.error : `The server answered ${response.status}.`);
}

/** One request to the API; the answer is checked against its schema. */
export async function request<T>(schema: z.ZodType<T>, path: string, method = 'GET', body?: unknown): Promise<T> {
  const response = await send(path, method, body);
  return schema.parse(await response.json());
}

/** A request whose answer has no body. */
export async function send(path: string, method: string, body?: unknown, signal?: AbortSignal): Promise<Response> {
  const begun = method === 'GET' ? takeBegun(path) : undefined;
  const response = await (
    begun ??
    fetch(`/api${path}`, {
      method,
      ...(signal ? { signal } : {}),
      ...(body === undefined ? {} : { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }),
    })
  ).catch(() => {
    throw new ApiProblem(0, 'The server does not answer; start June Haze again with "npm start".');
  });
  if (!response.ok) throw await failure(response);
  return response;
}
