import { exp2Exact, log2Exact, powExact } from '../kernel/exactPower.ts';
import { splineValue, type ToneSpline } from '../colour/acesTonescale.ts';
import { rendering } from './aces2/parameters.ts';
import { renderPixel } from './aces2/rendering.ts';
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
    case 'aces2':
      return renderPixel(rendering(recipe.peak, recipe.limiting), recipe.inverse);
    case 'inverseCube':
      return cubeSearch(recipe.size, recipe.values);
  }
}

/** Light to scene values through both tone scales backwards; what lies beyond their ends is held there. */
function undoTone([first, second]: readonly [ToneSpline, ToneSpline]): (y: number) => number {
  const perDecade = 3.321928094887362;
  const forward = (x: number) => splineValue(splineValue(x, first), second);
  const [low, high] = [forward(first.min[0]), forward(first.max[0])];
  return (shown) => {
    const y = log2Exact(shown) / perDecade;
    const x = y <= low ? first.min[0] : y >= high ? first.max[0] : solveRising(forward, y);
    return exp2Exact(x * perDecade);
  };
}
