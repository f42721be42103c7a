import {
  bending,
  changeColour,
  prepareSteps,
  recodeSteps,
  takeSamples,
  type ColourStep,
  type Plan,
} from '@june-haze/core';
import { evaluateStrips } from '@june-haze/files';
import type { JobOutput } from '@june-haze/contract';
import { threadHeap } from '../compute/evaluateFrame.ts';
import { inBands, isResized, resizedTotal, type OnBand } from '../compute/resizedTotal.ts';
import { openJobPart } from './jobFiles.ts';
import { displayCodesOf, sizeOfJobOutput } from './jobOutput.ts';
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
  readonly output: JobOutput;
  readonly plan: Plan;
  readonly frame: number;
  readonly steps: readonly ColourStep[];
}

/** How alpha counts on the way: colour stays premultiplied, is divided by it, or lies over black as if there were none. */
export type AlphaWay = 'premultiplied' | 'straight' | 'over black';

/** Evaluates a frame into an output's numbers. Rows come in order. */
export async function evaluateInto(
  { opened, output, plan, frame, steps }: JobFrame,
  way: AlphaWay,
  onBand: OnBand,
  onStrip?: (top: number, end: number) => Promise<void>,
): Promise<void> {
  const heap = threadHeap();
  const mark = heap.mark();
  const process = prepareSteps(steps, heap);
  const size = sizeOfJobOutput(opened, output);
  const how = { alpha: plan.hasAlpha && way !== 'over black', isStraight: false, bends: bending(steps) };
  const coded: OnBand = (row, rows, quad) => {
    const n = rows * size.width;
    if (way === 'straight' && plan.hasAlpha) {
      for (let c = 0; c < 3; c++) heap.kernels.dividePlanes(quad[c]!, quad[3], n);
      process(quad[0], quad[1], quad[2], n);
    } else changeColour(heap, quad, n, how, () => process(quad[0], quad[1], quad[2], n));
    onBand(row, rows, quad, heap);
  };
  const open = openPartOf(opened, frame);
  const evaluate = (band: OnBand, strip = onStrip) =>
    evaluateStrips({
      plan,
      heap,
      size: opened.size,
      open,
      onBand: (row, rows, quad) => band(row, rows, quad, heap),
      ...(strip ? { onStrip: strip } : {}),
    });
  try {
    if (!isResized(size, opened.size)) await evaluate(coded);
    else {
      const total = await resizedTotal(opened.size, size, (band) => evaluate(band, async () => {}));
      await inBands(heap, total, size, coded, onStrip);
    }
  } finally {
    heap.release(mark);
  }
}

/** A matte of a job as halves: its plan's total is the matte in red. */
export async function matteOfJob(opened: OpenedJob, plan: Plan, frame: number): Promise<Uint16Array> {
  const { width, height } = opened.size;
  const plane = new Uint16Array(width * height);
  await evaluateStrips({
    plan,
    heap: threadHeap(),
    size: opened.size,
    open: openPartOf(opened, frame),
    onBand: (row, rows, [red], heap) => {
      plane.set(takeSamples(red, rows * width, 'half', heap) as Uint16Array, row * width);
    },
  });
  return plane;
}

/** Opens parts of a job's sources for a frame. */
export const openPartOf =
  ({ sources }: OpenedJob, frame: number) =>
  (name: string, part: number) =>
    openJobPart(
      sources.find((s) => s.name === name)!,
      part,
      frame,
    );
