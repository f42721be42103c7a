import { mergeSteps } from '../colour/merge.ts';
import { ShotColour } from '../config/shotColour.ts';
import type { Heap } from '../kernel/heap.ts';
import { writeCube } from '../lut/write.ts';
import { throughSteps } from './candidates.ts';
import type { DerivedView } from './deriveView.ts';

/** The log space that derived views take light in and give it back in, and the space of that light. */
export const [derivedLog, derivedLight] = ['ACEScct', 'ACEScg'] as const;
/** The viewing with which a derived look shows its codes: nothing but the display's own curve. */
export const derivedViewing = { display: 'sRGB', view: 'Untoned' } as const;

/**
 * A derived view as a look of the Library: a cube from ACEScct to ACEScct whose light, through sRGB / Untoned, has the view's codes. So it
 * is used where every look is, and other programs that know ACEScct can use it too.
 */
export function derivedLook(view: DerivedView, title: string, heap: Heap): string {
  const colour = new ShotColour();
  const { display, view: untoned } = derivedViewing;
  const back = mergeSteps([
    ...colour.undoView(derivedLight, display, untoned),
    ...colour.conversion(derivedLight, derivedLog),
  ]);
  const nodes = view.size ** 3;
  const values = throughSteps(back, heap, nodes, (n) => [
    view.codes[3 * n]!,
    view.codes[3 * n + 1]!,
    view.codes[3 * n + 2]!,
  ]);
  return writeCube(title, view.size, values, [
    'A view derived from a picture. Takes and gives ACEScct; shown through sRGB without a tone curve it has the picture’s codes.',
  ]);
}
