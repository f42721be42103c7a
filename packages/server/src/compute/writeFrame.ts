import { prepareSteps, recodeSteps } from '@june-haze/core';
import { holdsDeepSamples, holdsPictures, sizeOfOutput, type ReadBack } from '@june-haze/contract';
import {
  contentPrint,
  encodeFrame,
  encodeJpeg,
  encodePng,
  encodePngSamples,
  encodeTiff,
  stateOf,
  writeWhole,
} from '@june-haze/files';
import type { WrittenFile } from '../database/tables.ts';
import { colourOf } from '../library/store.ts';
import { evaluateFrame, threadHeap } from './evaluateFrame.ts';
import { prepareClipping, type Clipping } from './clipping.ts';
import { packSamples } from './packSamples.ts';
import { inBands, isResized, resizedTotal, type OnBand } from './resizedTotal.ts';
import { prove } from './readBack.ts';
import { intoFileSpace, writeDpx, writeLinear } from './writeLinear.ts';
import { displayEncodingOf, encodingOf, type WriteTask, type WrittenFrame } from './writeTask.ts';

/** What became of a frame; `written` tells later whether the file is still the one that was read back. */
interface FrameResult {
  readonly bytes: number;
  readonly milliseconds: number;
  /** Null of a movie's frame: it is read back from the movie. */
  readonly readBack: ReadBack | null;
  readonly written: WrittenFile | null;
  /** Shares of the frame's pixels; see `WrittenFrame`. */
  readonly clipping: Clipping | undefined;
}

/** Evaluates, writes and proves one frame; `milliseconds` is what the work took, without waiting for a thread. */
export async function writeFrame(task: WriteTask): Promise<FrameResult> {
  const started = performance.now();
  const frame = await evaluateShown(task);
  if (holdsPictures(task.settings)) await writeShown(task, frame);
  else {
    intoFileSpace(task, frame);
    await (task.settings.kind === 'dpx' ? writeDpx : writeLinear)(task, frame);
  }
  const aside = task.settings.kind === 'movie';
  const readBack = aside ? null : await prove(task, frame);
  const written = await writtenFile(task.path);
  const share = (count: number) => count / (frame.width * frame.height);
  const clipping = frame.clipping && {
    below: share(frame.clipping.below),
    above: share(frame.clipping.above),
    notFinite: share(frame.clipping.notFinite),
  };
  const milliseconds = performance.now() - started;
  return { bytes: written.bytes, milliseconds, readBack, written: aside ? null : written, clipping };
}

/** What a file that was just written is, to know it again. */
export async function writtenFile(path: string): Promise<WrittenFile> {
  const state = (await stateOf(path))!;
  return { ...state, print: (await contentPrint(path, state.bytes)) ?? null };
}

/** The total and what the viewing shows of it. */
async function evaluateShown(task: WriteTask): Promise<WrittenFrame> {
  const size = sizeOfOutput(task.settings, task);
  const { width, height } = size;
  const heap = threadHeap();
  const mark = heap.mark();
  const steps = [
    ...colourOf(task.colour).view(task.workingSpace, task.viewing),
    ...recodeSteps(displayEncodingOf(task), encodingOf(task)),
  ];
  const view = prepareSteps(steps, heap);
  const shown = new Uint8Array(width * height * 4);
  const { kind, bits } = task.settings;
  const isDeep = kind === 'movie' || (holdsDeepSamples(kind) && bits === 16);
  const deep = isDeep ? new Uint16Array(width * height * 3) : undefined;
  const total = [0, 1, 2, 3].map(() => new Float32Array(width * height));
  const coded = task.settings.kind === 'dpx' && task.settings.space;
  const way = coded ? colourOf(task.colour).conversion(task.workingSpace, coded) : steps;
  const count = prepareClipping(task.settings, way, heap);
  const clipping: Clipping | undefined = task.pictures === undefined ? undefined : { below: 0, above: 0, notFinite: 0 };
  const onBand: OnBand = (row, rows, quad, h) => {
    const n = rows * width;
    quad.forEach((p, c) => total[c]!.set(h.floats(p, n), row * width));
    if (clipping) count(quad, n, clipping);
    view(quad[0], quad[1], quad[2], n);
    if (deep) packSamples(h, quad, n, { samples: deep, channels: 3, from: row * width });
    const inner = h.mark();
    const codes = h.allocate(n * 4);
    h.kernels.packCodes(quad[0], quad[1], quad[2], codes, n);
    shown.set(h.bytes(codes, n * 4), row * width * 4);
    h.release(inner);
  };
  try {
    const evaluate = (band: OnBand) => evaluateFrame(task.plan, task.files, false, task, band);
    if (isResized(size, task)) await inBands(heap, await resizedTotal(task, size, evaluate), size, onBand);
    else await evaluate(onBand);
  } finally {
    heap.release(mark);
  }
  return { width, height, shown, deep, total, hasAlpha: task.plan.hasAlpha, clipping };
}

async function writeShown(task: WriteTask, { shown, deep, width, height }: WrittenFrame): Promise<void> {
  const encoding = encodingOf(task);
  const size = { width, height };
  const encoded = {
    jpeg: () => encodeJpeg(shown, width, height, encoding, task.settings.quality),
    png: () =>
      deep ? encodePngSamples(deep, { ...size, channels: 3 }, encoding) : encodePng(shown, width, height, encoding),
    tiff: () => encodeTiff(deep ?? withoutAlpha(shown), size, encoding),
    movie: () => Promise.resolve(encodeFrame(deep!, size)),
  };
  const bytes = await encoded[task.settings.kind as keyof typeof encoded]();
  await writeWhole(task.path, (sink) => sink.write(0, bytes));
}

/** Three samples a pixel of four. */
const withoutAlpha = (rgba: Uint8Array): Uint8Array =>
  new Uint8Array((rgba.length / 4) * 3).map((_, i) => rgba[Math.floor(i / 3) * 4 + (i % 3)]!);
