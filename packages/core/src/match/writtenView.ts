import { isLinearMap, mergeSteps } from '../colour/merge.ts';
import { identity3 } from '../colour/matrix.ts';
import type { ColourStep } from '../colour/steps.ts';
import type { ViewChoice } from '../colour/views.ts';
import type { ShotColour } from '../config/shotColour.ts';
import type { Heap } from '../kernel/heap.ts';
import { readLut } from '../lut/read.ts';
import { writeClf, writeCube, writeSpimtx } from '../lut/write.ts';
import { selfContainedSteps } from '../transform/fileSteps.ts';
import { probeColours, throughSteps } from './candidates.ts';

export const writtenKinds = ['cube', 'clf', 'spimtx'] as const;
export type WrittenKind = (typeof writtenKinds)[number];

/** A viewing as a file for other programs. */
export interface WrittenView {
  readonly text: string;
  /** How far the file, read again, lies from the exact viewing, in 8-bit codes over colours of many hues and brightnesses. */
  readonly error: { readonly mean: number; readonly p99: number; readonly max: number };
  /** The light that the file can take: beyond, it shows its ends. */
  readonly holds: readonly [low: number, high: number];
}

export interface ViewToWrite {
  readonly colour: ShotColour;
  readonly workingSpace: string;
  readonly viewing: ViewChoice;
  /** The space of the numbers that the file takes, a log space as a rule. */
  readonly space: string;
  readonly size: number;
  readonly kind: WrittenKind;
}

/** A viewing cannot be written in a kind of file. */
export class WritingError extends Error {}

/**
 * Writes a viewing as a LUT file for numbers of a space, and says how far it lies from the exact one. Throws a WritingError for a matrix
 * file of a viewing that bends, and UnknownNameErrors for what is not there.
 */
export function writeView(task: ViewToWrite, heap: Heap): WrittenView {
  const { colour, workingSpace, viewing, space, kind } = task;
  const steps = mergeSteps([...colour.conversion(space, workingSpace), ...colour.view(workingSpace, viewing)]);
  const title = `${viewing.display} / ${viewing.view}, for ${space}`;
  const text = kind === 'spimtx' ? matrixText(steps) : cubeText(task, steps, title, heap);
  const read = selfContainedSteps(readLut(bytesOf(text), `view.${kind}`));
  return { text, error: errorOf(task, steps, read, heap), holds: heldBy(task, heap) };
}

/** A text's bytes; letters beyond ASCII stand in titles only, and say nothing of its numbers. */
const bytesOf = (text: string) => Uint8Array.from(text, (c) => Math.min(127, c.charCodeAt(0)));

function matrixText(steps: readonly ColourStep[]): string {
  const unclamped = steps.filter((s) => s.kind !== 'clamp');
  if (!isLinearMap(unclamped))
    throw new WritingError('This viewing bends light: a matrix cannot hold it. Write it as a cube.');
  const [first] = mergeSteps(unclamped);
  return writeSpimtx(first?.kind === 'matrix' ? first.matrix : identity3);
}

function cubeText(
  { space, size, kind, viewing }: ViewToWrite,
  steps: readonly ColourStep[],
  title: string,
  heap: Heap,
): string {
  const at = (n: number, turn: number) => (Math.floor(n / size ** turn) % size) / (size - 1);
  const values = throughSteps(steps, heap, size ** 3, (n) => [at(n, 0), at(n, 1), at(n, 2)]);
  if (kind === 'clf') return writeClf({ title, input: space, output: `${viewing.display} codes` }, size, values);
  return writeCube(title, size, values, [`Takes numbers of ${space}, 0 to 1; gives codes of ${viewing.display}.`]);
}

/** The probe colours as numbers of the file's space, those that it can take. */
function probes({ colour, workingSpace, space }: ViewToWrite, heap: Heap): Float32Array {
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
  task: ViewToWrite,
  exact: readonly ColourStep[],
  read: readonly ColourStep[],
  heap: Heap,
): WrittenView['error'] {
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
function heldBy({ colour, workingSpace, space }: ViewToWrite, heap: Heap): readonly [number, number] {
  const ends = throughSteps(colour.conversion(space, workingSpace), heap, 2, (i) => [i, i, i]);
  return [ends[1]!, ends[4]!];
}
