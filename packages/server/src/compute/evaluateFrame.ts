import { Heap, kernels, type LedgerSummary, type Plan, type Quad, type Size } from '@june-haze/core';
import { blackPart, decodedPart, evaluateStrips, openExrPart, type OpenPart } from '@june-haze/files';
import type { FrameFile } from '../intake/frameFiles.ts';
import { decodePicture } from './decodePicture.ts';

/** Where each source's frame lies: by source, then by part. */
export type FrameFiles = Readonly<Record<string, Readonly<Record<number, FrameFile>>>>;

export interface EvaluatedFrame {
  readonly width: number;
  readonly height: number;
  readonly summary: LedgerSummary | undefined;
}

let heap: Heap | undefined;
/** This thread's heap; allocations are released by whoever makes them. */
export function threadHeap(): Heap {
  heap ??= new Heap(kernels());
  return heap;
}

/** Opens a part of a frame's file: an EXR by rows, other pictures whole; black where the frame is to be left black. */
export async function openFramePart(file: FrameFile, part: number): Promise<OpenPart> {
  if (file.black) return blackPart(file.name, file);
  if (file.kind === 'exr') return openExrPart(file.path, file.name, part - file.firstPart);
  return decodedPart(file.name, await decodePicture(file));
}

/** Evaluates one frame strip by strip; `onBand` gets each finished band. */
export async function evaluateFrame(
  plan: Plan,
  files: FrameFiles,
  statistics: boolean,
  size: Size,
  onBand: (row: number, rows: number, total: Quad, heap: Heap, width: number) => void,
): Promise<EvaluatedFrame> {
  const summary = await evaluateStrips({
    plan,
    heap: threadHeap(),
    size,
    statistics,
    open: (sourceId, part) => openFramePart(files[sourceId]![part]!, part),
    onBand: (row, rows, total, heap) => onBand(row, rows, total, heap, size.width),
  });
  return { ...size, summary };
}
