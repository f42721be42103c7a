import { mergeSteps } from '../colour/merge.ts';
import { prepareSteps } from '../colour/prepare.ts';
import type { CodeEncoding } from '../colour/displayCodes.ts';
import type { ColourStep } from '../colour/steps.ts';
import type { Heap } from '../kernel/heap.ts';
import { countDifferences, differenceOf, noDifferences, type Figures } from '../proof/differences.ts';
import { exposedBy } from './candidates.ts';
import { codedAsJpeg } from './jpegModel.ts';
import type { CodePicture, LightPicture } from './pictures.ts';
import { looked, savingTable, type Saving } from './mistakes.ts';
import type { Guess } from './search.ts';

/** How a picture is made of light: colour steps to display values, then how those are saved. */
export interface Making extends Saving {
  readonly steps: readonly ColourStep[];
}

/** A way of making held against pixels. */
export interface Held {
  readonly difference: CodeDifference;
  /** What it makes of the frame, RGBA8, as large as the picture. */
  readonly made: Uint8ClampedArray;
}

/** A guess held against pixels. */
export interface Decided extends Held {
  readonly guess: Guess;
}

/** How far the codes of two pictures lie apart, on the 8-bit scale. */
export interface CodeDifference {
  readonly maxCode: number;
  /** Over all pixels and the three channels. */
  readonly meanCode: number;
  /** Pixel of the largest difference. */
  readonly at: readonly [x: number, y: number];
  /** The share of pixels whose codes are exactly equal. */
  readonly equal: number;
}

/** Rows that are evaluated at once: they fit the cache. */
const bandRows = 32;

/** The codes that are made of light, RGBA8; `times` times smaller both ways, the mean of its codes. */
function madeBy(making: Making, light: LightPicture, times: number, heap: Heap): Uint8ClampedArray {
  const { width, planes } = light;
  const [outWidth, outHeight] = [Math.floor(width / times), Math.floor(light.height / times)];
  const out = new Uint8ClampedArray(4 * outWidth * outHeight).fill(255);
  const codes = new Float32Array(outWidth);
  const mark = heap.mark();
  const run = prepareSteps(making.steps, heap);
  const table = savingTable(making);
  const rows = Math.max(times, bandRows - (bandRows % times));
  const band = planes.map(() => heap.allocatePlane(rows * width)) as [number, number, number];
  for (let top = 0; top < outHeight; top += rows / times) {
    const count = Math.min(rows, (outHeight - top) * times) * width;
    const from = top * times * width;
    band.forEach((p, c) => heap.floats(p, count).set(planes[c]!.subarray(from, from + count)));
    run(...band, count);
    band.forEach((p, c) => {
      const values = heap.floats(p, count);
      for (let i = 0; i < count; i++)
        values[i] = 255 * (table ? looked(table, within(values[i]!)) : within(values[i]!));
      for (let row = 0; row < count / width / times; row++) {
        const codesOfRow = times === 1 ? values.subarray(row * width) : averagedRow(values, row, width, times, codes);
        for (let x = 0, to = 4 * outWidth * (top + row) + c; x < outWidth; x++, to += 4) out[to] = codesOfRow[x]!;
      }
    });
  }
  heap.release(mark);
  return out;
}

/** A row of means of squares of values. */
function averagedRow(
  values: Float32Array,
  row: number,
  width: number,
  times: number,
  into: Float32Array,
): Float32Array {
  into.fill(0);
  for (let y = row * times; y < (row + 1) * times; y++)
    for (let x = 0; x < into.length * times; x++) into[Math.floor(x / times)]! += values[y * width + x]!;
  for (let x = 0; x < into.length; x++) into[x]! /= times * times;
  return into;
}

/** Not a number is shown as black. */
const within = (v: number): number => (v > 0 ? (v < 1 ? v : 1) : 0);

/** From the numbers as they are to display values: to the base, exposure, then the view; then as it is saved. */
export function makingOf({ space, exposure, view, black, white, gamma, mistake }: Guess): Making {
  return { steps: mergeSteps([...space.toBase, ...exposedBy(exposure), ...view.steps]), black, white, gamma, mistake };
}

/** A picture's codes as RGBA8. */
export function codesOf({ width, height, planes }: CodePicture): Uint8ClampedArray {
  const out = new Uint8ClampedArray(4 * width * height).fill(255);
  for (let i = 0; i < width * height; i++) for (let c = 0; c < 3; c++) out[4 * i + c] = 255 * planes[c]![i]!;
  return out;
}

/** Holds a way of making against all of a picture. A JPEG is held against what its own coding makes of it. */
export function holdAgainst(
  making: Making,
  light: LightPicture,
  { width, height, jpeg }: CodePicture,
  codes: Uint8ClampedArray,
  averageAfter: number,
  heap: Heap,
): Held {
  const plain = madeBy(making, light, averageAfter, heap);
  const made = jpeg ? codedAsJpeg(plain, width, height, jpeg) : plain;
  return { difference: codeDifference(codes, made, width), made };
}

function codeDifference(a: Uint8ClampedArray, b: Uint8ClampedArray, width: number): CodeDifference {
  let [sum, equal, maxCode, at] = [0, 0, 0, 0];
  for (let i = 0; i < a.length; i += 4) {
    const [r, g, blue] = [Math.abs(a[i]! - b[i]!), Math.abs(a[i + 1]! - b[i + 1]!), Math.abs(a[i + 2]! - b[i + 2]!)];
    const most = r > g ? (r > blue ? r : blue) : g > blue ? g : blue;
    sum += r + g + blue;
    if (most === 0) equal++;
    else if (most > maxCode) [maxCode, at] = [most, i >> 2];
  }
  const n = Math.max(1, a.length / 4);
  return { maxCode, meanCode: sum / (3 * n), at: [at % width, Math.floor(at / width)], equal: equal / n };
}

/** About so many pixels tell how far a row that is not the best lies from the picture to the eye. */
const enoughPixels = 2_500;

/** CIEDE2000 between a picture and what a row makes: of all pixels, or of every so many rows where that is enough. */
export function seenDifference(
  codes: Uint8ClampedArray,
  made: Uint8ClampedArray,
  width: number,
  encoding: CodeEncoding,
  whole: boolean,
): Figures {
  const height = codes.length / 4 / width;
  const counts = noDifferences();
  const every = whole ? 1 : Math.max(1, Math.floor((width * height) / enoughPixels));
  for (let y = 0; y < height; y += every)
    countDifferences(codes, made, width, encoding, { x: 0, y, width, height: 1 }, counts);
  return differenceOf(counts, width).deltaE;
}

/** The mean difference of two predictions, in codes: whether a picture can tell them apart at all. */
export function between(a: Uint8ClampedArray, b: Uint8ClampedArray): number {
  let sum = 0;
  for (let i = 0; i < a.length; i += 4)
    sum += Math.abs(a[i]! - b[i]!) + Math.abs(a[i + 1]! - b[i + 1]!) + Math.abs(a[i + 2]! - b[i + 2]!);
  return a.length ? sum / (0.75 * a.length) : 0;
}
