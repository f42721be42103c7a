import {
  completeWhole,
  evaluate,
  gather,
  Heap,
  kernels,
  prepareClipCount,
  prepareSteps,
  type Evaluation,
  type InputPlanes,
  type Plane,
  type Quad,
  type ShotColour,
  type WholePicture,
} from '@june-haze/core';
import { loadColour } from '../api/colour.ts';
import { KeptPieces } from './keptPieces.ts';
import { probe } from './probe.ts';
import { takeBlocks } from './takeBlocks.ts';
import type { Answer, FromWorker, PictureJob, Share, Task, ToWorker } from './messages.ts';

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

const placeOf = (job: PictureJob): Omit<Evaluation, 'onBand' | 'firstRow' | 'rows'> => ({
  width: job.width,
  height: job.height,
  level: job.level,
  inputs: inputsOf(job),
  whole: job.whole,
});

const viewOf = ({ colour: key, workingSpace, viewing }: PictureJob, colour: ShotColour) =>
  keptPieces.prepareView(JSON.stringify([key, workingSpace, viewing]), (into) => ({
    run: prepareSteps(colour.view(workingSpace, viewing), into),
    countClipped: prepareClipCount(colour.lookSteps(workingSpace, viewing), into),
  }));

async function picture(job: PictureJob, share: Share, shared: Uint8Array | undefined): Promise<Answer> {
  const colour = await loadColour(job.colour);
  const { plan, width, height } = job;
  const { run: view, countClipped } = viewOf(job, colour);
  keptPieces.begin(job);
  const place = placeOf(job);
  const blocks: { top: number; rgba: Uint8Array }[] = [];
  let clipped = countClipped ? 0 : undefined;
  takeBlocks(height, share, (top, end) => {
    const keeping = keptPieces.of(job, place, top, end);
    const mark = heap.mark();
    const rgba = shared?.subarray(top * width * 4, end * width * 4) ?? new Uint8Array((end - top) * width * 4);
    if (!shared) blocks.push({ top, rgba });
    const onBand = (row: number, count: number, total: Quad, h: Heap) => {
      const n = count * width;
      if (countClipped) clipped! += countCopy(countClipped, total, n, h);
      if (job.show === 'difference') amplify(total, n, h);
      else if (job.channel === 'alpha') for (let c = 0; c < 3; c++) h.floats(total[c]!, n).set(h.floats(total[3], n));
      else view(total[0], total[1], total[2], n);
      const inner = h.mark();
      const codes = h.allocate(n * 4);
      h.kernels.packCodes(total[0], total[1], total[2], codes, n);
      const target = rgba.subarray(row * width * 4, row * width * 4 + n * 4);
      target.set(h.bytes(codes, n * 4));
      h.release(inner);
      if (job.show !== 'difference') solo(target, job);
    };
    evaluate(plan, heap, { ...place, ...keeping, firstRow: top, rows: end - top, onBand });
    heap.release(mark);
  });
  return { kind: 'picture', blocks, keptBytes: keptPieces.bytes, ...(clipped === undefined ? {} : { clipped }) };
}

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

/** Counts what a look cuts off on copies of the total's planes. */
function countCopy(
  countCuts: (r: number, g: number, b: number, n: number) => number,
  total: Quad,
  n: number,
  h: Heap,
): number {
  const mark = h.mark();
  const copies = [0, 1, 2].map((c) => {
    const at = h.allocatePlane(n);
    h.floats(at, n).set(h.floats(total[c]!, n));
    return at;
  }) as [number, number, number];
  const counted = countCuts(...copies, n);
  h.release(mark);
  return counted;
}

/** Shows a difference of one hundredth as white. */
function amplify(total: Quad, n: number, h: Heap): void {
  for (const p of total.slice(0, 3)) {
    const plane = h.floats(p, n);
    for (let i = 0; i < n; i++) plane[i] = Math.abs(plane[i]!) * 100;
  }
}

function solo(rgba: Uint8Array, { channel, plan }: PictureJob): void {
  if (channel === 'colour' || channel === 'alpha') return;
  const weights = plan.luminance;
  const index = { red: 0, green: 1, blue: 2, luminance: -1 }[channel];
  for (let i = 0; i < rgba.length; i += 4) {
    const v =
      index < 0 ? weights[0] * rgba[i]! + weights[1] * rgba[i + 1]! + weights[2] * rgba[i + 2]! : rgba[i + index]!;
    rgba[i] = rgba[i + 1] = rgba[i + 2] = v;
  }
}

async function answer(task: Task): Promise<Answer> {
  switch (task.kind) {
    case 'picture':
      return picture(task.job, task.share, task.rgba);
    case 'gather':
      return gatherBlocks(task.job, task.share, task.node, task.into);
    case 'complete':
      completeWhole(task.job.plan, heap, task.node, task.into, task.job.level);
      return { kind: 'complete', into: task.into };
    case 'count':
      return count(task.job, task.top, task.end);
    case 'probe': {
      const { run: view } = viewOf(task.job, await loadColour(task.job.colour));
      return { kind: 'probe', probe: probe(task.job, placeOf(task.job), heap, view, task.x, task.y) };
    }
  }
}

/** Tasks follow each other: one that waits for colours keeps its place, and nothing else lies in the heap meanwhile. */
let last = Promise.resolve();

self.onmessage = ({ data }: MessageEvent<ToWorker>) => {
  if (data.kind === 'hold') for (const [key, plane] of data.planes) held.set(key, plane);
  else if (data.kind === 'drop') for (const key of data.keys) held.delete(key);
  else
    last = last
      .then(() => answer(data))
      .catch((error: unknown): Answer => ({
        kind: 'error',
        message: error instanceof Error ? error.message : String(error),
      }))
      .then((said) => self.postMessage({ ...said, id: data.id } satisfies FromWorker));
};
