import { encodeDpx, timecodeWord, type Plan } from '@june-haze/core';
import { encodeFrame, encodeJpeg, encodePngSamples, encodeTiff, writeWhole } from '@june-haze/files';
import type { JobOutput } from '@june-haze/contract';
import { logarithmic, userDefined } from '../compute/writeLinear.ts';
import { packSamples } from '../compute/packSamples.ts';
import { evaluateInto, outputSteps } from './evaluateInto.ts';
import { encodingOfOutput, sizeOfJobOutput } from './jobOutput.ts';
import type { OpenedJob } from './openJob.ts';

/** Quality of a JPEG that does not say (common practice for delivery, no source). */
const usualQuality = 95;

/** Writes a frame of integers: pictures for a display, a movie's frames, a DPX of log codes. PNG carries alpha, straight; the others lie over black. */
export async function writeJobPicture(
  opened: OpenedJob,
  output: JobOutput,
  plan: Plan,
  frame: number,
  path: string,
): Promise<void> {
  const work = { opened, output, plan, frame, steps: outputSteps(opened, output) };
  const bytes = await (output.kind === 'dpx' ? dpxBytes(work, output) : pictureBytes(work, output));
  await writeWhole(path, (sink) => sink.write(0, bytes));
}

type Work = Parameters<typeof evaluateInto>[0];

async function pictureBytes(work: Work, output: JobOutput): Promise<Uint8Array> {
  const { opened, plan } = work;
  const { width, height } = sizeOfJobOutput(opened, output);
  const { kind, quality = usualQuality } = output;
  // A JPEG's encoder takes four, and leaves the last out.
  const channels = kind === 'jpeg' || (kind === 'png' && plan.hasAlpha) ? 4 : 3;
  const deep = output.sampleType === 'uint16' || kind === 'movie';
  const samples = new (deep ? Uint16Array : Uint8Array)(width * height * channels);
  const way = kind === 'png' ? 'straight' : 'over black';
  await evaluateInto(work, way, (row, rows, quad, heap) => {
    packSamples(heap, quad, rows * width, { samples, channels, from: row * width });
  });
  const encoding = encodingOfOutput(opened, output)!;
  const size = { width, height };
  if (kind === 'movie') return encodeFrame(samples as Uint16Array, size);
  if (kind === 'tiff') return encodeTiff(samples, size, encoding);
  if (kind === 'jpeg') return encodeJpeg(samples as Uint8Array, width, height, encoding, quality);
  return encodePngSamples(samples, { ...size, channels }, encoding);
}

async function dpxBytes(work: Work, output: JobOutput): Promise<Uint8Array> {
  const { width, height } = sizeOfJobOutput(work.opened, output);
  const planes = [0, 1, 2].map(() => new Float32Array(width * height));
  await evaluateInto(work, 'over black', (row, rows, quad, heap) => {
    planes.forEach((plane, c) => plane.set(heap.floats(quad[c]!, rows * width), row * width));
  });
  return encodeDpx({
    width,
    height,
    planes: [planes[0]!, planes[1]!, planes[2]!],
    rate: work.opened.job.rate,
    transfer: logarithmic,
    colorimetric: userDefined,
    timecode: timecodeWord(work.frame, work.opened.job.rate),
    creator: 'June Haze',
    about: output.space!,
  });
}
