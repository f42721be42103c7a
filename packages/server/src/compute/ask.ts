import { RequestError } from '../errors.ts';
import type { Answered } from './colourTasks.ts';
import type { ComputePool } from './pool.ts';

/** Where tasks are run: the pool's threads, or this one in a test. */
export type TaskRunner = Pick<ComputePool, 'run'>;

/** The value of an answer; a refusal becomes a 400 RequestError with its sentence. */
export function granted<T>(answer: Answered<T>): T {
  if ('refused' in answer) throw new RequestError(400, answer.refused);
  return answer.value;
}
