import { logCurves, type LogEncoding } from '../colour/curves.ts';
import { colourSpaces } from '../colour/spaces.ts';

/** What of a picture's numbers tells log footage. */
export interface FlatTraits {
  /** All but a thousandth lie above. */
  readonly floor: number;
  readonly median: number;
  /** All but a hundredth lie below. */
  readonly bright: number;
  /** The middle nine tenths. */
  readonly spread: number;
  readonly maximum: number;
}

/** A log space that footage may be in, by how well its curve fits. */
export interface LogCandidate {
  readonly space: string;
  /** The light of half the picture, in stops from 18 % grey, by this curve. */
  readonly middle: number;
}

/** Log footage is flat: no black, no white, a narrow spread about the middle. Our judgement; common practice, no source. */
const [highestMedian, lowestMedian, widestSpread, highestBright] = [0.58, 0.16, 0.48, 0.93];
/** Noise of a sensor lies so far below a curve's code of no light; and footage of an open place may have no black at all. */
const [below, above] = [0.03, 0.12];

/** Whether numbers are spread as log footage is: nothing near 0, nothing near 1, the middle far above the floor. */
export function looksFlat({ floor, median, bright, spread, maximum }: FlatTraits): boolean {
  return (
    floor >= Math.min(...blacks.values()) - below &&
    floor <= Math.max(...blacks.values()) + above &&
    median >= lowestMedian &&
    median <= highestMedian &&
    bright <= highestBright &&
    maximum <= 1.0005 &&
    spread <= widestSpread &&
    median - floor > 0.04
  );
}

/** The code of no light, by curve. */
const blacks = new Map(Object.entries(logCurves).map(([name, { f }]) => [name as LogEncoding, f]));

/** Of spaces with one curve, that which is meant most often (common practice, no source). */
const usualSpaces = colourSpaces.filter(
  (s, i) => s.encoding in logCurves && colourSpaces.findLastIndex((o) => o.encoding === s.encoding) === i,
);

/** Middles lie within so many stops of grey in most pictures, and floors so near the code of no light: what is farther is less likely. */
const [usualStops, usualFloor] = [2, 0.03];

/** The log spaces that flat numbers may be in, the likeliest first: the floor at the curve's black, the middle at a likely exposure. */
export function logCandidates({ floor, median }: FlatTraits): LogCandidate[] {
  return usualSpaces
    .map(({ name, encoding }) => {
      const light = lightOf(median, encoding as LogEncoding);
      const middle = Math.log2(Math.max(light, 1e-4) / 0.18);
      const off = (floor - blacks.get(encoding as LogEncoding)!) / usualFloor;
      // Below the black there is only noise: that counts more than a place without shadows.
      const cost = (middle / usualStops) ** 2 + (off < 0 ? 2 * off * off : off * off);
      return { space: name, middle, cost };
    })
    .sort((a, b) => a.cost - b.cost)
    .map(({ space, middle }) => ({ space, middle }));
}

/** Light of a log code, by the curve's own formula turned round. */
function lightOf(code: number, encoding: LogEncoding): number {
  const { cut, a, b, c, d, e, f } = logCurves[encoding];
  const straight = (code - f) / e;
  return straight <= cut ? straight : (2 ** ((code - d) / a) - c) / b;
}
