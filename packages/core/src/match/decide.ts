import { multiply3, type Matrix3 } from '../colour/matrix.ts';
import { prepareSteps } from '../colour/prepare.ts';
import type { CodeEncoding } from '../colour/codes.ts';
import type { ColourStep } from '../colour/steps.ts';
import type { Heap } from '../kernel/heap.ts';
import { countDifferences, differenceOf, noDifferences, type PictureDifference } from '../proof/differences.ts';
import { codedAsJpeg } from './jpegModel.ts';
import type { CodePicture, LightPicture } from './pictures.ts';
import { looked, savingTable } from './mistakes.ts';
import type { Guess } from './search.ts';

/** A guess held against all pixels. */
export interface Decided {
  readonly guess: Guess;
  readonly difference: PictureDifference;
  /** The share of pixels whose codes are exactly equal. */
  readonly equal: number;
  /** What the guess makes of the frame, RGBA8, as large as the picture. */
  readonly made: Uint8ClampedArray;
}

/** Rows that are evaluated at once: they fit the cache. */
const bandRows = 32;

/** The codes that a guess makes of light, RGBA8; `averageAfter` times smaller both ways, its codes averaged. */
export function madeBy(guess: Guess, light: LightPicture, averageAfter: number, heap: Heap): Uint8ClampedArray {
  const { width, height, planes } = light;
  const [outWidth, outHeight] = [Math.floor(width / averageAfter), Math.floor(height / averageAfter)];
  const out = new Uint8ClampedArray(4 * outWidth * outHeight).fill(255);
  const sums = new Float32Array(3 * outWidth);
  const mark = heap.mark();
  const run = prepareSteps(stepsOf(guess), heap);
  const table = guess.mistake ? savingTable(guess.mistake) : undefined;
  const rows = Math.max(averageAfter, bandRows - (bandRows % averageAfter));
  const band = planes.map(() => heap.allocatePlane(rows * width)) as [number, number, number];
  for (let top = 0; top < outHeight * averageAfter; top += rows) {
    const count = Math.min(rows, outHeight * averageAfter - top) * width;
    band.forEach((p, c) => heap.floats(p, count).set(planes[c]!.subarray(top * width, top * width + count)));
    run(...band, count);
    const views = band.map((p) => heap.floats(p, count));
    for (let row = 0; row < count / width; row += averageAfter) {
      sums.fill(0);
      for (let dy = 0; dy < averageAfter; dy++)
        for (let x = 0; x < outWidth * averageAfter; x++) {
          const from = (row + dy) * width + x;
          const into = 3 * Math.floor(x / averageAfter);
          for (let c = 0; c < 3; c++) sums[into + c]! += codeOf(views[c]![from]!, guess.gamma, table);
        }
      const to = 4 * outWidth * Math.floor((top + row) / averageAfter);
      const each = 255 / (averageAfter * averageAfter);
      for (let x = 0; x < outWidth; x++) for (let c = 0; c < 3; c++) out[to + 4 * x + c] = sums[3 * x + c]! * each;
    }
  }
  heap.release(mark);
  return out;
}

function codeOf(value: number, gamma: number, table: Float32Array | undefined): number {
  // Not a number is shown as black.
  let v = value > 0 ? (value < 1 ? value : 1) : 0;
  if (gamma !== 1) v = v ** (1 / gamma);
  return table ? looked(table, v) : v;
}

/** From the numbers as they are to display values: exposure and the space's matrix as one, then the view. */
function stepsOf({ space, exposure, view }: Guess): ColourStep[] {
  const gain = 2 ** exposure;
  const exposed: Matrix3 = [gain, 0, 0, 0, gain, 0, 0, 0, gain];
  return [{ kind: 'matrix', matrix: multiply3(space.matrix, exposed) } as ColourStep, ...view.steps];
}

/** A picture's codes as RGBA8. */
export function codesOf({ width, height, planes }: CodePicture): Uint8ClampedArray {
  const out = new Uint8ClampedArray(4 * width * height).fill(255);
  for (let i = 0; i < width * height; i++) for (let c = 0; c < 3; c++) out[4 * i + c] = 255 * planes[c]![i]!;
  return out;
}

/** Holds a guess against all of a picture. A JPEG is held against what its own coding makes of the guess. */
export function decide(
  guess: Guess,
  light: LightPicture,
  picture: CodePicture,
  codes: Uint8ClampedArray,
  averageAfter: number,
  encoding: CodeEncoding,
  heap: Heap,
): Decided {
  const { width, height, jpeg } = picture;
  const plain = madeBy(guess, light, averageAfter, heap);
  const made = jpeg ? codedAsJpeg(plain, width, height, jpeg) : plain;
  const counts = noDifferences();
  countDifferences(codes, made, width, encoding, { x: 0, y: 0, width, height }, counts);
  const difference = differenceOf(counts, width);
  return { guess, difference, equal: counts.codes[0]! / Math.max(1, counts.pixels), made };
}

/** The mean difference of two predictions, in codes: whether a picture can tell them apart at all. */
export function between(a: Uint8ClampedArray, b: Uint8ClampedArray): number {
  let sum = 0;
  for (let i = 0; i < a.length; i += 4)
    sum += Math.abs(a[i]! - b[i]!) + Math.abs(a[i + 1]! - b[i + 1]!) + Math.abs(a[i + 2]! - b[i + 2]!);
  return a.length ? sum / (0.75 * a.length) : 0;
}
