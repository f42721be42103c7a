/** Knots of a rising curve over 0 … 1, evenly spaced. */
export type RisingCurve = Float64Array;

const knots = 64;

/**
 * The rising curve nearest to values over places 0 … 1: means in bins, made rising by pooling neighbours that fall (pool adjacent violators:
 * Barlow, Bartholomew, Bremner and Brunk, Statistical Inference under Order Restrictions, 1972), then lines between them. Beyond the places
 * that were seen it stays as at their ends.
 */
export function risingCurve(places: Float64Array, values: Float64Array): RisingCurve {
  const sums = new Float64Array(knots);
  const counts = new Float64Array(knots);
  const at = new Float64Array(knots);
  for (let i = 0; i < places.length; i++) {
    const bin = Math.min(knots - 1, Math.max(0, Math.floor(places[i]! * knots)));
    sums[bin]! += values[i]!;
    at[bin]! += Math.min(1, Math.max(0, places[i]!));
    counts[bin]!++;
  }
  const pools: { mean: number; weight: number; places: number[] }[] = [];
  for (let bin = 0; bin < knots; bin++) {
    if (!counts[bin]) continue;
    pools.push({ mean: sums[bin]! / counts[bin]!, weight: counts[bin]!, places: [at[bin]! / counts[bin]!] });
    while (pools.length > 1 && pools.at(-2)!.mean > pools.at(-1)!.mean) {
      const [a, b] = [pools.at(-2)!, pools.pop()!];
      const weight = a.weight + b.weight;
      pools[pools.length - 1] = {
        mean: (a.mean * a.weight + b.mean * b.weight) / weight,
        weight,
        places: [...a.places, ...b.places],
      };
    }
  }
  const points = pools.flatMap(({ mean, places: own }) => own.map((x) => [x, mean] as const));
  return Float64Array.from({ length: knots + 1 }, (_, i) => onLines(points, i / knots));
}

function onLines(points: readonly (readonly [x: number, y: number])[], x: number): number {
  if (!points.length) return x;
  const after = points.findIndex((p) => p[0] >= x);
  if (after === 0) return points[0]![1];
  if (after < 0) return points.at(-1)![1];
  const [[x0, y0], [x1, y1]] = [points[after - 1]!, points[after]!];
  return x1 === x0 ? y1 : y0 + ((x - x0) / (x1 - x0)) * (y1 - y0);
}

/** The value of a rising curve at a place; beyond 0 … 1 as at the ends. */
export function atRising(curve: RisingCurve, x: number): number {
  const place = Math.min(1, Math.max(0, x)) * knots;
  const i = Math.min(knots - 1, Math.floor(place));
  return curve[i]! + (place - i) * (curve[i + 1]! - curve[i]!);
}
