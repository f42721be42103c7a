import type { Heap } from '../kernel/heap.ts';
import type { ColourStep, PlaneStep } from './steps.ts';

/** A processor whose constants lie in a heap, ready to run over planes of that heap. */
export type PreparedProcessor = (r: number, g: number, b: number, n: number) => void;
export type PreparedPlane = (plane: number, n: number) => void;

/** The part of a channel's numbers over which a step changes: beyond lie flat ends. */
export type Ends = readonly [low: number, high: number];

/** All that anybody needs to know of a kind of step: one file each, listed in `stepKinds/registry.ts`. */
export interface StepKind<S extends ColourStep = ColourStep> {
  readonly kind: S['kind'];
  /** Places the step's constants in a heap, where they live until the caller releases its mark. */
  prepare(step: S, heap: Heap): PreparedProcessor;
  /** The step that undoes it. Throws a RangeError where the inverse must be made where the step is made itself. */
  invert(step: S): readonly ColourStep[];
  /** What is left of the step before it and this one together; undefined where both stay. */
  merge?(before: ColourStep, step: S): readonly ColourStep[] | undefined;
  /** Whether it does nothing, and may go. */
  nothing?(step: S): boolean;
  /** Where it cuts off what lies beyond a table's ends, by channel; undefined where it does not. */
  cutsOff?(step: S): readonly [Ends, Ends, Ends] | undefined;
}

/** A kind of step over one plane; over three, it runs on each. */
export interface PlaneKind<S extends PlaneStep = PlaneStep> extends StepKind<S> {
  preparePlane(step: S, heap: Heap): PreparedPlane;
  invert(step: S): readonly [PlaneStep];
}

export function stepKind<S extends ColourStep>(definition: StepKind<S>): StepKind {
  return definition;
}

export function planeKind<S extends PlaneStep>(definition: Omit<PlaneKind<S>, 'prepare'>): PlaneKind {
  const made: PlaneKind<S> = {
    ...definition,
    prepare(step, heap) {
      const run = definition.preparePlane(step, heap);
      return (r, g, b, n) => {
        run(r, n);
        run(g, n);
        run(b, n);
      };
    },
  };
  return made;
}

/** A step's own type, by its kind. */
export type StepOf<K extends ColourStep['kind']> = Extract<ColourStep, { kind: K }>;

export const sameNumbers = (a: object, b: object): boolean => a === b || JSON.stringify(a) === JSON.stringify(b);

/** The error of a step that cannot be turned round. */
export const cannotTurn = (what: string) => new RangeError(`The step "${what}" cannot be turned round.`);
