import type { Heap } from '../../kernel/heap.ts';
import { renderingBlock } from '../../transform/aces2/block.ts';
import { rendering } from '../../transform/aces2/parameters.ts';
import { fixedFunctionSteps } from '../../transform/fixedFunction.ts';
import { splineBlock } from '../acesTonescale.ts';
import { curveTable } from '../curveTable.ts';
import { stepKind, type PreparedPlane, type StepOf } from '../stepKind.ts';
import type { ColourStep } from '../steps.ts';
import { tabled } from './tabled.ts';

/** A fixed function's own way back. */
const undo = (style: string): ColourStep[] =>
  fixedFunctionSteps({ type: 'fixedFunction', direction: 'forward', style, parameters: [] }, 'inverse');

/** Glow and red modifier of the ACES 1 rendering; ends at 0. */
export const acesGlowAndRed = stepKind<StepOf<'acesGlowAndRed'>>({
  kind: 'acesGlowAndRed',
  prepare: (_, heap) => (r, g, b, n) => heap.kernels.acesGlowAndRed(r, g, b, n),
  // The forward step ends at 0, so nothing below comes in here.
  invert: () => [{ kind: 'clamp', low: 0, high: Infinity }, ...undo('aces_redmod10'), ...undo('aces_glow10')],
});

/** Two tone scales of the ACES 1 rendering, one after the other. */
export const tone = stepKind<StepOf<'tone'>>({
  kind: 'tone',
  prepare(step, heap) {
    const [first, second] = step.splines.map((s) => heap.placeFloats(splineBlock(s))) as [number, number];
    const exact: PreparedPlane = (p, n) => heap.kernels.toneSpline(p, n, first, second);
    // Below its first knot a tone scale is even: what is darker than any picture is one value.
    const run = tabled(step, [-32, 21], { held: darkest(exact, heap) }, heap, exact);
    return (r, g, b, n) => {
      run(r, n);
      run(g, n);
      run(b, n);
    };
  },
  invert: (step) => [{ kind: 'plainPlane', recipe: { what: 'undoTone', splines: step.splines } }],
});

/** What a curve makes of black. */
function darkest(exact: PreparedPlane, heap: Heap): number {
  const mark = heap.mark();
  const at = heap.allocatePlane(4);
  heap.kernels.fillPlane(at, 4, 0);
  exact(at, 4);
  const value = heap.floats(at, 4)[0]!;
  heap.release(mark);
  return value;
}

/** A dim surround: luminance to a power, by a table of what each colour is scaled by. */
export const surround = stepKind<StepOf<'surround'>>({
  kind: 'surround',
  prepare(step, heap) {
    const k = heap.kernels;
    const power = step.exponent - 1;
    const key = JSON.stringify(['surround', power]);
    const table = curveTable(key, [-32, 4], { held: 0 }, heap, (p, n) => k.powPlane(p, n, power));
    const { first, shift, low, high, entries } = table;
    const [block, at] = [heap.placeFloats([...step.weights, power, low, high]), heap.placeFloats(entries)];
    return (r, g, b, n) => k.surround(r, g, b, n, block, at, first, shift);
  },
  invert: () => undo('aces_darktodim10'),
});

/** The ACES 2 rendering. */
export const aces2 = stepKind<StepOf<'aces2'>>({
  kind: 'aces2',
  prepare(step, heap) {
    const block = heap.placeFloats(renderingBlock(rendering(step.peak, step.limiting)));
    return (r, g, b, n) => heap.kernels.aces2Forward(r, g, b, n, block);
  },
  invert: (step) => [{ kind: 'plain', recipe: { what: 'undoAces2', peak: step.peak, limiting: step.limiting } }],
});
