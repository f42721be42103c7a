import { ColourFileError } from '../config/place.ts';
import { largestCube } from '../transform/table3d.ts';
import type { Transform } from '../transform/transform.ts';
import { cube, fitDomain, group, table1d } from './make.ts';
import { endFault, longestTable, numbersOf, sizeOf, textLines, type TextLine } from './text.ts';

/** Entries of the table that a shaper with more than two points becomes. */
const shaperLength = 65536;

/** .csp: `CSPLUTV100`, 1D or 3D, optional metadata, a shaper for each channel, then the table or the cube (red fastest). */
export function readCsp(bytes: Uint8Array, file: string): Transform {
  const lines = textLines(bytes, file, undefined);
  let at = 0;
  const next = (): TextLine => {
    const line = lines[at++];
    if (!line) throw endFault(file, 'the file ends too early.');
    return line;
  };
  const head = next();
  if (!/^CSPLUTV100/i.test(head.text)) throw new ColourFileError('the file must start with CSPLUTV100.', head.place);
  const kind = next();
  const cubic = /^3D/i.test(kind.text);
  if (!cubic && !/^1D/i.test(kind.text)) throw new ColourFileError(`"${kind.text}" is neither 1D nor 3D.`, kind.place);
  if (/^BEGIN METADATA/i.test(lines[at]?.text ?? '')) while (!/^END METADATA/i.test(next().text));
  const shapers = [0, 1, 2].map(() => {
    const count = sizeOf(next(), 0, 2, 65536, 'the number of points');
    return { from: numbersOf(next(), 0, count), to: numbersOf(next(), 0, count) };
  });
  const children = shape(shapers, head);
  const sizes = next();
  if (cubic) {
    const size = sizeOf(sizes, 0, 2, largestCube, 'the size');
    if (sizes.words.some((w) => Number(w) !== size) || sizes.words.length !== 3)
      throw new ColourFileError('a cube needs three equal sizes.', sizes.place);
    const values = new Float32Array(size ** 3 * 3);
    for (let i = 0; i < size ** 3; i++) values.set(numbersOf(next(), 0, 3), i * 3);
    children.push(cube(size, values, false));
  } else {
    const length = sizeOf(sizes, 0, 2, longestTable, 'the length');
    const channels = [0, 1, 2].map(() => new Float32Array(length)) as [Float32Array, Float32Array, Float32Array];
    for (let i = 0; i < length; i++) numbersOf(next(), 0, 3).forEach((x, c) => (channels[c]![i] = x));
    children.push(table1d(channels));
  }
  return group(children);
}

interface Shaper {
  readonly from: readonly number[];
  readonly to: readonly number[];
}

function shape(shapers: readonly Shaper[], head: TextLine): Transform[] {
  for (const s of shapers) {
    if (s.from.some((x, i) => i > 0 && !(x > s.from[i - 1]!)))
      throw new ColourFileError("a shaper's points must go from low to high.", head.place);
  }
  const straight = shapers.every((s) => s.from.length === 2);
  const ends = (pick: (s: Shaper) => number) => shapers.map(pick) as [number, number, number];
  const fit = fitDomain(
    ends((s) => s.from[0]!),
    ends((s) => s.from.at(-1)!),
  );
  if (straight) {
    const [low, high] = [ends((s) => s.to[0]!), ends((s) => s.to[1]!)];
    if (low.every((x) => x === 0) && high.every((x) => x === 1)) return [...fit];
    const widen = fitDomain(low, high).map((t): Transform => ({ ...t, direction: 'inverse' }));
    return [...fit, ...widen];
  }
  const channels = shapers.map((s) => {
    const [low, high] = [s.from[0]!, s.from.at(-1)!];
    const slopes = splineSlopes(s);
    return Float32Array.from({ length: shaperLength }, (_, i) =>
      splineAt(s, slopes, low + (i / (shaperLength - 1)) * (high - low)),
    );
  });
  return [...fit, table1d(channels as [Float32Array, Float32Array, Float32Array])];
}

/** Slopes of a cubic through the points: those of the chords between neighbours; at the ends such that the last piece is a parabola. */
function splineSlopes({ from, to }: Shaper): number[] {
  const n = from.length;
  const chord = (i: number, j: number) => (to[j]! - to[i]!) / (from[j]! - from[i]!);
  if (n === 2) return [chord(0, 1), chord(0, 1)];
  const slopes = from.map((_, i) => (i === 0 || i === n - 1 ? 0 : chord(i - 1, i + 1)));
  slopes[0] = 2 * chord(0, 1) - slopes[1]!;
  slopes[n - 1] = 2 * chord(n - 2, n - 1) - slopes[n - 2]!;
  return slopes;
}

/** A Hermite cubic between two points. */
function splineAt({ from, to }: Shaper, slopes: readonly number[], x: number): number {
  let i = 0;
  while (i < from.length - 2 && x >= from[i + 1]!) i++;
  const width = from[i + 1]! - from[i]!;
  const t = (x - from[i]!) / width;
  const [t2, t3] = [t * t, t * t * t];
  return (
    (2 * t3 - 3 * t2 + 1) * to[i]! +
    (t3 - 2 * t2 + t) * width * slopes[i]! +
    (3 * t2 - 2 * t3) * to[i + 1]! +
    (t3 - t2) * width * slopes[i + 1]!
  );
}
