import { pixelFunction, planeFunction } from '../../transform/plain.ts';
import { cannotTurn, planeKind, stepKind, type StepOf } from '../stepKind.ts';

/** A step without a kernel over one plane. */
export const plainPlane = planeKind<StepOf<'plainPlane'>>({
  kind: 'plainPlane',
  preparePlane({ recipe }, heap) {
    const change = planeFunction(recipe);
    return (p, n) => {
      const plane = heap.floats(p, n);
      for (let i = 0; i < n; i++) plane[i] = change(plane[i]!);
    };
  },
  invert(step) {
    if ('inverse' in step.recipe) return [{ ...step, recipe: { ...step.recipe, inverse: !step.recipe.inverse } }];
    throw cannotTurn(step.recipe.what);
  },
});

/** A step without a kernel over whole colours. */
export const plain = stepKind<StepOf<'plain'>>({
  kind: 'plain',
  prepare({ recipe }, heap) {
    const change = pixelFunction(recipe);
    const pixel: [number, number, number] = [0, 0, 0];
    return (rp, gp, bp, n) => {
      const [r, g, b] = [heap.floats(rp, n), heap.floats(gp, n), heap.floats(bp, n)];
      for (let i = 0; i < n; i++) {
        pixel[0] = r[i]!;
        pixel[1] = g[i]!;
        pixel[2] = b[i]!;
        change(pixel);
        r[i] = pixel[0];
        g[i] = pixel[1];
        b[i] = pixel[2];
      }
    };
  },
  invert(step) {
    if (!('inverse' in step.recipe)) throw cannotTurn(step.recipe.what);
    return [{ kind: 'plain', recipe: { ...step.recipe, inverse: !step.recipe.inverse } }];
  },
});
