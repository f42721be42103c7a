import { parentPort } from 'node:worker_threads';
import { makeKettle } from '../shots/kettle.ts';
import { makeLanding } from '../shots/landing.ts';
import { makeLastBoat } from '../shots/lastBoat.ts';
import type { FrameTask } from '../shots/task.ts';

const makers = { landing: makeLanding, kettle: makeKettle, lastboat: makeLastBoat };

/** Traces and saves one frame of a shot. */
export const makeFrame = (task: FrameTask): Promise<void> => makers[task.shot](task);

parentPort?.on('message', (task: FrameTask) => {
  makeFrame(task).then(
    () => parentPort!.postMessage({ frame: task.frame }),
    (error: Error) => parentPort!.postMessage({ frame: task.frame, error: error.message }),
  );
});
