import type { Heap } from '../kernel/heap.ts';
import type { Vector3 } from '../colour/matrix.ts';
import type { Quad } from './blend.ts';
import type { MattePlace, MattePlanes } from './matte.ts';
import type { ParameterTable, StoredValues, Values } from './parameters.ts';

/** A picture gathered whole, at a level of its own: four planes, premultiplied. */
export interface WholePicture {
  /** How often it is halved beyond the picture that is evaluated. */
  readonly halved: number;
  readonly width: number;
  readonly height: number;
  readonly planes: readonly Float32Array[];
}

/** Rows of the total for a finish to work on. */
export interface FinishBlock<T extends ParameterTable> {
  readonly heap: Heap;
  readonly values: Values<T>;
  /** How often the picture is halved: sizes are in pixels of the full one. */
  readonly level: number;
  /** Of the whole picture, at its level. */
  readonly width: number;
  readonly height: number;
  /** The total's rows, from `fromTop` to before `fromEnd`: those asked for and, within the picture, those around them. */
  readonly from: Quad;
  readonly fromTop: number;
  readonly fromEnd: number;
  /** Where the finished rows go, from `top` to before `end`. */
  readonly to: Quad;
  readonly top: number;
  readonly end: number;
  readonly luminance: Vector3;
  /** Whether the total has alpha: without, it covers, whatever its fourth plane holds. */
  readonly hasAlpha: boolean;
  /** The frame, for those that are another at each. */
  readonly frame: number;
  /** The planes asked for, in their order: those rows and what `reach` asks for around them, from `planesTop` to before `planesEnd`. */
  readonly planes: readonly Quad[];
  readonly planesTop: number;
  readonly planesEnd: number;
  /** For those that ask for all of the picture. */
  readonly whole: WholePicture | undefined;
}

/** A finish: a change of the whole running total that may look at neighbours. */
export interface FinishDefinition<K extends string = string, T extends ParameterTable = ParameterTable> {
  readonly kind: K;
  readonly title: string;
  readonly does: string;
  readonly published: string;
  readonly search?: readonly string[];
  readonly parameters: T;
  /** Whether these values do nothing: the finish then vanishes from the plan. */
  nothing(values: Values<T>): boolean;
  /** Planes of sources that it reads. Throws a sentence for a pass that is not there. */
  planes?(values: Values<T>, place: MattePlace): readonly MattePlanes[];
  /** It has adjustments of its own, which are done to the total; nothing else is. */
  readonly adjusts?: true;
  /** It is another at each frame. */
  readonly perFrame?: true;
  /** Rows and columns around that it looks at, at a level. */
  reach(values: Values<T>, level: number): number;
  /** For those that look at all of the picture: how often it is halved for them, and what of its light counts. */
  readonly whole?: {
    /** The parameters that this hangs on: while the others move, it stays as it is. */
    readonly by: readonly (keyof T & string)[];
    halvings(values: Values<T>, level: number): number;
    /** Takes out of a block, in place, what is not looked at. */
    gather(heap: Heap, total: Quad, n: number, values: Values<T>, luminance: Vector3): void;
    /** Makes of what was gathered, in place, what `run` looks at: once for all rows. */
    complete(heap: Heap, gathered: WholePicture, values: Values<T>, level: number, luminance: Vector3): void;
  };
  run(block: FinishBlock<T>): void;
}

export function finish<const K extends string, const T extends ParameterTable>(
  definition: FinishDefinition<K, T>,
): FinishDefinition<K, T> {
  return definition;
}

/** A finish's own fields as a document holds them. */
export type StoredFinish<D> =
  D extends FinishDefinition<infer K, infer T> ? { readonly finish: K } & StoredValues<T> : never;
