import type { Heap } from '../kernel/heap.ts';
import type { Vector3 } from '../colour/matrix.ts';
import type { Quad } from './blend.ts';
import type { ParameterTable, StoredValues, Values } from './parameters.ts';

/** Planes of a source that a matte reads: three or four channels of a part. */
export interface MattePlanes {
  readonly source: string;
  readonly part: number;
  readonly colour: readonly [string, string, string];
  readonly alpha?: string;
  /** Numbers that must not be averaged. */
  readonly data: boolean;
}

/** What a matte may ask about the shot while it is compiled. */
export interface MattePlace {
  /** The passes of a source. Throws a sentence when there is no such source. */
  passes(source: string): readonly import('../sequence/passes.ts').Pass[];
}

/** What a matte works on: some samples of the thing that it is applied to. */
export interface MatteBlock<T extends ParameterTable> {
  readonly heap: Heap;
  readonly n: number;
  readonly values: Values<T>;
  /** Where the matte goes; values beyond 0 … 1 are limited by whoever uses it. */
  readonly to: number;
  /** The planes asked for, in their order. */
  readonly planes: readonly Quad[];
  /** Another matte's plane, for those that name one. */
  readonly other: number;
  /** What it is applied to, premultiplied, in the working space: the adjusted entry, an adjustment's input, a finish's total. */
  readonly subject: Quad;
  readonly subjectHasAlpha: boolean;
  readonly luminance: Vector3;
}

/** A matte: a plane of 0 … 1 that says where something acts. */
export interface MatteDefinition<K extends string = string, T extends ParameterTable = ParameterTable> {
  readonly kind: K;
  readonly title: string;
  readonly does: string;
  readonly published: string;
  readonly search?: readonly string[];
  readonly parameters: T;
  /** Planes of sources that it reads. Throws a sentence for a pass that is not there. */
  planes?(values: Values<T>, place: MattePlace): readonly MattePlanes[];
  /** The other matte that it is made of, by name. */
  other?(values: Values<T>): string;
  run(block: MatteBlock<T>): void;
}

export function matte<const K extends string, const T extends ParameterTable>(
  definition: MatteDefinition<K, T>,
): MatteDefinition<K, T> {
  return definition;
}

/** A matte as a document holds it. */
export type StoredMatte<D> =
  D extends MatteDefinition<infer K, infer T> ? { readonly kind: K } & StoredValues<T> : never;
