import { beforehand } from '../start/beforehand.ts';

/** The worker that keeps the stream of events for all tabs; what it says waits in its port until somebody listens. */
export const eventWorkers = beforehand(() =>
  typeof SharedWorker === 'undefined'
    ? undefined
    : new SharedWorker(new URL('./eventWorker.ts', import.meta.url), { type: 'module', name: 'june events' }),
);
