/** A number that takes values at frames: linear between them, or smooth; held before the first and after the last. */
export interface Keys {
  readonly keys: readonly (readonly [frame: number, value: number])[];
  /** A curve through the keys that never overshoots them, instead of straight lines. */
  readonly smooth?: boolean | undefined;
}

/** A number of a document: one for all frames, or keyed. */
export type Keyed = number | Keys;

/** A keyed number's value at a frame. Keys may stand in any order; of two at one frame the later counts. */
export function valueAt(keyed: Keyed, frame: number): number {
  if (typeof keyed === 'number') return keyed;
  const keys = [...new Map(keyed.keys.map(([f, v]) => [f, v] as const))].sort((a, b) => a[0] - b[0]);
  const next = keys.findIndex(([f]) => f > frame);
  if (next === 0) return keys[0]![1];
  if (next < 0) return keys.at(-1)![1];
  const [[f0, v0], [f1, v1]] = [keys[next - 1]!, keys[next]!];
  const t = (frame - f0) / (f1 - f0);
  if (!keyed.smooth) return v0 + (v1 - v0) * t;
  const [m0, m1] = [slopeAt(keys, next - 1), slopeAt(keys, next)];
  const width = f1 - f0;
  const [a, b] = [t * t * (3 - 2 * t), t * (1 - t)];
  return v0 * (1 - a) + v1 * a + width * b * ((1 - t) * m0 - t * m1);
}

/**
 * The slope of the curve at a key: 0 at the ends and where the values turn, else the weighted harmonic mean of the neighbouring secants,
 * so that the curve is monotone between keys (F. N. Fritsch and J. Butland, SIAM J. Sci. Stat. Comput. 5 (1984), 300-304).
 */
function slopeAt(keys: readonly (readonly [number, number])[], i: number): number {
  if (i === 0 || i === keys.length - 1) return 0;
  const [before, here, after] = [keys[i - 1]!, keys[i]!, keys[i + 1]!];
  const [h0, h1] = [here[0] - before[0], after[0] - here[0]];
  const [s0, s1] = [(here[1] - before[1]) / h0, (after[1] - here[1]) / h1];
  if (s0 * s1 <= 0) return 0;
  const [w0, w1] = [2 * h1 + h0, h1 + 2 * h0];
  return (w0 + w1) / (w0 / s0 + w1 / s1);
}

/** A number keyed at a frame, beside the keys that it has; a constant becomes keyed there alone. */
export function withKey(keyed: Keyed, frame: number, value: number): Keys {
  const { keys, ...how } = typeof keyed === 'number' ? { keys: [] } : keyed;
  const others = keys.filter(([f]) => f !== frame);
  return { ...how, keys: [...others, [frame, value] as const].sort((a, b) => a[0] - b[0]) };
}

/** A number without its key at a frame; without its last, it is constant again. */
export function withoutKey(keyed: Keyed, frame: number): Keyed {
  if (typeof keyed === 'number') return keyed;
  const keys = keyed.keys.filter(([f]) => f !== frame);
  return keys.length ? { ...keyed, keys } : valueAt(keyed, frame);
}

/** The frames at which anything of a value (an adjustment, a row, a whole document) is keyed, in order. */
export function keyedFrames(value: unknown): number[] {
  const found = new Set<number>();
  const visit = (v: unknown): void => {
    if (typeof v !== 'object' || v === null) return;
    if (Object.hasOwn(v, 'keys')) for (const [frame] of (v as Keys).keys) found.add(frame);
    else Object.values(v).forEach(visit);
  };
  visit(value);
  return [...found].sort((a, b) => a - b);
}
