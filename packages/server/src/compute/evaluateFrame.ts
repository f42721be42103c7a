import {
  evaluate,
  Heap,
  kernels,
  summarise,
  type InputPlanes,
  type LedgerSummary,
  type Plan,
  type Quad,
} from '@june-haze/core';
import { missingSentence, readPasses } from './readPasses.ts';

/** Where each source's frame lies: its file and what errors call it. */
export type FrameFiles = Readonly<Record<string, { path: string; name: string }>>;

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

/** Reads a plan's inputs for one frame, whole. Rejects with a sentence when a frame is missing or not whole. */
export async function readInputs(
  plan: Plan,
  files: FrameFiles,
): Promise<{ inputs: InputPlanes[]; width: number; height: number }> {
  const inputs: InputPlanes[] = [];
  let [width, height] = [0, 0];
  for (const input of plan.inputs) {
    const { path, name } = files[input.sourceId]!;
    const read = await readPasses({ path, name, part: input.part, channels: input.colour, data: false, level: 0 });
    if (read.missing.length) throw new Error(missingSentence(name, read.missing));
    if (width && (read.width !== width || read.rows !== height)) {
      throw new Error(
        `${name} is ${read.width}×${read.rows}, the shot ${width}×${height}: passes of one ledger must have one size.`,
      );
    }
    [width, height] = [read.width, read.rows];
    const alpha =
      input.alpha &&
      (await readPasses({ path, name, part: input.alpha.part, channels: [input.alpha.channel], data: true, level: 0 }));
    inputs.push({
      colour: read.planes as unknown as InputPlanes['colour'],
      ...(alpha ? { alpha: alpha.planes[0] } : {}),
    });
  }
  return { inputs, width, height };
}

/** Evaluates one frame; `onBand` gets each finished band. */
export async function evaluateFrame(
  plan: Plan,
  files: FrameFiles,
  statistics: boolean,
  size: { width: number; height: number },
  onBand: (row: number, rows: number, total: Quad, heap: Heap, width: number) => void,
): Promise<EvaluatedFrame> {
  const read = await readInputs(plan, files);
  // A ledger of fills alone has no size of its own: it takes the shot's.
  const [width, height] = [read.width || size.width, read.height || size.height];
  const rows = evaluate(plan, threadHeap(), {
    width,
    rows: height,
    inputs: read.inputs,
    statistics,
    onBand: (row, count, total, h) => onBand(row, count, total, h, width),
  });
  return { width, height, summary: rows && summarise(plan, [rows]) };
}
