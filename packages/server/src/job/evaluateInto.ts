import {
  bending,
  changeColour,
  prepareSteps,
  recodeSteps,
  type ColourStep,
  type Heap,
  type Plan,
  type Quad,
} from '@june-haze/core';
import { evaluateStrips } from '@june-haze/files';
import type { JobOutput } from '@june-haze/contract';
import { threadHeap } from '../compute/evaluateFrame.ts';
import { openJobPart } from './jobFiles.ts';
import { displayCodesOf } from './jobOutput.ts';
import type { OpenedJob } from './openJob.ts';

/** Steps from the working space to an output's numbers. */
export function outputSteps(opened: OpenedJob, { kind, space, codes }: JobOutput): readonly ColourStep[] {
  const { job, colour } = opened;
  if (kind === 'aces') return colour.conversion(job.working, 'ACES2065-1');
  if (space !== null) return colour.conversion(job.working, space);
  const own = displayCodesOf(opened);
  return [...colour.view(job.working, job.viewing!), ...(codes && own ? recodeSteps(own, codes) : [])];
}

/** A frame of a job, and the way to the numbers that its file holds. */
export interface JobFrame {
  readonly opened: OpenedJob;
  readonly plan: Plan;
  readonly frame: number;
  readonly steps: readonly ColourStep[];
}

/** How alpha counts on the way: colour stays premultiplied, is divided by it, or lies over black as if there were none. */
export type AlphaWay = 'premultiplied' | 'straight' | 'over black';

/** Evaluates a frame into an output's numbers. Rows come in order. */
export async function evaluateInto(
  { opened, plan, frame, steps }: JobFrame,
  way: AlphaWay,
  onBand: (row: number, rows: number, quad: Quad, heap: Heap) => void,
  onStrip?: (top: number, end: number) => Promise<void>,
): Promise<void> {
  const heap = threadHeap();
  const mark = heap.mark();
  const process = prepareSteps(steps, heap);
  const { width } = opened.size;
  const how = { alpha: plan.hasAlpha && way !== 'over black', isStraight: false, bends: bending(steps) };
  try {
    await evaluateStrips({
      plan,
      heap,
      size: opened.size,
      open: (name, part) =>
        openJobPart(
          opened.sources.find((s) => s.name === name)!,
          part,
          frame,
        ),
      onBand: (row, rows, quad) => {
        const n = rows * width;
        if (way === 'straight' && plan.hasAlpha) {
          for (let c = 0; c < 3; c++) heap.kernels.dividePlanes(quad[c]!, quad[3], n);
          process(quad[0], quad[1], quad[2], n);
        } else changeColour(heap, quad, n, how, () => process(quad[0], quad[1], quad[2], n));
        onBand(row, rows, quad, heap);
      },
      ...(onStrip ? { onStrip } : {}),
    });
  } finally {
    heap.release(mark);
  }
}
