import type { Kernels } from '../kernel/kernels.ts';

/** Four planes in the heap: red, green, blue, alpha. */
export type Quad = readonly [number, number, number, number];

/** How an entry S acts on the running total T, both premultiplied; m is the mix, times a matte. T ← T + m · (op(T, S) − T). */
export interface BlendDefinition<K extends string = string> {
  readonly kind: K;
  readonly title: string;
  /** What stands before a row, and what it says: "Sun adds". */
  readonly sign: string;
  readonly verb: string;
  readonly does: string;
  readonly published: string;
  /** Whether it acts on light and leaves the total's alpha, or composes alpha too. */
  readonly alpha: 'leaves' | 'composes';
  /** T ← op(T, S), in place; S stays what it is: it may be a picture that is kept. */
  apply(k: Kernels, total: Quad, entry: Quad, n: number): void;
  /** The same with a mix in one go, where that is quicker and as exact. */
  applyMixed?(k: Kernels, total: Quad, entry: Quad, n: number, mix: number): void;
}

export function blend<const K extends string>(definition: BlendDefinition<K>): BlendDefinition<K> {
  return definition;
}

/** Runs over the three planes of colour. */
export function eachColour(run: (total: number, entry: number) => void, total: Quad, entry: Quad): void {
  for (let c = 0; c < 3; c++) run(total[c]!, entry[c]!);
}
