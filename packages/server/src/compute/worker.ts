import type { Plan } from '@june-haze/core';
import { evaluateFrame, type FrameFiles } from './evaluateFrame.ts';
import { inspect } from './inspect.ts';
import { readPasses, type ChannelRequest } from './readPasses.ts';
import { thumbnail, type ThumbnailTask } from './thumbnail.ts';
import { writeFrame, type WriteTask } from './writeFrame.ts';

export interface BalanceTask {
  readonly plan: Plan;
  readonly files: FrameFiles;
  readonly width: number;
  readonly height: number;
}

/** The pool's tasks, by name: what `compute/pool.ts` calls from the main thread. */
export const inspectFile = (task: { path: string; name: string }) => inspect(task.path, task.name);
export const makeThumbnail = (task: ThumbnailTask) => thumbnail(task);
export const writeOneFrame = (task: WriteTask) => writeFrame(task);

export async function balanceFrame(task: BalanceTask) {
  const { summary } = await evaluateFrame(task.plan, task.files, true, task, () => undefined);
  return summary!;
}

/** Planes one after the other as bytes, in their own sample type. */
export async function readPlanes(task: ChannelRequest) {
  const read = await readPasses(task);
  const length = read.planes.reduce((n, p) => n + p.byteLength, 0);
  // Shared memory: handing it to the main thread copies nothing.
  const bytes = new Uint8Array(new SharedArrayBuffer(length));
  let at = 0;
  for (const p of read.planes) {
    bytes.set(new Uint8Array(p.buffer, p.byteOffset, p.byteLength), at);
    at += p.byteLength;
  }
  const types = read.planes.map((p) =>
    p instanceof Uint16Array ? 'half' : p instanceof Float32Array ? 'float' : 'uint',
  );
  return { width: read.width, rows: read.rows, missing: read.missing, types, bytes: bytes.buffer };
}
