import {
  colourPartSteps,
  UnknownNameError,
  writeLut,
  WritingError,
  type ColourPart,
  type Matrix3,
  type Vector3,
  type WrittenKind,
  type WrittenLut,
} from '@june-haze/core';
import type { Viewing } from '@june-haze/contract';
import { colourOf, type ColourPlace } from '../library/store.ts';
import type { Answered } from './colourTasks.ts';
import { threadHeap } from './evaluateFrame.ts';

// LUT files for other programs: written, read again, and measured against the exact steps.

function answered(write: () => WrittenLut): Answered<WrittenLut> {
  try {
    return { value: write() };
  } catch (error) {
    if ([UnknownNameError, WritingError, RangeError].some((kind) => error instanceof kind))
      return { refused: (error as Error).message };
    throw error;
  }
}

interface LutTask {
  readonly colour: ColourPlace;
  readonly workingSpace: string;
  readonly space: string;
  readonly size: number;
  readonly kind: WrittenKind;
}

/** A shot's viewing as a LUT file. */
export const writeViewing = (task: LutTask & { readonly viewing: Viewing }): Answered<WrittenLut> =>
  answered(() => {
    const { viewing, workingSpace } = task;
    const colour = colourOf(task.colour);
    return writeLut(
      {
        ...task,
        colour,
        steps: colour.view(workingSpace, viewing),
        title: `${viewing.display} / ${viewing.view}, for ${task.space}`,
        output: `codes of ${viewing.display}`,
      },
      threadHeap(),
    );
  });

/** A ledger's grades of the whole total as a LUT file that takes and gives numbers of a space. */
export const writeColourPart = (
  task: LutTask & { readonly part: ColourPart; readonly frame: number },
): Answered<WrittenLut> =>
  answered(() => {
    const { part, frame, workingSpace, space } = task;
    const colour = colourOf(task.colour);
    const steps = [...colourPartSteps(part, colour, workingSpace, frame), ...colour.conversion(workingSpace, space)];
    const title = `${part.grades.map((e) => e.name).join(', ')}, for ${space}`;
    return writeLut({ ...task, colour, steps, title, output: `numbers of ${space}` }, threadHeap());
  });

/** A matrix in the working space as a LUT file that takes and gives numbers of a space. */
export const writeMatrix = (
  task: LutTask & { readonly matrix: readonly number[]; readonly offset: Vector3 },
): Answered<WrittenLut> =>
  answered(() => {
    const { workingSpace, space, offset } = task;
    const colour = colourOf(task.colour);
    const matrix = task.matrix as unknown as Matrix3;
    return writeLut(
      {
        ...task,
        colour,
        steps: [{ kind: 'matrix', matrix, offset }, ...colour.conversion(workingSpace, space)],
        title: `solved by a chart, for ${space}`,
        output: `numbers of ${space}`,
      },
      threadHeap(),
    );
  });
