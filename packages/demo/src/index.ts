export { renderFrame, type FramePlanes } from './tern/frame.ts';
export { saveApproved, saveFrame } from './tern/save.ts';
export { makeFrame } from './tern/worker.ts';
export type { FrameTask } from './shots/task.ts';
