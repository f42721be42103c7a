import { acesContainerPart, takeSamples, writeExr, type PartToWrite, type Plan, type Plane } from '@june-haze/core';
import { RowStream, writeWhole, zlibCodec } from '@june-haze/files';
import { isWhole, writesAlpha, type JobOutput } from '@june-haze/contract';
import { carriedFrom } from '../compute/carriedFrom.ts';
import { exrTags } from '../compute/exrTags.ts';
import { exrOfSource } from './jobFiles.ts';
import { evaluateInto, outputSteps } from './evaluateInto.ts';
import { fileOfJobFrame, sizeOfJobOutput, windowsOfJobOutput, timeOf, wordsOf, type JobWriting } from './jobOutput.ts';
import { jobPlan, type OpenedJob } from './openJob.ts';
import { writeJobPasses } from './writeJobPasses.ts';
import { writeJobPicture } from './writeJobPicture.ts';

/**
 * Writes one frame of an output, whole or not at all; of a movie to a place of its own. Returns the file. Throws the
 * sentence of what is wrong with the frame.
 */
export async function writeJobFrame(
  opened: OpenedJob,
  writing: JobWriting,
  frame: number,
  path = fileOfJobFrame(writing, frame),
): Promise<string> {
  const { output } = writing;
  if (output.kind === 'passes') {
    await writeJobPasses(opened, writing, frame);
    return path;
  }
  const plan = jobPlan(opened, frame);
  const light = output.kind === 'exr' || output.kind === 'aces';
  await (light ? writeExrFrame : writeJobPicture)(opened, output, plan, frame, path);
  return path;
}

/** An EXR is written while it is evaluated: no more than a strip of it is held. */
async function writeExrFrame(
  opened: OpenedJob,
  output: JobOutput,
  plan: Plan,
  frame: number,
  file: string,
): Promise<void> {
  const { width } = sizeOfJobOutput(opened, output);
  const { data, display } = windowsOfJobOutput(opened, output);
  const type = output.sampleType === 'float' ? 'float' : 'half';
  const hasAlpha = plan.hasAlpha && writesAlpha(output);
  const names = hasAlpha ? ['R', 'G', 'B', 'A'] : ['R', 'G', 'B'];
  const aces = output.kind === 'aces';
  const space = aces ? 'ACES2065-1' : (output.space ?? `${opened.job.viewing!.display} / ${opened.job.viewing!.view}`);
  const [first] = plan.inputs;
  const from =
    first &&
    exrOfSource(
      opened.sources.find((s) => s.name === first.sourceId)!,
      first.part,
      frame,
    );
  const carried = await carriedFrom(from, { whole: isWhole(output), aces });
  const said = { ...timeOf(opened, output, frame), ...wordsOf(output), carried };
  const attributes = exrTags(opened.colour, space, said, hasAlpha);
  const stream = new RowStream<Plane[]>();
  let gathered: { top: number; rows: Plane[][] } = { top: 0, rows: names.map(() => []) };
  const evaluated = evaluateInto(
    { opened, output, plan, frame, steps: outputSteps(opened, output) },
    hasAlpha ? 'premultiplied' : 'over black',
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
    // Lines of the file are counted in its display window, rows of the picture from its own first.
    const last = bottom - data.yMin;
    for (let row = top - data.yMin; row <= last;) {
      const strip = await stream.at(row);
      const end = Math.min(last + 1, strip.end);
      strip.rows.forEach((p, c) =>
        pieces[c]!.push(p.subarray((row - strip.top) * width, (end - strip.top) * width) as Plane),
      );
      row = end;
    }
    return pieces.map(joined);
  };
  const part: PartToWrite = aces
    ? acesContainerPart(data, display, hasAlpha, attributes)
    : {
        compression: output.compression ?? ('zip' as const),
        dataWindow: data,
        displayWindow: display,
        channels: names.map((name) => ({ name, type })),
        attributes,
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
