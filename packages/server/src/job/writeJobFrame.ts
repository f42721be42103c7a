import {
  bending,
  changeColour,
  nameOfFrame,
  prepareSteps,
  takeSamples,
  writeExr,
  type ColourStep,
  type Heap,
  type Plan,
  type PartToWrite,
  type Plane,
  type Quad,
} from '@june-haze/core';
import { encodePngSamples, evaluateStrips, RowStream, writeWhole, zlibCodec } from '@june-haze/files';
import type { JobOutput } from '@june-haze/contract';
import { threadHeap } from '../compute/evaluateFrame.ts';
import { exrTags } from '../compute/exrTags.ts';
import { packSamples } from '../compute/packSamples.ts';
import { openJobPart } from './jobFiles.ts';
import { pngEncoding, type JobWriting } from './jobOutput.ts';
import { jobPlan, type OpenedJob } from './openJob.ts';

/** Writes one frame of an output, whole or not at all. Returns the file. Throws the sentence of what is wrong with the frame. */
export async function writeJobFrame(
  opened: OpenedJob,
  { output, pattern }: JobWriting,
  frame: number,
): Promise<string> {
  const plan = jobPlan(opened, frame);
  const file = nameOfFrame(pattern, frame);
  if (output.kind === 'exr') await writeExrFrame(opened, output, plan, frame, file);
  else await writePngFrame(opened, output, plan, frame, file);
  return file;
}

/** Steps from the working space to an output's numbers. */
function outputSteps({ job, colour }: OpenedJob, { space }: JobOutput): readonly ColourStep[] {
  if (space !== null) return colour.conversion(job.working, space);
  return colour.view(job.working, job.viewing!);
}

interface Frame {
  readonly opened: OpenedJob;
  readonly plan: Plan;
  readonly frame: number;
  readonly steps: readonly ColourStep[];
}

/** Evaluates a frame into an output's numbers; colour is straight or premultiplied as asked. Rows come in order. */
async function evaluateInto(
  { opened, plan, frame, steps }: Frame,
  straight: boolean,
  onBand: (row: number, rows: number, quad: Quad, heap: Heap) => void,
  onStrip?: (top: number, end: number) => Promise<void>,
): Promise<void> {
  const heap = threadHeap();
  const mark = heap.mark();
  const process = prepareSteps(steps, heap);
  const { width } = opened.size;
  const how = { alpha: plan.hasAlpha, isStraight: false, bends: bending(steps) };
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
        if (straight && plan.hasAlpha) {
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

/** An EXR is written while it is evaluated: no more than a strip of it is held. */
async function writeExrFrame(
  opened: OpenedJob,
  output: JobOutput,
  plan: Plan,
  frame: number,
  file: string,
): Promise<void> {
  const { width, height } = opened.size;
  const type = output.sampleType === 'float' ? 'float' : 'half';
  const names = plan.hasAlpha ? ['R', 'G', 'B', 'A'] : ['R', 'G', 'B'];
  const window = { xMin: 0, yMin: 0, xMax: width - 1, yMax: height - 1 };
  const space = output.space ?? `${opened.job.viewing!.display} / ${opened.job.viewing!.view}`;
  const stream = new RowStream<Plane[]>();
  let gathered: { top: number; rows: Plane[][] } = { top: 0, rows: names.map(() => []) };
  const evaluated = evaluateInto(
    { opened, plan, frame, steps: outputSteps(opened, output) },
    false,
    (_row, rows, quad, heap) => {
      names.forEach((_, c) => gathered.rows[c]!.push(takeSamples(quad[c]!, rows * width, type, heap) as Plane));
    },
    async (top, end) => {
      const planes = gathered.rows.map(joined);
      gathered = { top: end, rows: names.map(() => []) };
      await stream.give(top, end, planes);
    },
  ).catch((e: unknown) => {
    stream.fail(e as Error);
    throw e;
  });
  const lines = async (_part: number, top: number, bottom: number): Promise<Plane[]> => {
    const pieces: Plane[][] = names.map(() => []);
    for (let row = top; row <= bottom;) {
      const strip = await stream.at(row);
      const end = Math.min(bottom + 1, strip.end);
      strip.rows.forEach((p, c) =>
        pieces[c]!.push(p.subarray((row - strip.top) * width, (end - strip.top) * width) as Plane),
      );
      row = end;
    }
    return pieces.map(joined);
  };
  const part: PartToWrite = {
    compression: output.compression ?? ('zip' as const),
    dataWindow: window,
    displayWindow: window,
    channels: names.map((name) => ({ name, type })),
    attributes: exrTags(opened.colour, space, opened.job.rate, plan.hasAlpha),
  };
  const writing = writeWhole(file, (sink) => writeExr(sink, [part], lines, zlibCodec)).then(
    () => stream.finish(),
    (e: unknown) => {
      stream.fail(e as Error);
      throw e;
    },
  );
  // The first to fail says why; the other ends because of it.
  const ends = await Promise.allSettled([evaluated, writing]);
  const failed = ends.find((e) => e.status === 'rejected');
  if (failed) throw failed.reason;
}

function joined(pieces: readonly Plane[]): Plane {
  if (pieces.length === 1) return pieces[0]!;
  const n = pieces.reduce((sum, p) => sum + p.length, 0);
  const all = new (pieces[0]!.constructor as new (n: number) => Plane)(n);
  let at = 0;
  for (const p of pieces) {
    all.set(p, at);
    at += p.length;
  }
  return all;
}

/** Codes of 8 or 16 bits, rounded to the nearest; with alpha, colour is straight. */
async function writePngFrame(
  opened: OpenedJob,
  output: JobOutput,
  plan: Plan,
  frame: number,
  file: string,
): Promise<void> {
  const { width, height } = opened.size;
  const channels = plan.hasAlpha ? 4 : 3;
  const deep = output.sampleType === 'uint16';
  const samples = new (deep ? Uint16Array : Uint8Array)(width * height * channels);
  await evaluateInto({ opened, plan, frame, steps: outputSteps(opened, output) }, true, (row, rows, quad, heap) => {
    packSamples(heap, quad, rows * width, { samples, channels, from: row * width });
  });
  const bytes = await encodePngSamples(samples, { width, height, channels }, pngEncoding(opened, output)!);
  await writeWhole(file, (sink) => sink.write(0, bytes));
}
