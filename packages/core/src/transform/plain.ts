import { exp2Exact, log2Exact, powExact } from '../kernel/exactPower.ts';
import { splinePlace, type ToneSpline } from '../colour/acesTonescale.ts';
import { rendering } from './aces2/parameters.ts';
import { undoRendering } from './aces2/undo.ts';
import { builtinCurve } from './builtin/curves.ts';
import { fixedFunctionPixel } from './fixedFunction.ts';
import { evaluateSpline } from './gradingCurve.ts';
import { toneFunction } from './gradingTone.ts';
import { cubeSearch } from './inverseCube.ts';
import { solveRising } from './monotone.ts';
import type { PixelRecipe, PlaneRecipe } from './recipes.ts';
import { hueKept, lookUp } from './table1d.ts';

/** One colour, changed in place. */
export type Pixel = (p: [number, number, number]) => void;

/** The function of one channel that a recipe describes. Exact arithmetic only: the same bits in every engine. */
export function planeFunction(recipe: PlaneRecipe): (x: number) => number {
  switch (recipe.what) {
    case 'contrast': {
      const { pivot, power } = recipe;
      return (x) => powExact(x / pivot, power) * pivot;
    }
    case 'curve': {
      const { own, master } = recipe;
      const f = (x: number) => {
        const y = own ? evaluateSpline(own, x) : x;
        return master ? evaluateSpline(master, y) : y;
      };
      return recipe.inverse ? (y) => solveRising(f, y) : f;
    }
    case 'tone': {
      const f = toneFunction(recipe.values, recipe.style, recipe.channel);
      return recipe.inverse ? (y) => solveRising(f, y) : f;
    }
    case 'table':
      return lookUp(recipe.entries, recipe.halfDomain, recipe.inverse ? 'inverse' : 'forward');
    case 'builtinCurve': {
      const curve = builtinCurve(recipe.name, recipe.amount);
      return recipe.inverse ? curve.encode : curve.decode;
    }
    case 'shoulder':
      return shoulder(recipe.join, recipe.top, recipe.inverse);
    case 'undoTone':
      return undoTone(recipe.splines);
  }
}

/** The function of whole colours that a recipe describes. */
export function pixelFunction(recipe: PixelRecipe): Pixel {
  switch (recipe.what) {
    case 'function':
      return fixedFunctionPixel(recipe.style, recipe.parameters, !recipe.inverse);
    case 'hueTable': {
      const way = recipe.inverse ? 'inverse' : 'forward';
      const [r, g, b] = recipe.channels.map((c) => lookUp(c, recipe.halfDomain, way));
      return hueKept([r!, g!, b!]);
    }
    case 'undoAces2':
      return undoRendering(rendering(recipe.peak, recipe.limiting));
    case 'inverseCube':
      return cubeSearch(recipe.size, recipe.values);
  }
}

/**
 * x up to `join`, then join + room · t / (t + room) with t = x − join: slope 1 at the join, and `top` at infinity. The inverse is held just
 * below the top.
 */
function shoulder(join: number, top: number, inverse: boolean): (x: number) => number {
  const room = top - join;
  if (!inverse) return (x) => (x > join ? join + room / (1 + room / (x - join)) : x);
  return (y) => {
    const rise = Math.min(y - join, room * 0.9999);
    return rise > 0 ? join + (room * rise) / (room - rise) : y;
  };
}

/** Light to scene values through both tone scales backwards; what lies beyond their ends is held at the inner edge. */
function undoTone([first, second]: readonly [ToneSpline, ToneSpline]): (y: number) => number {
  const perDecade = 3.321928094887362;
  return (shown) => {
    const y = log2Exact(shown) / perDecade;
    return exp2Exact(splinePlace(splinePlace(y, second), first) * perDecade);
  };
}
