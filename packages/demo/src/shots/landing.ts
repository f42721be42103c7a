import { join } from 'node:path';
import { renderFrame } from '../tern/frame.ts';
import { saveApproved, saveFrame } from '../tern/save.ts';
import { fourDigits, progressOf, type FrameTask } from './task.ts';

/** The file that stands for a finished frame. */
export const landingFile = (frame: number): string => `landing.${fourDigits(frame)}.exr`;

/** Shot Landing: every pass of a frame in one file, ACEScg; the approved picture with the first frame. */
export async function makeLanding(task: FrameTask): Promise<void> {
  const { folder, frame, first, width, height } = task;
  const planes = renderFrame({ width, height, progress: progressOf(task), seed: frame, side: 3 });
  await saveFrame(folder, landingFile(frame), planes, width, height, 24);
  if (frame === first) await saveApproved(join(folder, 'landing_approved.png'), planes, width, height);
}
