import type { ColourStep } from '../colour/steps.ts';
import type { Vector3 } from '../colour/matrix.ts';
import { findMatte, type Operation } from '../operations/registry.ts';
import type { Placement } from './planSource.ts';
import type { Size } from './sizes.ts';

/** Planes that a plan needs: three colour channels and, when `alpha` is given, a fourth. */
export interface PlanInput {
  readonly sourceId: string;
  readonly part: number;
  /** Numbers that are no light: a smaller level takes samples as they are and never averages. */
  readonly data?: true;
  readonly colour: readonly [string, string, string];
  readonly alpha?: { readonly part: number; readonly channel: string };
  /** The colour is not multiplied by alpha yet. */
  readonly straight?: true;
}

/** Planes of a source as they are, or of another node. */
export type Planes =
  { readonly kind: 'input'; readonly input: number } | { readonly kind: 'node'; readonly node: number };

/** What a step lays on the total. A node's picture says whether it has alpha; an input's planes do. */
export type Picture =
  | Laid
  /** `alpha`: it has one of its own; without, it covers wholly. */
  | { readonly kind: 'subtotal'; readonly steps: readonly PlanStep[]; readonly alpha: boolean };

/** A picture that is loaded as it is. */
export type Laid =
  | { readonly kind: 'input'; readonly input: number }
  | { readonly kind: 'node'; readonly node: number; readonly alpha: boolean }
  /** Not premultiplied. */
  | { readonly kind: 'fill'; readonly value: readonly [number, number, number, number] };

/** Colour steps with their rule of alpha, and where they act. */
export interface Change {
  readonly steps: readonly ColourStep[];
  readonly alpha: 'any' | 'straight';
  readonly matte?: PlanMatte;
}

/** A matte with the planes that it reads, by its definition's kind. */
export interface PlanMatte {
  readonly kind: string;
  readonly values: Readonly<Record<string, unknown>>;
  readonly planes: readonly Planes[];
  readonly others?: readonly PlanMatte[];
}

/** The rows of a matte's own planes, and of the mattes that it is made of, that some rows of it look at. */
export function matteRows(
  { kind, values }: PlanMatte,
  top: number,
  end: number,
  height: number,
  level: number,
): readonly [top: number, end: number] {
  const reach = findMatte(kind)?.reach?.(values as never, level) ?? 0;
  return [Math.max(0, top - reach), Math.min(height, end + reach)];
}

export interface PlanStep {
  /** Index of the entry in `entryIds`. */
  readonly entry: number;
  readonly picture: Picture;
  readonly changes: readonly Change[];
  readonly operation: Operation;
  readonly mix: number;
  readonly matte?: PlanMatte;
  /** The matte itself is laid on the total, to be looked at: white where the step would act. */
  readonly showsMatte?: true;
}

/** A run of point operations on a total that begins with nothing, or with another node's. */
export interface RunNode {
  readonly kind: 'run';
  readonly from?: number;
  /** Where the alpha comes from that it begins with. */
  readonly startAlpha?: Planes;
  readonly steps: readonly PlanStep[];
}

/** A finish of another node's picture, by its definition's kind. */
export interface FinishNode {
  readonly kind: 'finish';
  readonly from: number;
  readonly entry: number;
  readonly finish: string;
  readonly values: Readonly<Record<string, unknown>>;
  /** What it reads of sources. */
  readonly planes?: readonly Planes[];
  /** For those that are another at each frame. */
  readonly frame?: number;
  readonly mix: number;
  readonly matte?: PlanMatte;
  /** Whether the total has alpha where it acts. */
  readonly alpha: boolean;
}

/** A source of another size, or one that is moved: converted on its own pixels, then placed. Its picture has alpha: outside it is transparent. */
export interface PlaceNode {
  readonly kind: 'place';
  readonly input: number;
  readonly changes: readonly Change[];
  readonly size: Size;
  readonly placement: Placement;
  /** How much wider its pixels are than the shot's. */
  readonly aspect: number;
  /** The shot's size, which it is placed in. */
  readonly into: Size;
}

export type PlanNode = RunNode | FinishNode | PlaceNode;

/** What is wrong with an entry: the rest of the plan goes on without it. */
export interface Fault {
  readonly entry: string;
  readonly message: string;
}

/** A ledger compiled for a frame. Plain data, so that it travels to workers as it is. */
export interface Plan {
  readonly inputs: readonly PlanInput[];
  /** Each after those that it is made of; the last gives the total. */
  readonly nodes: readonly PlanNode[];
  /** Ids of the entries that act, in order. */
  readonly entryIds: readonly string[];
  /** Weights of the working space's luminance, for shares. */
  readonly luminance: Vector3;
  /** Whether the total has alpha at the end; without, it covers: alpha is 1 everywhere. */
  readonly hasAlpha: boolean;
  /** What the total is balanced against, and the changes that bring it to the working space. */
  readonly balance?: { readonly picture: Laid; readonly changes: readonly Change[] } | undefined;
  /** Entries that were left out, and why. */
  readonly faults: readonly Fault[];
}

/** Whether each pixel of a plan hangs on its own numbers alone: then any part of a picture is evaluated by itself. Finishes and placed sources look around, as some mattes do. */
export const isPointwise = (plan: Plan): boolean =>
  plan.nodes.every((n) => n.kind === 'run') && [...stepsOf(plan)].every((s) => mattesOf(s).every(isMatteOfPixel));

const mattesOf = (step: PlanStep): PlanMatte[] =>
  [step.matte, ...step.changes.map((c) => c.matte)].filter((m) => m !== undefined);

function isMatteOfPixel({ kind, others = [] }: PlanMatte): boolean {
  const definition = findMatte(kind);
  return !definition?.reach && !definition?.ofPlace && others.every(isMatteOfPixel);
}

/** A ledger that cannot be evaluated: the message names the entry and what it lacks. */
export class PlanError extends Error {
  constructor(message: string) {
    super(message);
    this.name = 'PlanError';
  }
}

/** All steps of a plan, those of subtotals after their own. */
export function* stepsOf(plan: Plan): Generator<PlanStep> {
  for (const node of plan.nodes) if (node.kind === 'run') yield* walkSteps(node.steps);
}

function* walkSteps(steps: readonly PlanStep[]): Generator<PlanStep> {
  for (const step of steps) {
    yield step;
    if (step.picture.kind === 'subtotal') yield* walkSteps(step.picture.steps);
  }
}
