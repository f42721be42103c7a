import type { Decided } from './decide.ts';
import type { LeftOver } from './leftOver.ts';
import type { Registered } from './register.ts';

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
): Fitness {
  const doubts: string[] = [];
  if (agreement < leastAgreement)
    doubts.push(
      'It does not show the same as the frame: edges lie elsewhere. It may be of another frame or of another state of the render.',
    );
  if (left.local) doubts.push(`Only parts of it differ: ${left.words}`);
  if (guess.mistake === 'not-encoded')
    doubts.push('It looks saved without a view: linear numbers were written as codes.');
  else if (/^(untoned|raw|none|standard|un-tone-mapped)$/i.test(guess.view.view) && difference.maxCode <= 2)
    doubts.push(
      'It looks saved without a tone curve: highlights are cut off at 1. Check that the renderer’s view was on as it was saved.',
    );
  if (registration.scale !== 1) doubts.push('It is smaller than the frame: single pixels cannot be compared.');
  if (registration.shift.some((s) => s !== 0))
    doubts.push(`It lies ${registration.shift.map(Math.abs).join(' and ')} pixels off the frame, right and down.`);
  return { fit: !doubts.length, doubts };
}
