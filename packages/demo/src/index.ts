export { renderFrame, type FramePlanes } from './tern/frame.ts';
export { saveApproved, saveFrame } from './tern/save.ts';
export { makeFrame, type FrameTask } from './tern/worker.ts';
