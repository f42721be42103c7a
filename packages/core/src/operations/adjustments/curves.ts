import type { PlaneStep } from '../../colour/steps.ts';
import { fitCurve } from '../../transform/gradingCurve.ts';
import { planeFunction } from '../../transform/plain.ts';
import type { Spline } from '../../transform/recipes.ts';
import { adjustment } from '../adjustment.ts';

const straight = [
  [0, 0],
  [1, 1],
] as const;
const points = (title: string) => ({ type: 'points', title, default: straight }) as const;

/** A curve through points; undefined for the straight line that changes nothing. Throws for points that do not rise. */
function curveThrough(given: readonly (readonly [number, number])[], title: string): Spline | undefined {
  const sorted = [...given].sort((a, b) => a[0] - b[0]);
  if (sorted.length < 2) throw new Error(`the ${title} curve needs two points at least.`);
  if (sorted.some(([x, y], i) => i > 0 && (x <= sorted[i - 1]![0] || y < sorted[i - 1]![1])))
    throw new Error(`the ${title} curve must rise from point to point.`);
  if (sorted.every(([x, y]) => x === y)) return undefined;
  return fitCurve({ points: sorted.map(([x, y]): [number, number] => [x, y]), slopes: undefined });
}

/** The curve through points, as a function: what the adjustment does to a number. Throws for points that do not rise. */
export function curveFunction(given: readonly (readonly [number, number])[]): (x: number) => number {
  const own = curveThrough(given, 'drawn');
  return own ? planeFunction({ what: 'curve', own, master: undefined, inverse: false }) : (x) => x;
}

export const curves = adjustment({
  kind: 'curves',
  title: 'Curves',
  does: 'Each channel through its own curve, then all through the master; monotone between the points, straight on beyond them.',
  published:
    'L. L. Schumaker, "On shape preserving quadratic spline interpolation", SIAM J. Numer. Anal. 20 (1983), 854-864',
  search: ['tone', 'spline'],
  parameters: { master: points('All'), red: points('Red'), green: points('Green'), blue: points('Blue') },
  alpha: 'straight',
  choosesSpace: true,
  usualSpace: 'ACEScct',
  compile: (values) => {
    const master = curveThrough(values.master, 'master');
    const each = (['red', 'green', 'blue'] as const).map((c) => curveThrough(values[c], c));
    if (!master && each.every((c) => !c)) return [];
    const step = (own: Spline | undefined): PlaneStep => ({
      kind: 'plainPlane',
      recipe: { what: 'curve', own, master, inverse: false },
    });
    return [{ kind: 'channels', each: each.map(step) as unknown as [PlaneStep, PlaneStep, PlaneStep] }];
  },
});
