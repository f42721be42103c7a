import {
  ColourFileError,
  compilePlan,
  type CompileOptions,
  configEvidence,
  runSteps,
  type CodeEncoding,
  type ColourStep,
  PlanError,
  UnknownNameError,
  type Evidence,
  type LedgerDocument,
  type Plan,
  type PlanSource,
} from '@june-haze/core';
import type { Viewing } from '@june-haze/contract';
import { RequestError } from '../errors.ts';
import { colourOf, type ColourPlace } from '../library/store.ts';
import { threadHeap } from './evaluateFrame.ts';
import { settleColour } from '../shots/settleColour.ts';

// What is asked of a shot's colours beside pixels. Opening a config and compiling its tables can take seconds, so threads do it; the main
// thread gets plain data. A refusal comes back as its sentence, as threads do not carry kinds of errors.

export type Answered<T> = { readonly value: T } | { readonly refused: string };

function answered<T>(ask: () => T): Answered<T> {
  try {
    return { value: ask() };
  } catch (error) {
    const refusals = [PlanError, UnknownNameError, ColourFileError, RequestError];
    if (refusals.some((kind) => error instanceof kind)) return { refused: (error as Error).message };
    throw error;
  }
}

/** Compiles a ledger over its sources as they are declared. */
export const compileLedger = (task: {
  colour: ColourPlace;
  document: LedgerDocument;
  sources: readonly PlanSource[];
  workingSpace: string;
  options?: CompileOptions;
}): Answered<Plan> =>
  answered(() => compilePlan(task.document, task.sources, task.workingSpace, colourOf(task.colour), task.options));

/** A working space and a viewing as a config has them; see `settleColour`. */
export const settleColours = (task: {
  colour: ColourPlace;
  workingSpace: string;
  viewing: Viewing;
  fresh: boolean;
}): Answered<{ workingSpace: string; viewing: Viewing }> =>
  answered(() => settleColour(colourOf(task.colour), task.workingSpace, task.viewing, task.fresh));

/** What a config's file rules say of some places, in order. */
export function rulesOf(task: { colour: ColourPlace; places: readonly string[] }): Evidence[][] {
  const { config } = colourOf(task.colour);
  return task.places.map((place) => (config ? configEvidence(config, place) : []));
}

/** Whether a shot's colours have a space of this name. */
export const knowsSpace = (task: { colour: ColourPlace; space: string }): boolean =>
  colourOf(task.colour).knows(task.space);

/** What a shot's colours say of files to be written. */
export interface WritingColours {
  /** Linear files of the working space can name their primaries. */
  readonly hasTwin: boolean;
  /** The codes of the viewing's display, when pictures can be tagged with them. */
  readonly display: CodeEncoding | undefined;
  /** The view leaves light as it is: twice the light is twice the number. */
  readonly viewIsLinear: boolean;
  /** A display of each kind of codes, with a view of the same name where it has one and the light is not left as it is. */
  readonly others: Partial<Record<CodeEncoding, { readonly display: string; readonly view: string }>>;
}

export function writingColours(task: { colour: ColourPlace; workingSpace: string; viewing: Viewing }): WritingColours {
  const { workingSpace, viewing } = task;
  const colour = colourOf(task.colour);
  const linear = ({ display, view }: Pick<Viewing, 'display' | 'view'>) => {
    try {
      return keepsRatios(colour.view(workingSpace, { display, view, exposure: 0 }));
    } catch {
      // A view that cannot be opened says so where it is used.
      return false;
    }
  };
  const own = colour.displayEncoding(viewing.display, viewing.view);
  const others: WritingColours['others'] = {};
  for (const { name: display, views } of colour.displays(workingSpace))
    for (const view of [...views.filter((v) => v === viewing.view), ...views]) {
      const encoding = colour.displayEncoding(display, view);
      // Views are compiled one after the other: only those that may be offered.
      if (!encoding || others[encoding] || !['srgb', 'bt1886', own].includes(encoding)) continue;
      if (!linear({ display, view })) others[encoding] = { display, view };
    }
  const hasTwin = colour.linearTwin(workingSpace) !== undefined;
  return { hasTwin, display: own, viewIsLinear: linear(viewing), others };
}

/** Whether greys stay in proportion through steps: no display's codes do. */
function keepsRatios(steps: readonly ColourStep[]): boolean {
  const greys = [0.02, 0.04, 0.08, 0.16];
  const [, codes] = runSteps(steps, [greys, greys, greys], threadHeap().kernels);
  return (
    codes[3]! > 0 &&
    greys.every((g, i) => Math.abs(codes[i]! * greys[0]! - codes[0]! * g) <= 0.02 * Math.abs(codes[0]! * g))
  );
}
