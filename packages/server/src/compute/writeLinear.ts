import {
  acesContainerPart,
  ap0,
  bending,
  changeColour,
  encodeDpx,
  placeSamples,
  prepareSteps,
  primariesMatrix,
  requireSpace,
  takeSamples,
  timecodeWord,
  writeExr,
  type ColourSpace,
  type ColourStep,
  type Plane,
  type Quad,
} from '@june-haze/core';
import {
  codesWithoutView,
  holdsStraightAlpha,
  isWhole,
  type OutputSettings,
  windowsOfOutput,
} from '@june-haze/contract';
import { writeWhole, zlibCodec } from '@june-haze/files';
import { carriedFrom } from './carriedFrom.ts';
import { exrTags } from './exrTags.ts';
import { threadHeap } from './evaluateFrame.ts';
import type { OpenedTask, WrittenFrame } from './writeTask.ts';

/** The space that a file goes back in without the viewing; undefined for the working space. */
function spaceBack(settings: OutputSettings): ColourSpace | undefined {
  const { kind, space } = settings;
  const back = kind === 'exr' || kind === 'dpx' || codesWithoutView(settings) !== undefined;
  return back && space ? requireSpace(space) : undefined;
}

/** Takes a total of the working space, in place, to the numbers that its file holds; colour stays premultiplied but for files of straight alpha. */
export function intoFileSpace(
  task: Pick<OpenedTask, 'colour' | 'settings' | 'workingSpace'>,
  { total, hasAlpha }: WrittenFrame,
): void {
  const { colour } = task;
  const back = spaceBack(task.settings);
  // A file without alpha holds the light as it stands over black.
  const { kind } = task.settings;
  const alpha = hasAlpha && (kind === 'exr' || kind === 'aces');
  if (hasAlpha && holdsStraightAlpha(task.settings)) divideByAlpha(total);
  if (back) change(total, colour.conversion(task.workingSpace, back.name), alpha);
  if (task.settings.kind !== 'aces') return;
  const space = colour.linearTwin(task.workingSpace);
  if (!space) throw new Error(`${task.workingSpace} has no known way to ACES2065-1.`);
  change(total, [{ kind: 'matrix', matrix: primariesMatrix(space.primaries, ap0) }], hasAlpha);
}

/** Writes numbers that are in the file's space as an EXR, or in the ACES container form; A only when the total has alpha. */
export async function writeLinear(task: OpenedTask, { total, width, hasAlpha }: WrittenFrame): Promise<void> {
  const aces = task.settings.kind === 'aces';
  const type = aces ? 'half' : task.settings.sampleType;
  const names = hasAlpha ? ['R', 'G', 'B', 'A'] : ['R', 'G', 'B'];
  const planes = names.map((_, c): Plane =>
    type === 'float' ? (total[c] as Float32Array<ArrayBuffer>) : toHalves(total[c]!),
  );
  const { data, display } = windowsOfOutput(task.settings, task);
  const space = spaceBack(task.settings)?.name ?? task.workingSpace;
  const carried = await carriedFrom(firstFile(task), { whole: isWhole(task.settings), aces });
  const said = { ...task, ...task.settings, rate: task.rate, timecode: task.timecode, carried };
  const attributes = exrTags(task.colour, space, said, hasAlpha);
  const part = aces
    ? acesContainerPart(data, display, hasAlpha, attributes)
    : {
        compression: task.settings.compression,
        dataWindow: data,
        displayWindow: display,
        channels: names.map((name) => ({ name, type })),
        attributes,
      };
  await writeWhole(task.path, (sink) =>
    writeExr(
      sink,
      [part],
      (_, top, bottom) =>
        planes.map((p) => p.subarray((top - data.yMin) * width, (bottom + 1 - data.yMin) * width) as Plane),
      zlibCodec,
    ),
  );
}

/** A total that is in a space of codes, rounded to 16 bits: red, green and blue. */
export function codesOfTotal({ total }: Pick<WrittenFrame, 'total'>): Uint16Array {
  const n = total[0]!.length;
  const codes = new Uint16Array(n * 3);
  for (let c = 0; c < 3; c++)
    for (let i = 0, at = c; i < n; i++, at += 3) {
      const v = total[c]![i]! * 65535 + 0.5;
      codes[at] = v > 0 ? Math.min(65535, v) : 0;
    }
  return codes;
}

/** The file of the first pass that a frame is made from, where it is an EXR: what it says of the picture is carried on. */
function firstFile({ plan, files }: OpenedTask): { path: string; name: string; part: number } | undefined {
  const [first] = plan.inputs;
  const file = first && files[first.sourceId]?.[first.part];
  if (file?.kind !== 'exr' || file.black) return undefined;
  return { path: file.path, name: file.name, part: first!.part - file.firstPart };
}

/** DPX's numbers for a log curve that it does not name, and colours of the user's own (SMPTE ST 268-1, table 1): the description names both. */
export const [logarithmic, userDefined] = [3, 0];

/** Writes numbers that are in a log space as a 10-bit DPX; alpha is dropped. */
export async function writeDpx(task: OpenedTask, { total, width, height }: WrittenFrame): Promise<void> {
  const bytes = encodeDpx({
    width,
    height,
    planes: [total[0]!, total[1]!, total[2]!],
    rate: task.rate,
    transfer: logarithmic,
    colorimetric: userDefined,
    timecode: timecodeWord(task.timecode, task.rate),
    creator: 'June Haze',
    owner: task.settings.owner,
    about: task.settings.space ?? '',
  });
  await writeWhole(task.path, (sink) => sink.write(0, bytes));
}

/** Colour as it is without its alpha, in place; where there is none it stays. */
function divideByAlpha(total: readonly Float32Array[]): void {
  const alpha = total[3]!;
  for (const plane of total.slice(0, 3))
    for (let i = 0; i < plane.length; i++) if (alpha[i]! > 0) plane[i]! /= alpha[i]!;
}

/** Takes totals through steps, in place; what bends works on straight colour. Alpha is left alone. */
function change(total: readonly Float32Array[], steps: readonly ColourStep[], alpha: boolean): void {
  const heap = threadHeap();
  const mark = heap.mark();
  const n = total[0]!.length;
  const quad = total.map((plane) => {
    const at = heap.allocatePlane(n);
    heap.floats(at, n).set(plane);
    return at;
  }) as unknown as Quad;
  const process = prepareSteps(steps, heap);
  changeColour(heap, quad, n, { alpha, isStraight: false, bends: bending(steps) }, () =>
    process(quad[0], quad[1], quad[2], n),
  );
  quad.slice(0, 3).forEach((at, c) => total[c]!.set(heap.floats(at, n)));
  heap.release(mark);
}

/** Floats rounded to halves. */
export function toHalves(plane: Float32Array): Uint16Array<ArrayBuffer> {
  const heap = threadHeap();
  const mark = heap.mark();
  const out = takeSamples(placeSamples(plane, 'float', heap), plane.length, 'half', heap);
  heap.release(mark);
  return out as Uint16Array<ArrayBuffer>;
}
