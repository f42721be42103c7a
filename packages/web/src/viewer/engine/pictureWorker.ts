import {
  completeWhole,
  countDifferences,
  drawDifference,
  evaluate,
  gather,
  Heap,
  kernels,
  noDifferences,
  type InputPlanes,
  type Plane,
  type PreparedProcessor,
  type WholePicture,
} from '@june-haze/core';
import { loadColour } from '../../api/colour.ts';
import { drawBlocks, prepareView, type Place } from './drawBlocks.ts';
import { KeptPieces } from './keptPieces.ts';
import { probe } from './probe.ts';
import { takeBlocks } from './takeBlocks.ts';
import type { Answer, CompareTask, FromWorker, PictureJob, Share, Task, ToWorker } from './messages.ts';

const heap = new Heap(kernels());
const keptPieces = new KeptPieces(heap);
const held = new Map<string, Plane>();

/** The planes of a plan's inputs; all of them were told to be held before. */
function inputsOf({ inputs }: PictureJob): InputPlanes[] {
  const plane = (key: string) => {
    const found = held.get(key);
    if (!found)
      throw new Error(
        'A pass that the picture is made of is not there any more; it is asked for again with the next picture.',
      );
    return found;
  };
  return inputs.map(({ colour, alpha, window, data }) => ({
    colour: colour.map(plane) as unknown as InputPlanes['colour'],
    ...(alpha === undefined ? {} : { alpha: plane(alpha) }),
    window,
    data,
  }));
}

const placeOf = (job: PictureJob): Place => ({
  width: job.width,
  height: job.height,
  level: job.level,
  inputs: inputsOf(job),
  whole: job.whole,
});

/** Adds up what a node looks at, block by block: into planes that are shared, or into these. */
function gatherBlocks(job: PictureJob, share: Share, node: number, into: WholePicture): Answer {
  keptPieces.begin(job);
  const place = placeOf(job);
  takeBlocks(job.height, share, (top, end) => {
    const before = { ...job, plan: { ...job.plan, nodes: job.plan.nodes.slice(0, node + 1) } };
    const keeping = keptPieces.of(before, place, top, end);
    gather(job.plan, heap, { ...place, ...keeping, firstRow: top, rows: end - top }, node, into);
  });
  return { kind: 'gather', into };
}

/** What is counted over some rows: shares, balance, colours that tables cut off. */
function count(job: PictureJob, top: number, end: number): Answer {
  const rows = { firstRow: top, rows: end - top };
  const statistics = evaluate(job.plan, heap, { ...placeOf(job), ...rows, statistics: true, onBand: () => undefined });
  return { kind: 'count', statistics: statistics! };
}

/** Rows of two pictures, drawn as their difference, counted, or both. */
function compare({ a, b, width, encoding, way, region }: CompareTask): Answer {
  const rgba = way && new Uint8Array(a.length);
  if (rgba) drawDifference(a, b, rgba, way, encoding);
  const counts = region && noDifferences();
  if (counts) countDifferences(a, b, width, encoding, region, counts);
  return { kind: 'compare', ...(rgba ? { rgba } : {}), ...(counts ? { counts } : {}) };
}

async function answer(task: Task): Promise<Answer> {
  switch (task.kind) {
    case 'picture': {
      const { job, share, rgba } = task;
      const colour = await loadColour(job.colour);
      return drawBlocks(job, share, rgba, { heap, kept: keptPieces, colour, place: placeOf(job) });
    }
    case 'compare':
      return compare(task);
    case 'gather':
      return gatherBlocks(task.job, task.share, task.node, task.into);
    case 'complete':
      completeWhole(task.job.plan, heap, task.node, task.into, task.job.level);
      return { kind: 'complete', into: task.into };
    case 'count':
      return count(task.job, task.top, task.end);
    case 'sample': {
      const shown = task.shown && prepareView(task.job, await loadColour(task.job.colour), keptPieces);
      return sample(task.job, shown ? shown.run : undefined);
    }
    case 'probe': {
      const { run: view } = prepareView(task.job, await loadColour(task.job.colour), keptPieces);
      return { kind: 'probe', probe: probe(task.job, placeOf(task.job), heap, view, task.region) };
    }
  }
}

/** A picture's numbers, all rows; with a view, its codes. */
function sample(job: PictureJob, view: PreparedProcessor | undefined): Answer {
  const { width, height } = job;
  const planes = view ? [] : [0, 1, 2, 3].map(() => new Float32Array(width * height));
  const rgba = view && new Uint8ClampedArray(4 * width * height);
  evaluate(job.plan, heap, {
    ...placeOf(job),
    firstRow: 0,
    rows: height,
    onBand: (row, rows, total, h) => {
      const n = rows * width;
      planes.forEach((plane, c) => plane.set(h.floats(total[c]!, n), row * width));
      if (!rgba || !view) return;
      view(total[0], total[1], total[2], n);
      const at = h.allocate(4 * n);
      h.kernels.packCodes(total[0], total[1], total[2], at, n);
      rgba.set(h.bytes(at, 4 * n), 4 * row * width);
    },
  });
  return { kind: 'sample', sample: { width, height, planes, ...(rgba ? { rgba } : {}) } };
}

/** What goes to the page without being copied. */
const handedOver = (said: Answer): ArrayBuffer[] =>
  said.kind === 'picture' && said.scopes
    ? Object.values(said.scopes).map((counts: Uint32Array<ArrayBuffer>) => counts.buffer)
    : [];

/** Tasks follow each other: one that waits for colours keeps its place, and nothing else lies in the heap meanwhile. */
let last = Promise.resolve();

self.onmessage = ({ data }: MessageEvent<ToWorker>) => {
  if (data.kind === 'hold') for (const [key, plane] of data.planes) held.set(key, plane);
  else if (data.kind === 'drop') for (const key of data.keys) held.delete(key);
  else
    last = last
      .then(() => answer(data))
      .catch((error: unknown): Answer => {
        // What was under way lies in the heap, half made.
        keptPieces.reset();
        return { kind: 'error', message: error instanceof Error ? error.message : String(error) };
      })
      .then((said) => self.postMessage({ ...said, id: data.id } satisfies FromWorker, { transfer: handedOver(said) }));
};
