import type { Heap } from '../kernel/heap.ts';
import type { Vector3 } from '../colour/matrix.ts';
import type { Pass } from '../sequence/passes.ts';
import type { Quad } from './blend.ts';
import type { ParameterTable, StoredValues, Values } from './parameters.ts';

/** What a matte reads of a source: channels as they are, or a pass as light, in its own space and multiplied by its alpha. */
export type MattePlanes = ChannelPlanes | { readonly source: string; readonly light: Pass };

/** Three or four channels of a part. */
interface ChannelPlanes {
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
  passes(source: string): readonly Pass[];
}

/** What a matte works on: some samples of the thing that it is applied to. */
export interface MatteBlock<T extends ParameterTable> {
  readonly heap: Heap;
  readonly n: number;
  readonly values: Values<T>;
  /** Where the matte goes; values beyond 0 … 1 are limited by whoever uses it. */
  readonly to: number;
  /** How often the picture is halved: sizes are in pixels of the full one. */
  readonly level: number;
  /** Of the whole picture, at its level. */
  readonly width: number;
  readonly height: number;
  /** The rows that are wanted, from `top` to before `end`. */
  readonly top: number;
  readonly end: number;
  /** The planes asked for, in their order: the rows wanted and, within the picture, those around that `reach` asks for. */
  readonly planes: readonly Quad[];
  /** The planes of the other mattes that it is made of, of the same rows; limited to 0 … 1. */
  readonly others: readonly number[];
  readonly fromTop: number;
  readonly fromEnd: number;
  /** What it is applied to, premultiplied, in the working space: the adjusted entry, an adjustment's input, a finish's total. */
  readonly subject: Quad;
  readonly subjectHasAlpha: boolean;
  readonly luminance: Vector3;
}

/** What a matte selects by, for a histogram with the matte's shape over it. */
export interface MatteMeasure<T extends ParameterTable> {
  /** Numbers of the pass that it reads, or the brightness or hue of what it is applied to. */
  readonly of: 'pass' | 'brightness' | 'hue';
  /** How its axis runs: even, or in stops. */
  readonly scale: 'even' | 'stops';
  /** The parameters that are its ends, to be dragged; none where they are not ends. */
  readonly ends: readonly (keyof T & string)[];
  /** The matte's value over the measure, as corners [measure, value]; beyond them it stays. */
  shape(values: Values<T>): readonly (readonly [number, number])[];
}

/** A place in the picture, in pixels of the full one, right and down. */
export type PicturePoint = readonly [x: number, y: number];

/** How a shape is held and moved in the picture. */
export interface MatteInPicture<V> {
  /** What can be dragged. */
  handles(values: V): readonly { readonly id: string; readonly title: string; readonly at: PicturePoint }[];
  /** The parameters that change when a handle is dragged somewhere. */
  moved(values: V, id: string, to: PicturePoint): Readonly<Record<string, unknown>>;
  /** Lines to be drawn. */
  outlines(values: V): readonly (readonly PicturePoint[])[];
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
  /** The other mattes that it is made of, by name. */
  others?(values: Values<T>): readonly string[];
  /** Rows and columns around that it looks at, at a level; none when left out. */
  reach?(values: Values<T>, level: number): number;
  /** It is made of what it is applied to: then nothing can look at its neighbours. */
  readonly ofSubject?: true;
  /** It hangs on where a pixel lies in the picture. */
  readonly ofPlace?: true;
  readonly measure?: MatteMeasure<T>;
  /** For shapes of the picture. */
  readonly inPicture?: MatteInPicture<Values<T>>;
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
