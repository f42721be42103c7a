import { beginRequest } from '../api/begunRequests.ts';
import { beginUnpacking } from '../api/bundleWorkers.ts';
import { eventWorkers } from '../api/eventWorkers.ts';
import { pictureWorkerCount, pictureWorkers, planesWorkers } from '../viewer/engine/workerStarts.ts';

/**
 * Begins what a page of a shot will ask for while the application itself is still being loaded: the shot, its config, and where a picture is
 * shown at once the workers that make it.
 */
export function begin(path: string): void {
  const [, shot, stage] = /^\/shots\/([^/]+)(?:\/(\w+))?$/.exec(path) ?? [];
  if (shot === undefined) return;
  // What is said of the shot from now on is not missed.
  eventWorkers.begin();
  void beginConfig(beginRequest(`/shots/${shot}`));
  if (stage !== 'match' && stage !== 'build') return;
  planesWorkers.begin();
  for (let i = 0; i < pictureWorkerCount(); i++) pictureWorkers.begin();
}

/** The config that a shot's answer names. What is wrong with the answer is said by whoever reads it. */
async function beginConfig(answer: Promise<Response>): Promise<void> {
  const shot: unknown = await answer.then((a) => a.clone().json()).catch(() => undefined);
  const { config } = (shot as { colour?: { config?: unknown } } | undefined)?.colour ?? {};
  if (typeof config === 'string') beginUnpacking(config);
}
