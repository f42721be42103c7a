import type { Compression, Plan, Size } from '@june-haze/core';
import { evaluateStrips, LossMeter, type PackingLoss } from '@june-haze/files';
import { openFramePart, threadHeap, type FrameFiles } from './evaluateFrame.ts';

export interface LossTask extends Size {
  readonly plan: Plan;
  readonly files: FrameFiles;
  readonly compression: Compression;
  readonly half: boolean;
}

/** What a packing takes from a frame of a total: strip by strip, so that memory stays bounded. */
export async function packingLossOf({ plan, files, width, height, compression, half }: LossTask): Promise<PackingLoss> {
  const [r, g, b] = plan.luminance;
  const meter = new LossMeter(width, compression, half, [r, g, b]);
  let rows: Float32Array[][] = [[], [], []];
  await evaluateStrips({
    plan,
    heap: threadHeap(),
    size: { width, height },
    open: (sourceId, part) => openFramePart(files[sourceId]![part]!, part),
    onBand: (_row, count, quad, heap) => rows.forEach((of, c) => of.push(heap.floats(quad[c]!, count * width).slice())),
    onStrip: async () => {
      await meter.add(rows.map(joined));
      rows = [[], [], []];
    },
  });
  return meter.loss;
}

function joined(pieces: readonly Float32Array[]): Float32Array {
  const all = new Float32Array(pieces.reduce((n, p) => n + p.length, 0));
  let at = 0;
  for (const piece of pieces) {
    all.set(piece, at);
    at += piece.length;
  }
  return all;
}
