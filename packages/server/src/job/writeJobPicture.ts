import { ditherCodes, encodeDpx, timecodeWord, type Plan } from '@june-haze/core';
import { encodeFrame, encodeJpeg, encodePngSamples, encodeTiff, writeWhole } from '@june-haze/files';
import { isOneFile, usualQuality, writesAlpha, type JobOutput } from '@june-haze/contract';
import { logarithmic, userDefined } from '../compute/writeLinear.ts';
import { packSamples } from '../compute/packSamples.ts';
import { evaluateInto, outputSteps } from './evaluateInto.ts';
import { encodingOfOutput, sizeOfJobOutput, timeOf, wordsOf } from './jobOutput.ts';
import type { OpenedJob } from './openJob.ts';

/** Writes a frame of integers: pictures for a display, a movie's frames, a DPX of log codes. PNG carries alpha, TIFF and ProRes where it is asked for, straight; the others lie over black. */
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
  const { kind, quality = usualQuality(output.kind) } = output;
  // All frames of a movie are alike: those without alpha cover.
  const channels: 3 | 4 = writesAlpha(output) && (plan.hasAlpha || isOneFile(output)) ? 4 : 3;
  const deep = output.sampleType === 'uint16' || isOneFile(output) || output.dither === true;
  const samples = new (deep ? Uint16Array : Uint8Array)(width * height * channels);
  const way = channels === 4 ? 'straight' : 'over black';
  await evaluateInto(work, way, (row, rows, quad, heap) => {
    packSamples(heap, quad, rows * width, { samples, channels, from: row * width });
  });
  const encoding = encodingOfOutput(opened, output)!;
  const size = { width, height, channels };
  const words = wordsOf(output);
  if (isOneFile(output)) return encodeFrame({ ...size, samples: samples as Uint16Array });
  const codes = output.dither ? ditherCodes(samples as Uint16Array, work.frame) : samples;
  if (kind === 'tiff') return encodeTiff(codes, size, encoding, words);
  if (kind === 'jpeg') return encodeJpeg(codes as Uint8Array, size, encoding, quality, words);
  return encodePngSamples(codes, size, encoding, words);
}

async function dpxBytes(work: Work, output: JobOutput): Promise<Uint8Array> {
  const { width, height } = sizeOfJobOutput(work.opened, output);
  const planes = [0, 1, 2].map(() => new Float32Array(width * height));
  await evaluateInto(work, 'over black', (row, rows, quad, heap) => {
    planes.forEach((plane, c) => plane.set(heap.floats(quad[c]!, rows * width), row * width));
  });
  const { rate, timecode } = timeOf(work.opened, output, work.frame);
  return encodeDpx({
    width,
    height,
    planes: [planes[0]!, planes[1]!, planes[2]!],
    rate,
    transfer: logarithmic,
    colorimetric: userDefined,
    timecode: timecodeWord(timecode, rate),
    creator: 'June Haze',
    owner: wordsOf(output).owner,
    about: output.space!,
  });
}
