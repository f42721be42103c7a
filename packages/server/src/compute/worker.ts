import {
  halvePlane,
  inOnePiece,
  packBand,
  type BandToPack,
  type PackedBand,
  type Plan,
  type Plane,
} from '@june-haze/core';
import {
  contentPrint,
  findChanged,
  findRepeats,
  lookAtFiles,
  measureSource,
  stateOf,
  zlibCodec,
  type FileToLookAt,
  type FrameFileSize,
  type KnownFile,
} from '@june-haze/files';
import { isWorkerThread, move, transferableSymbol, valueSymbol } from 'piscina';
import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { constants, setPriority } from 'node:os';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import type { FrameFile } from '../intake/frameFiles.ts';
import { examine } from '../library/examine.ts';
import type { Kept } from '../library/items.ts';
import { findConfigs, keepLying } from '../library/foundConfigs.ts';
import { storeBundle } from '../library/store.ts';
import { walkForMaterial, type WalkTask } from '../media/mediaFolders.ts';
import { evaluateFrame, type FrameFiles } from './evaluateFrame.ts';
import { decodePictureShared } from './decodePicture.ts';
import { decodeBand, type BandTask } from './decodeBand.ts';
import type { SharedPlane } from './decodedPart.ts';
import { yieldingThread } from './yielding.ts';
import { thumbnail, type ThumbnailTask } from './thumbnail.ts';
import { writeFrame } from './writeFrame.ts';
import type { WriteTask } from './writeTask.ts';

// Of the calling thread alone: that is what 0 means on Linux. Not the lowest: beside a renderer that takes every processor, that would leave it
// 1.5 % of one, and a check would seem to stand still; this leaves it a tenth.
if (process.env[yieldingThread]) setPriority(0, constants.priority.PRIORITY_BELOW_NORMAL);

export interface BalanceTask {
  readonly plan: Plan;
  readonly files: FrameFiles;
  readonly width: number;
  readonly height: number;
}

/** The pool's tasks, by name: what `compute/pool.ts` calls from the main thread. */
export const lookAtSome = (files: readonly FileToLookAt[]) => lookAtFiles(files);
export const findChangedFiles = (task: { folder: string; files: readonly KnownFile[] }) =>
  findChanged(task.folder, task.files);
/** What is kept of files below a folder to know them again, in order. */
export async function printFiles(task: { folder: string; files: readonly { file: string; bytes: number }[] }) {
  const prints: { changedAt: number | null; print: string | null }[] = [];
  for (const { file, bytes } of task.files) {
    const path = join(task.folder, file);
    const changedAt = (await stateOf(path))?.changedAt ?? null;
    prints.push({ changedAt, print: (await contentPrint(path, bytes)) ?? null });
  }
  return prints;
}
/** Frames of a member whose files below a folder hold the same bytes. */
export const findRepeatedFrames = (task: { folder: string; files: readonly FrameFileSize[] }) =>
  findRepeats(task.files, (file) => Promise.resolve(join(task.folder, file)));
/** SHA-256 of a whole file, in hexadecimal digits; undefined when it cannot be read. */
export const hashFile = ({ path }: { path: string }): Promise<string | undefined> =>
  pipeline(createReadStream(path), async (chunks) => {
    const hash = createHash('sha256');
    for await (const chunk of chunks) hash.update(chunk as Buffer);
    return hash.digest('hex');
  }).catch(() => undefined);
export const walkMaterial = (task: WalkTask) => walkForMaterial(task);
export const decodePictures = (task: { file: FrameFile; count: number }) => decodePictureShared(task);

/** Measures the pixels of one frame of a source whose files lie below a folder. */
export const measureOne = (task: { source: Parameters<typeof measureSource>[0]; frame: number; folder: string }) =>
  measureSource(task.source, task.frame, (file) => Promise.resolve(join(task.folder, file)));
export const makeThumbnail = (task: ThumbnailTask) => thumbnail(task);
export const writeOneFrame = (task: WriteTask) => writeFrame(task);

export { encodeMovieFile, proveMovieFrames } from './movieTasks.ts';
export { proveSheet, writeSheetFile } from './sheetTasks.ts';
export { writtenFile } from './writeFrame.ts';
export { tryLedger } from './tryLedger.ts';
export { packingLossOf } from './packingLossOf.ts';
export { findBalanceFaults } from './sampleParts.ts';

export async function balanceFrame(task: BalanceTask) {
  const { summary } = await evaluateFrame(task.plan, task.files, true, task, () => undefined);
  return summary!;
}

/** Looks at a dropped config, LUT or CDL, and keeps what it holds in the library folder. */
export async function keepDropped(task: { name: string; path: string; folder: string }): Promise<Kept> {
  const bytes = await readFile(task.path);
  const { kind, facts, use, files } = examine(task.name, bytes);
  return { id: await storeBundle(task.folder, files, { path: task.path, bytes }), kind, facts, use };
}

/** Configs that lie below media folders, and one of them kept. */
export const configsBelow = (task: { path: string }) => findConfigs(task.path);
export const keepConfig = (task: { folder: string; config: string; libraryFolder: string }) =>
  keepLying(task.folder, task.config, task.libraryFolder);

export { compileLedger, knowsSpace, rulesOf, settleColours, writingColours } from './colourTasks.ts';

export { deriveReference, findReference, measureChart, measurePatch, proveReference } from './matchTasks.ts';

export { writeColourPart, writeMatrix, writeViewing } from './lutTasks.ts';

/** Writes one frame of a job file's output. */
export { runJobFrame } from '../job/jobFrameTask.ts';

export const decodeLines = (task: BandTask) => decodeBand(task);

/** Packs some lines of an EXR file; their bytes go over to whoever asked in one piece, without a copy. */
export function packElsewhere(band: BandToPack): PackedBand {
  const joined = inOnePiece(packBand(band, zlibCodec));
  if (!isWorkerThread) return joined;
  return move({ [transferableSymbol]: [joined.pieces[0]!.buffer], [valueSymbol]: joined } as never) as never;
}

/** A plane halved `level` times, in memory that threads share. */
export function reducePlane(task: {
  plane: SharedPlane;
  width: number;
  height: number;
  level: number;
  data: boolean;
}): SharedPlane {
  let { width, height } = task;
  let reduced = task.plane as unknown as Plane;
  for (let l = 0; l < task.level; l++) {
    reduced = halvePlane(reduced, width, height, task.data);
    [width, height] = [Math.ceil(width / 2), Math.ceil(height / 2)];
  }
  const shared = new (task.plane.constructor as Uint16ArrayConstructor)(new SharedArrayBuffer(reduced.byteLength));
  shared.set(reduced);
  return shared;
}
