import { workersBeforehand } from '../../start/beforehand.ts';

/** As many as the machine has processors, within reason. */
export const pictureWorkerCount = (): number => Math.min(8, Math.max(2, navigator.hardwareConcurrency));

export const pictureWorkers = workersBeforehand(
  () => new Worker(new URL('./pictureWorker.ts', import.meta.url), { type: 'module' }),
);
export const planesWorkers = workersBeforehand(
  () => new Worker(new URL('./planesWorker.ts', import.meta.url), { type: 'module' }),
);
