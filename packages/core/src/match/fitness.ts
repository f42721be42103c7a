import type { Heap } from '../kernel/heap.ts';
import { throughSteps } from './candidates.ts';
import type { Decided } from './decide.ts';
import type { LeftOver } from './leftOver.ts';
import { savedBy } from './mistakes.ts';
import type { Registered } from './register.ts';
import type { Guess } from './search.ts';

/** Whether a picture can show how a render must look; what speaks against it, in sentences. */
export interface Fitness {
  readonly fit: boolean;
  readonly doubts: readonly string[];
}

/** Below this both do not grow lighter and darker at the same places: they show different things. */
const leastAgreement = 0.72;

/** What speaks against a picture as a reference, as far as it shows in its pixels. */
export function fitness(
  { guess, difference }: Decided,
  left: LeftOver,
  { agreement, registration }: Registered,
  heap: Heap,
): Fitness {
  const doubts: string[] = [];
  if (agreement < leastAgreement)
    doubts.push(
      'It does not show the same as the frame: edges lie elsewhere. It may be of another frame or of another state of the render.',
    );
  if (left.local) doubts.push(`Only parts of it differ: ${left.words}`);
  if (difference.maxCode <= withoutView) doubts.push(...viewDoubts(guess, heap));
  if (registration.scale !== 1) doubts.push('It is smaller than the frame: single pixels cannot be compared.');
  if (registration.shift.some((s) => s !== 0))
    doubts.push(`It lies ${registration.shift.map(Math.abs).join(' and ')} pixels off the frame, right and down.`);
  return { fit: !doubts.length, doubts };
}

/** A picture this near to a row was made by it, in codes. */
const withoutView = 2;

/** Whether a view that made a picture has no tone curve: a grey of 1 is white already, and one of 0.18 perhaps a code of 0.18. */
function viewDoubts(guess: Guess, heap: Heap): string[] {
  const greys = [0.18, 1];
  const shown = throughSteps(guess.view.steps, heap, greys.length, (i) => [greys[i]!, greys[i]!, greys[i]!]);
  const [middle, white] = [savedBy(guess, shown[0]!), shown[3]!];
  if (white < 0.995) return [];
  return Math.abs(middle - 0.18) < 0.01
    ? ['It looks saved without a view: linear numbers were written as codes.']
    : [
        'It looks saved without a tone curve: highlights are cut off at 1. Check that the renderer’s view was on as it was saved.',
      ];
}
