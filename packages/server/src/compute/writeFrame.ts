import { coloursOf, type CodeEncoding, ditherCodes, takeSamples, toEightBits, type Plan } from '@june-haze/core';
import {
  codesWithoutView,
  holdsPictures,
  holdsStraightAlpha,
  isDithered,
  isOneFile,
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
import { evaluateFrame, type FrameFiles } from './evaluateFrame.ts';
import type { Clipping } from './clipping.ts';
import { evaluateShown } from './evaluateShown.ts';
import { provePasses } from './provePasses.ts';
import { prove } from './readBack.ts';
import type { PassesToWrite } from './passesToWrite.ts';
import { writePasses } from './writePasses.ts';
import { codesOfTotal, intoFileSpace, writeDpx, writeLinear } from './writeLinear.ts';
import { opened, encodingOf, type OpenedTask, type WriteTask, type WrittenFrame } from './writeTask.ts';

/** What became of a frame; `written` tells later whether the file is still the one that was read back. */
interface FrameResult {
  readonly bytes: number;
  readonly milliseconds: number;
  /** Null of a frame of what becomes one file: it is read back from that. */
  readonly readBack: ReadBack | null;
  readonly written: WrittenFile | null;
  /** Shares of the frame's pixels; see `WrittenFrame`. */
  readonly clipping: Clipping | undefined;
}

/** Evaluates, writes and proves one frame; `milliseconds` is what the work took, without waiting for a thread. */
export async function writeFrame(asked: WriteTask): Promise<FrameResult> {
  const started = performance.now();
  const task = opened(asked);
  if (task.passes) return writeAndProvePasses(task, task.passes, started);
  const frame = await evaluateShown(task, (onBand) => evaluateFrame(task.plan, task.files, false, task, onBand));
  if (holdsPictures(task.settings)) await writeShown(task, frame);
  else {
    intoFileSpace(task, frame);
    await writeLight(task, frame);
  }
  const aside = isOneFile(task.settings);
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
function writeLight(task: OpenedTask, frame: WrittenFrame): Promise<void> {
  const codes = codesWithoutView(task.settings);
  if (codes) return writeCodes(task, { ...frame, deep: codesOfTotal(frame) }, codes);
  return task.settings.kind === 'dpx' ? writeDpx(task, frame) : writeLinear(task, frame);
}

async function writeAndProvePasses(task: OpenedTask, chosen: PassesToWrite, started: number): Promise<FrameResult> {
  const { settings, width, height, rate, timecode } = task;
  const written = await writePasses({
    ...chosen,
    ...{ width, height, rate, words: settings, layering: settings.layering, compression: settings.compression },
    colour: task.colour,
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
async function mattePlane({ width, height }: OpenedTask, plan: Plan, files: FrameFiles): Promise<Uint16Array> {
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

const writeShown = (task: OpenedTask, frame: WrittenFrame): Promise<void> => writeCodes(task, frame, encodingOf(task));

/** Writes codes of a display: a picture, or a frame of what becomes one file. */
async function writeCodes(task: OpenedTask, frame: WrittenFrame, encoding: CodeEncoding): Promise<void> {
  const { settings, path } = task;
  const bytes = isOneFile(settings)
    ? frameAside(frame, holdsStraightAlpha(settings))
    : await pictureOf(task, frame, encoding);
  await writeWhole(path, (sink) => sink.write(0, bytes));
}

/** A picture's file: of 16 bits where it has them, or chance decides between those of 8. */
function pictureOf(
  { settings, seed }: OpenedTask,
  { shown, deep: all, width, height, hasAlpha, total }: WrittenFrame,
  encoding: CodeEncoding,
): Promise<Uint8Array> {
  const deep = settings.bits === 16 || isDithered(settings) ? all : undefined;
  const picture = { width, height, channels: hasAlpha ? (4 as const) : (3 as const) };
  const colours = isDithered(settings)
    ? ditherCodes(deep!, seed)
    : (deep ?? (all ? toEightBits(all) : coloursOf(shown)));
  const samples = hasAlpha ? withAlpha(colours, total[3]!) : colours;
  const encoded = {
    jpeg: () => encodeJpeg(samples as Uint8Array, picture, encoding, settings.quality, settings),
    png: () => encodePngSamples(samples, picture, encoding, settings),
    tiff: () => encodeTiff(samples, picture, encoding, settings),
  };
  return encoded[settings.kind as keyof typeof encoded]();
}

/** A frame of what becomes one file. All frames of a movie have alpha or none has: one whose total has none covers. */
export function frameAside({ width, height, deep, total }: WrittenFrame, alpha: boolean): Buffer {
  const samples = alpha ? withAlpha(deep!, total[3]!) : deep!;
  return encodeFrame({ width, height, channels: alpha ? 4 : 3, samples });
}

/** Colours of three samples a pixel with alpha behind each: straight, rounded to their codes. */
function withAlpha<T extends Uint8Array | Uint16Array>(colours: T, alpha: Float32Array): T {
  const most = colours instanceof Uint16Array ? 65535 : 255;
  const all = new (colours.constructor as new (n: number) => T)(alpha.length * 4);
  for (let i = 0; i < alpha.length; i++) {
    for (let c = 0; c < 3; c++) all[i * 4 + c] = colours[i * 3 + c]!;
    all[i * 4 + 3] = Math.round(Math.min(1, Math.max(0, alpha[i]!)) * most);
  }
  return all;
}
