import type { Plane } from '../exr/plane.ts';
import type { Window } from '../image/level.ts';
import type { Heap } from '../kernel/heap.ts';
import type { Quad } from '../operations/blend.ts';
import type { WholePicture } from '../operations/finish.ts';
import type { Plan, PlanMatte, PlanStep } from './plan.ts';
import type { RowStatistics } from './statistics.ts';

/** The planes of one plan input. Halves as Uint16Array bit patterns. */
export interface InputPlanes {
  readonly colour: readonly [Plane, Plane, Plane];
  readonly alpha?: Plane;
  /** What the planes hold, in pixels of the source's picture at the evaluated level; the rows asked for, whole, when left out. */
  readonly window?: Window;
  /** Where there are data: outside it is transparent, also without alpha. All of the window when left out. */
  readonly data?: Window;
}

/** A step's picture over some rows, converted and adjusted, left in the heap by an earlier evaluation. */
export interface KeptPicture {
  /** Red, green, blue and, when it has one, alpha: premultiplied, whole rows. */
  readonly planes: readonly number[];
  readonly alpha: boolean;
  readonly top: number;
  readonly end: number;
}

/** A run's total before one of its steps, left in the heap by an earlier evaluation. */
export interface KeptTotal {
  /** How many steps are in it. */
  readonly steps: number;
  readonly planes: Quad;
  readonly top: number;
  readonly end: number;
}

export interface Evaluation {
  /** Of the whole picture, at the level. */
  readonly width: number;
  /** The whole picture's rows; those asked for, when left out. */
  readonly height?: number;
  /** The rows asked for: from `firstRow` on, `rows` of them. */
  readonly firstRow?: number;
  readonly rows: number;
  /** How often the picture is halved. */
  readonly level?: number;
  /** In the plan's order of inputs; see `neededRows` for what they must hold. */
  readonly inputs: readonly InputPlanes[];
  /** For nodes that look at the whole picture, by node: gathered before, see `gather`. */
  readonly whole?: ReadonlyMap<number, WholePicture>;
  /** Pictures of steps that need not be made again; see `keepPicture`. */
  readonly kept?: ReadonlyMap<PlanStep, KeptPicture>;
  /** Totals of runs, by node, that need not be made again; not heeded where statistics are asked for. See `keepTotal`. */
  readonly keptTotals?: ReadonlyMap<number, KeptTotal>;
  /** Rows per band. Results do not depend on it, to the bit. */
  readonly bandRows?: number;
  /** Shares and balance cost about as much as the sum itself; leave them out where nobody looks. */
  readonly statistics?: boolean;
  /**
   * Called with each finished band, its planes still in the heap, to be written over as wanted: pixels premultiplied, scene-linear, working
   * space. `row` counts from `firstRow`.
   */
  onBand(row: number, rows: number, total: Quad, heap: Heap): void;
}

/** Rows of a node's picture that were made, in the heap. */
export interface Made {
  readonly top: number;
  readonly end: number;
  readonly quad: Quad;
}

/** What the parts of an evaluation share. */
export interface Surroundings {
  readonly plan: Plan;
  readonly heap: Heap;
  readonly job: Evaluation;
  readonly statistics: RowStatistics | undefined;
  readonly width: number;
  /** Of the whole picture, at the level. */
  readonly height: number;
  readonly level: number;
  /** The first of the rows asked for. */
  readonly top: number;
  /**
   * Rows of a node: made once, and whole. They stay in the heap: whoever marks it and releases the mark asks for them before; see
   * `prepareMatte`.
   */
  rows(node: number, top: number, end: number): Made;
  /** Makes the nodes that a matte reads for some rows, and the matte itself where it does not hang on what it is applied to. */
  prepareMatte(matte: PlanMatte | undefined, top: number, end: number): void;
  /** Where a matte's rows lie that `prepareMatte` made; undefined where it did not. */
  madeMatte(matte: PlanMatte, top: number, end: number): number | undefined;
  quad(samples: number): Quad;
  /** Luminance of one row of a block. */
  light(quad: Quad, y: number): number;
  /** Where a row's statistics go; undefined for rows that were made only for their neighbours. */
  place(row: number): number | undefined;
}
