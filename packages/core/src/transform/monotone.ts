/**
 * x with f(x) = y for a rising f, by widening a bracket and halving it. Exact arithmetic only, so that every engine
 * gives the same bits; for the inverses of grading controls, which have no kernel.
 */
export function solveRising(f: (x: number) => number, y: number): number {
  if (y !== y) return NaN;
  let low = y - 1;
  let high = y + 1;
  for (let width = 2; f(low) > y && width < 1e30; width *= 4) low -= width;
  for (let width = 2; f(high) < y && width < 1e30; width *= 4) high += width;
  for (let i = 0; i < 200; i++) {
    const middle = (low + high) / 2;
    if (middle === low || middle === high) break;
    if (f(middle) < y) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}

/** A line through (x0, y0) with slope m. */
export const line = (x: number, x0: number, y0: number, m: number): number => y0 + (x - x0) * m;

/** From (x0, y0) to x1 along a parabola whose slope goes from m0 to m1. */
export function parabola(x: number, x0: number, x1: number, y0: number, m0: number, m1: number): number {
  const t = (x - x0) / (x1 - x0);
  return t * (x1 - x0) * (t * 0.5 * (m1 - m0) + m0) + y0;
}

/** Where a parabola a t² + b t + c is 0: the root that stays finite as a goes to 0. */
export function stableRoot(a: number, b: number, c: number): number {
  return (-2 * c) / (Math.sqrt(Math.max(b * b - 4 * a * c, 0)) + b);
}
