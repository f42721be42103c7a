import { mergeSteps } from '../colour/merge.ts';
import { identity3 } from '../colour/matrix.ts';
import type { ColourStep } from '../colour/steps.ts';
import type { ShotColour } from '../config/shotColour.ts';
import type { Heap } from '../kernel/heap.ts';
import { readLut } from '../lut/read.ts';
import { writeClf, writeCube, writeSpimtx } from '../lut/write.ts';
import { selfContainedSteps } from '../transform/fileSteps.ts';
import { probeColours, throughSteps } from './candidates.ts';

export const writtenKinds = ['cube', 'clf', 'spimtx'] as const;
export type WrittenKind = (typeof writtenKinds)[number];

/** Steps as a file for other programs. */
export interface WrittenLut {
  readonly text: string;
  /** How far the file, read again, lies from the exact steps, in 8-bit codes over colours of many hues and brightnesses. */
  readonly error: { readonly mean: number; readonly p99: number; readonly max: number };
  /** The light that the file can take: beyond, it shows its ends. */
  readonly holds: readonly [low: number, high: number];
}

export interface LutToWrite {
  readonly colour: ShotColour;
  readonly workingSpace: string;
  /** From the working space to what the file gives. */
  readonly steps: readonly ColourStep[];
  /** What the steps are, for its title. */
  readonly title: string;
  /** What the file gives, in words. */
  readonly output: string;
  /** The space of the numbers that the file takes, a log space as a rule. */
  readonly space: string;
  readonly size: number;
  readonly kind: WrittenKind;
}

/** Steps cannot be written in a kind of file. */
export class WritingError extends Error {}

/**
 * Writes steps from the working space as a LUT file for numbers of a space, and says how far it lies from the exact ones. Throws a
 * WritingError for a matrix file of steps that bend, and UnknownNameErrors for what is not there.
 */
export function writeLut(task: LutToWrite, heap: Heap): WrittenLut {
  const { colour, workingSpace, space, kind } = task;
  const steps = mergeSteps([...colour.conversion(space, workingSpace), ...task.steps]);
  const text = kind === 'spimtx' ? matrixText(steps) : cubeText(task, steps, heap);
  const read = selfContainedSteps(readLut(bytesOf(text), `written.${kind}`));
  return { text, error: errorOf(task, steps, read, heap), holds: heldBy(task, heap) };
}

/** A text's bytes; letters beyond ASCII stand in titles only, and say nothing of its numbers. */
const bytesOf = (text: string) => Uint8Array.from(text, (c) => Math.min(127, c.charCodeAt(0)));

function matrixText(steps: readonly ColourStep[]): string {
  const unclamped = steps.filter((s) => s.kind !== 'clamp');
  const [first, ...others] = mergeSteps(unclamped);
  if (others.length || (first && first.kind !== 'matrix'))
    throw new WritingError('This bends light: a matrix cannot hold it. Write it as a cube.');
  return first?.kind === 'matrix' ? writeSpimtx(first.matrix, first.offset) : writeSpimtx(identity3);
}

function cubeText({ space, size, kind, title, output }: LutToWrite, steps: readonly ColourStep[], heap: Heap): string {
  const at = (n: number, turn: number) => (Math.floor(n / size ** turn) % size) / (size - 1);
  const values = throughSteps(steps, heap, size ** 3, (n) => [at(n, 0), at(n, 1), at(n, 2)]);
  if (kind === 'clf') return writeClf({ title, input: space, output }, size, values);
  return writeCube(title, size, values, [`Takes numbers of ${space}, 0 to 1; gives ${output}.`]);
}

/** The probe colours as numbers of the file's space, those that it can take. */
function probes({ colour, workingSpace, space }: LutToWrite, heap: Heap): Float32Array {
  const n = probeColours.length / 3;
  const all = throughSteps(colour.conversion(workingSpace, space), heap, n, (i) => [
    probeColours[3 * i]!,
    probeColours[3 * i + 1]!,
    probeColours[3 * i + 2]!,
  ]);
  const kept: number[] = [];
  for (let i = 0; i < all.length; i += 3) {
    const own = [all[i]!, all[i + 1]!, all[i + 2]!];
    if (own.every((v) => v >= 0 && v <= 1)) kept.push(...own);
  }
  return Float32Array.from(kept);
}

function errorOf(
  task: LutToWrite,
  exact: readonly ColourStep[],
  read: readonly ColourStep[],
  heap: Heap,
): WrittenLut['error'] {
  const numbers = probes(task, heap);
  const n = numbers.length / 3;
  const at = (i: number): readonly [number, number, number] => [
    numbers[3 * i]!,
    numbers[3 * i + 1]!,
    numbers[3 * i + 2]!,
  ];
  const [a, b] = [exact, read].map((steps) => throughSteps(steps, heap, n, at));
  const clamped = (v: number) => Math.min(1, Math.max(0, v));
  const apart = Float64Array.from(
    { length: 3 * n },
    (_, i) => 255 * Math.abs(clamped(a![i]!) - clamped(b![i]!)),
  ).sort();
  const mean = apart.reduce((s, d) => s + d, 0) / Math.max(1, apart.length);
  return { mean, p99: apart[Math.ceil(0.99 * apart.length) - 1] ?? 0, max: apart.at(-1) ?? 0 };
}

/** The grey light at both ends of the file's numbers. */
function heldBy({ colour, workingSpace, space }: LutToWrite, heap: Heap): readonly [number, number] {
  const ends = throughSteps(colour.conversion(space, workingSpace), heap, 2, (i) => [i, i, i]);
  return [ends[1]!, ends[4]!];
}
