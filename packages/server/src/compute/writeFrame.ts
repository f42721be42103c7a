import { readFile, stat } from 'node:fs/promises';
import {
  acesContainerFaults,
  acesContainerPart,
  ap0,
  comparePictures,
  findSpace,
  largestBlockDifference,
  linearSpaceOf,
  openExr,
  placeSamples,
  prepareSteps,
  primariesMatrix,
  readChannels,
  rec709,
  takeSamples,
  requireSpace,
  viewSteps,
  writeExr,
  type ColourSpace,
  type ColourStep,
  type Compression,
  type ExrAttribute,
  type Heap,
  type Plan,
  type Plane,
  type Primaries,
  type Quad,
} from '@june-haze/core';
import type { OutputSettings, ReadBack, Viewing } from '@june-haze/contract';
import { decodePicture, encodeJpeg, encodePng, openSource, writeWhole, zlibCodec } from '@june-haze/files';
import sharp from 'sharp';
import { colourOf, type ColourPlace } from '../library/store.ts';
import { evaluateFrame, threadHeap, type FrameFiles } from './evaluateFrame.ts';

export interface WriteTask {
  readonly plan: Plan;
  readonly files: FrameFiles;
  readonly workingSpace: string;
  readonly viewing: Viewing;
  readonly colour: ColourPlace;
  readonly rate: number;
  readonly settings: OutputSettings;
  readonly width: number;
  readonly height: number;
  readonly path: string;
  /** Where the three small proof pictures go: `FOLDER/shown.png`, `tagged.png`, `ignoring.png`. */
  readonly pictures: string | undefined;
}

/** Quality of written JPEGs, chroma not sub-sampled (common practice for delivery, no source). */
const jpegQuality = 95;
/**
 * How far the mean of a JPEG's 8x8 block may stray, in code values: the rounding of Y, Cb and Cr to whole codes moves B by up to
 * 0.5 + 1.772 / 2 (ITU-T T.871 clause 7), and the quantised DC coefficient adds up to half a step, an eighth of a code at this quality or two.
 */
const jpegBlockLimit = 2;
/** EXR codecs that give back every bit. */
const losslessCodecs: ReadonlySet<Compression> = new Set(['none', 'rle', 'zips', 'zip', 'piz']);
/** The same for EXR's lossy codecs: B44 rounds to six bits in a block's range, DWA cuts small detail; means stay (chosen, no source). */
const lossyBlockLimit = 2;

/** How the display's codes are tagged; those that say nothing are compared as sRGB codes. */
function encodingOf(task: WriteTask): 'srgb' | 'bt1886' {
  const { display, view } = task.viewing;
  return colourOf(task.colour).displayEncoding(display, view) ?? 'srgb';
}

/** Evaluates, writes and proves one frame; `milliseconds` is what the work took, without waiting for a thread. */
export async function writeFrame(
  task: WriteTask,
): Promise<{ bytes: number; milliseconds: number; readBack: ReadBack }> {
  const started = performance.now();
  const colour = colourOf(task.colour);
  const space = colour.linearTwin(task.workingSpace);
  const heap = threadHeap();
  const mark = heap.mark();
  const view = prepareSteps(colour.view(task.workingSpace, task.viewing), heap);
  let width = 0;
  let shown = new Uint8Array(0);
  let total: Float32Array[] = [];
  const onBand = (row: number, rows: number, quad: Quad, h: Heap, w: number) => {
    if (!total.length) {
      width = w;
      shown = new Uint8Array(w * task.height * 4);
      total = quad.map(() => new Float32Array(w * task.height));
    }
    const n = rows * w;
    quad.forEach((p, c) => total[c]!.set(h.floats(p, n), row * w));
    view(quad[0], quad[1], quad[2], n);
    const inner = h.mark();
    const codes = h.allocate(n * 4);
    h.kernels.packCodes(quad[0], quad[1], quad[2], codes, n);
    shown.set(h.bytes(codes, n * 4), row * w * 4);
    h.release(inner);
  };
  try {
    const { height } = await evaluateFrame(task.plan, task.files, false, task, onBand);
    const linear = task.settings.kind === 'exr' || task.settings.kind === 'aces';
    if (task.settings.kind === 'aces') {
      if (!space) throw new Error(`${task.workingSpace} has no known way to ACES2065-1.`);
      change(total, [{ kind: 'matrix', matrix: primariesMatrix(space.primaries, ap0) }]);
    }
    const back = spaceBack(task.settings);
    if (back) change(total, colour.conversion(task.workingSpace, back.name));
    if (linear) await writeLinear(task, total, width, height, back ?? space);
    else await writeShown(task, shown, width, height);
    const readBack = await prove(task, shown, width, height, total);
    const { size } = await stat(task.path);
    return { bytes: size, milliseconds: performance.now() - started, readBack };
  } finally {
    heap.release(mark);
  }
}

async function writeLinear(
  task: WriteTask,
  total: Float32Array[],
  width: number,
  height: number,
  space: ColourSpace | undefined,
): Promise<void> {
  const aces = task.settings.kind === 'aces';
  const type = aces ? 'half' : task.settings.sampleType;
  const planes = ['R', 'G', 'B', 'A'].map((_, c): Plane =>
    type === 'float' ? (total[c] as Float32Array<ArrayBuffer>) : toHalves(total[c]!),
  );
  const window = { xMin: 0, yMin: 0, xMax: width - 1, yMax: height - 1 };
  const attributes: Record<string, ExrAttribute> = {
    // A working space whose primaries are not known gets no tags rather than wrong ones.
    ...(space
      ? {
          chromaticities: { type: 'chromaticities', value: space.primaries },
          colorInteropID: { type: 'string', value: space.interopId },
        }
      : {}),
    framesPerSecond: { type: 'rational', value: [Math.round(task.rate * 1000), 1000] },
    software: { type: 'string', value: 'June Haze' },
  };
  const channels = ['R', 'G', 'B', 'A'].map((name) => ({ name, type }));
  const plain = {
    compression: task.settings.compression,
    dataWindow: window,
    displayWindow: window,
    channels,
    attributes,
  };
  const part = aces ? acesContainerPart(window, window, true, attributes) : plain;
  await writeWhole(task.path, (sink) =>
    writeExr(
      sink,
      [part],
      (_, top, bottom) => planes.map((p) => p.subarray(top * width, (bottom + 1) * width) as Plane),
      zlibCodec,
    ),
  );
}

/** The log space that an EXR goes back in; undefined for the working space. */
function spaceBack({ kind, space }: OutputSettings): ColourSpace | undefined {
  return kind === 'exr' && space ? requireSpace(space) : undefined;
}

/** Takes totals of the working space through steps, in place; alpha is left alone. */
function change(total: readonly Float32Array[], steps: readonly ColourStep[]): void {
  const heap = threadHeap();
  const mark = heap.mark();
  const n = total[0]!.length;
  const planes = total.slice(0, 3).map((plane) => {
    const at = heap.allocatePlane(n);
    heap.floats(at, n).set(plane);
    return at;
  }) as [number, number, number];
  prepareSteps(steps, heap)(...planes, n);
  planes.forEach((at, c) => total[c]!.set(heap.floats(at, n)));
  heap.release(mark);
}

function toHalves(plane: Float32Array): Uint16Array<ArrayBuffer> {
  const heap = threadHeap();
  const mark = heap.mark();
  const out = takeSamples(placeSamples(plane, 'float', heap), plane.length, 'half', heap);
  heap.release(mark);
  return out as Uint16Array<ArrayBuffer>;
}

async function writeShown(task: WriteTask, shown: Uint8Array, width: number, height: number): Promise<void> {
  const encoding = encodingOf(task);
  const bytes =
    task.settings.kind === 'png'
      ? await encodePng(shown, width, height, encoding)
      : await encodeJpeg(shown, width, height, encoding, jpegQuality);
  await writeWhole(task.path, (sink) => sink.write(0, bytes));
}

/**
 * The read-back proof: the written file decoded again by its own tags alone and shown through the view, against what the
 * viewer showed; and as a reader that ignores the tags shows it (linear numbers as Rec.709 light, pictures as sRGB).
 */
async function prove(
  task: WriteTask,
  shown: Uint8Array,
  width: number,
  height: number,
  total: Float32Array[],
): Promise<ReadBack> {
  const encoding = encodingOf(task);
  const { tagged, ignoring, tags, exact } =
    task.settings.kind === 'exr' || task.settings.kind === 'aces'
      ? await readLinearBack(task, total)
      : await readShownBack(task);
  const difference = comparePictures(shown, tagged, width, encoding);
  const strayed = comparePictures(shown, ignoring, width, encoding);
  if (task.pictures) {
    const save = async (name: string, rgba: Uint8Array) => {
      const small = await sharp(rgba, { raw: { width, height, channels: 4 } })
        .removeAlpha()
        .resize({ width: Math.min(width, 640) })
        .png()
        .toBuffer();
      await writeWhole(`${task.pictures}/${name}.png`, (sink) => sink.write(0, small));
    };
    await Promise.all([save('shown', shown), save('tagged', tagged), save('ignoring', ignoring)]);
  }
  const { close, judged } = judge(task, shown, tagged, width, difference.maxCode);
  return {
    tagged: difference as ReadBack['tagged'],
    ignoring: strayed as ReadBack['ignoring'],
    tags,
    judged: exact ? judged : `${judged}; its samples or tags are not the ones that were written`,
    proved: close && exact,
  };
}

/** One code value is what rounding to half or to 8 bits may do; a JPEG is lossy by intent and is judged by the means of its blocks. */
function judge(task: WriteTask, shown: Uint8Array, tagged: Uint8Array, width: number, maxCode: number) {
  const { kind, compression } = task.settings;
  if (kind === 'exr' && !losslessCodecs.has(compression)) {
    const stray = largestBlockDifference(shown, tagged, width);
    return {
      close: stray <= lossyBlockLimit,
      judged: `${compression.toUpperCase()} is lossy: means of 8×8 blocks differ by ${stray.toFixed(2)} of at most ${lossyBlockLimit} code values`,
    };
  }
  if (kind !== 'jpeg') return { close: maxCode <= 1, judged: `largest difference ${maxCode} of at most 1 code value` };
  const stray = largestBlockDifference(shown, tagged, width);
  return {
    close: stray <= jpegBlockLimit,
    judged: `lossy: means of 8×8 blocks differ by ${stray.toFixed(2)} of at most ${jpegBlockLimit} code values`,
  };
}

async function readLinearBack(task: WriteTask, total: Float32Array[]) {
  const source = await openSource(task.path);
  try {
    const file = await openExr(source);
    const part = file.parts[0]!;
    const primaries = part.attributes.get('chromaticities')?.value as Primaries | undefined;
    const identity = part.attributes.get('colorInteropID')?.value;
    const { planes } = await readChannels(file, 0, ['R', 'G', 'B'], zlibCodec);
    const lossless = task.settings.kind === 'aces' || losslessCodecs.has(task.settings.compression);
    const formed = task.settings.kind !== 'aces' || acesContainerFaults(part).length === 0;
    const exact =
      formed &&
      (!lossless ||
        planes.every((p, c) => {
          const want = p instanceof Uint16Array ? toHalves(total[c]!) : total[c]!;
          return p.every((x, i) => Object.is(x, want[i]));
        }));
    const colour = colourOf(task.colour);
    const twin = colour.linearTwin(task.workingSpace);
    const found = primaries ? linearSpaceOf(primaries) : undefined;
    const coded = typeof identity === 'string' ? findSpace(identity) : undefined;
    // Without a tag there is nothing to go by but the working space itself.
    const asTagged: ColourStep[] = twin
      ? [{ kind: 'matrix', matrix: primariesMatrix(primaries ?? rec709, twin.primaries) }]
      : [];
    const intoWorking = spaceBack(task.settings)
      ? colour.conversion(coded?.name ?? task.workingSpace, task.workingSpace)
      : found && found.name === twin?.name
        ? []
        : asTagged;
    const plain = {
      display: encodingOf(task) === 'bt1886' ? 'Rec.709' : 'sRGB',
      view: 'Untoned',
      exposure: 0,
    };
    return {
      tagged: show(planes, [...intoWorking, ...colour.view(task.workingSpace, task.viewing)]),
      ignoring: show(planes, viewSteps(requireSpace('Linear Rec.709'), plain)),
      tags: `chromaticities say ${found?.name ?? 'nothing known'}, colour identity says ${String(identity ?? 'nothing')}`,
      exact,
    };
  } finally {
    await source.close();
  }
}

async function readShownBack(task: WriteTask) {
  const picture = await decodePicture(await readFile(task.path));
  const encoding = encodingOf(task);
  const asEncoding = (from: 'srgb' | 'bt1886') =>
    from === encoding ? picture.rgba : recode(picture.rgba, from, encoding);
  const name = { srgb: 'sRGB', bt1886: 'Rec.709, gamma 2.4' } as const;
  return {
    tagged: asEncoding(picture.encoding ?? 'srgb'),
    ignoring: asEncoding('srgb'),
    tags: `${picture.taggedBy} says ${picture.encoding ? name[picture.encoding] : 'nothing'}`,
    exact: picture.encoding === encoding,
  };
}

/** Codes of one display's encoding as the codes of another that show the same light. */
function recode(rgba: Uint8Array, from: 'srgb' | 'bt1886', to: 'srgb' | 'bt1886'): Uint8Array {
  const decode = (v: number) =>
    from === 'bt1886' ? v ** 2.4 : v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4;
  const encode = (l: number) =>
    to === 'bt1886' ? l ** (1 / 2.4) : l <= 0.0031308 ? 12.92 * l : 1.055 * l ** (1 / 2.4) - 0.055;
  const table = Uint8Array.from({ length: 256 }, (_, i) => Math.round(255 * encode(decode(i / 255))));
  return rgba.map((v, i) => (i % 4 === 3 ? v : table[v]!));
}

/** Three planes through colour steps to RGBA8. */
export function show(planes: readonly Plane[], steps: readonly ColourStep[]): Uint8Array {
  const heap = threadHeap();
  const mark = heap.mark();
  const n = planes[0]!.length;
  const process = prepareSteps(steps, heap);
  const [r, g, b] = planes.map((plane) =>
    placeSamples(plane, plane instanceof Uint16Array ? 'half' : 'float', heap),
  ) as [number, number, number];
  const codes = heap.allocate(n * 4);
  process(r, g, b, n);
  heap.kernels.packCodes(r, g, b, codes, n);
  const out = heap.bytes(codes, n * 4).slice();
  heap.release(mark);
  return out;
}
