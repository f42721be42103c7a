import {
  ColourFileError,
  compilePlan,
  type CompileOptions,
  configEvidence,
  PlanError,
  UnknownNameError,
  type Evidence,
  type LedgerDocument,
  type Plan,
  type PlanSource,
} from '@june-haze/core';
import type { PictureEncoding } from '@june-haze/files';
import type { Viewing } from '@june-haze/contract';
import { RequestError } from '../errors.ts';
import { colourOf, type ColourPlace } from '../library/store.ts';
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
  readonly display: PictureEncoding | undefined;
}

export function writingColours(task: { colour: ColourPlace; workingSpace: string; viewing: Viewing }): WritingColours {
  const colour = colourOf(task.colour);
  const { display, view } = task.viewing;
  return {
    hasTwin: colour.linearTwin(task.workingSpace) !== undefined,
    display: colour.displayEncoding(display, view),
  };
}
