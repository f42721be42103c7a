import { type CodeEncoding, ditherCodes, prepareSteps, recodeSteps, takeSamples, type Plan } from '@june-haze/core';
import {
  codesWithoutView,
  holdsDeepSamples,
  holdsPictures,
  isDithered,
  sizeOfOutput,
  type ReadBack,
} from '@june-haze/contract';
import {
  contentPrint,
  encodeFrame,
  encodeJpeg,
  encodePngSamples,
  encodeTiff,
  stateOf,
  writeWhole,
} from '@june-haze/files';
import type { WrittenFile } from '../database/tables.ts';
import { colourOf } from '../library/store.ts';
import { evaluateFrame, threadHeap, type FrameFiles } from './evaluateFrame.ts';
import { prepareClipping, type Clipping } from './clipping.ts';
import { packSamples } from './packSamples.ts';
import { inBands, isResized, resizedTotal, type OnBand } from './resizedTotal.ts';
import { provePasses } from './provePasses.ts';
import { prove } from './readBack.ts';
import type { PassesToWrite } from './passesToWrite.ts';
import { writePasses } from './writePasses.ts';
import { codesOfTotal, intoFileSpace, writeDpx, writeLinear } from './writeLinear.ts';
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
  if (task.passes) return writeAndProvePasses(task, task.passes, started);
  const frame = await evaluateShown(task);
  if (holdsPictures(task.settings)) await writeShown(task, frame);
  else {
    intoFileSpace(task, frame);
    await writeLight(task, frame);
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

/** Writes a total that is in its file's space. */
function writeLight(task: WriteTask, frame: WrittenFrame): Promise<void> {
  const codes = codesWithoutView(task.settings);
  if (codes) return writeCodes(task, { ...frame, deep: codesOfTotal(frame) }, codes);
  return task.settings.kind === 'dpx' ? writeDpx(task, frame) : writeLinear(task, frame);
}

async function writeAndProvePasses(task: WriteTask, chosen: PassesToWrite, started: number): Promise<FrameResult> {
  const { settings, width, height, rate, timecode } = task;
  const written = await writePasses({
    ...chosen,
    ...{ width, height, rate, words: settings, layering: settings.layering, compression: settings.compression },
    colour: colourOf(task.colour),
    timecode: { frame: timecode, isAsked: settings.timecode !== null },
    mattes: chosen.mattes.map(({ name, plan, files }) => ({ name, plane: () => mattePlane(task, plan, files) })),
  });
  const readBack = await provePasses(task, written);
  const [first, ...others] = await Promise.all(chosen.paths.map(writtenFile));
  return {
    bytes: others.reduce((n, f) => n + f.bytes, first!.bytes),
    milliseconds: performance.now() - started,
    readBack,
    written: others.length ? { ...first!, others } : first!,
    clipping: task.pictures === undefined ? undefined : { below: 0, above: 0, notFinite: 0 },
  };
}

/** A matte as halves: its plan's total is the matte in red. */
async function mattePlane({ width, height }: WriteTask, plan: Plan, files: FrameFiles): Promise<Uint16Array> {
  const plane = new Uint16Array(width * height);
  await evaluateFrame(plan, files, false, { width, height }, (row, rows, [red], heap) => {
    plane.set(takeSamples(red, rows * width, 'half', heap) as Uint16Array, row * width);
  });
  return plane;
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
  const isDeep = kind === 'movie' || (holdsDeepSamples(kind) && bits === 16) || isDithered(task.settings);
  const deep = isDeep ? new Uint16Array(width * height * 3) : undefined;
  const total = [0, 1, 2, 3].map(() => new Float32Array(width * height));
  const coded = (task.settings.kind === 'dpx' || codesWithoutView(task.settings)) && task.settings.space;
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
  return { width, height, shown, deep, total, hasAlpha: task.plan.hasAlpha && task.settings.alpha, clipping };
}

const writeShown = (task: WriteTask, frame: WrittenFrame): Promise<void> => writeCodes(task, frame, encodingOf(task));

/** Writes codes of a display: of 16 bits where a file has them, or chance decides between those of 8. */
async function writeCodes(
  task: WriteTask,
  { shown, deep: all, width, height }: WrittenFrame,
  encoding: CodeEncoding,
): Promise<void> {
  const { settings } = task;
  const deep = settings.kind === 'movie' || settings.bits === 16 || isDithered(settings) ? all : undefined;
  const size = { width, height };
  const picture = { ...size, channels: 3 as const };
  const samples = isDithered(settings)
    ? ditherCodes(deep!, task.seed)
    : (deep ?? (all ? toEight(all) : withoutAlpha(shown)));
  const encoded = {
    jpeg: () => encodeJpeg(samples as Uint8Array, picture, encoding, settings.quality, settings),
    png: () => encodePngSamples(samples, picture, encoding, settings),
    tiff: () => encodeTiff(samples, size, encoding, settings),
    movie: () => Promise.resolve(encodeFrame(deep!, size)),
  };
  const bytes = await encoded[task.settings.kind as keyof typeof encoded]();
  await writeWhole(task.path, (sink) => sink.write(0, bytes));
}

/** To 8 bits by rounding: 65535 is 255 times 257. */
const toEight = (deep: Uint16Array): Uint8Array => Uint8Array.from(deep, (v) => Math.round(v / 257));

/** Three samples a pixel of four. */
const withoutAlpha = (rgba: Uint8Array): Uint8Array =>
  new Uint8Array((rgba.length / 4) * 3).map((_, i) => rgba[Math.floor(i / 3) * 4 + (i % 3)]!);
