import { parentPort } from 'node:worker_threads';
import { join } from 'node:path';
import { renderFrame } from './frame.ts';
import { saveApproved, saveFrame } from './save.ts';

export interface FrameTask {
  readonly folder: string;
  readonly frame: number;
  readonly first: number;
  readonly count: number;
  readonly width: number;
  readonly height: number;
}

/** Traces and saves one frame; also the approved picture with the first. */
export async function makeFrame({ folder, frame, first, count, width, height }: FrameTask): Promise<void> {
  const progress = count > 1 ? (frame - first) / (count - 1) : 0;
  const planes = renderFrame({ width, height, progress, seed: frame, side: 3 });
  await saveFrame(folder, `landing.${String(frame).padStart(4, '0')}.exr`, planes, width, height, 24);
  if (frame === first) await saveApproved(join(folder, 'landing_approved.png'), planes, width, height);
}

parentPort?.on('message', (task: FrameTask) => {
  makeFrame(task).then(
    () => parentPort!.postMessage({ frame: task.frame }),
    (error: Error) => parentPort!.postMessage({ frame: task.frame, error: error.message }),
  );
});
