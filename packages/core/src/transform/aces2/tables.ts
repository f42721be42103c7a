import {
  direction,
  lightnessExponent,
  makeColour,
  newAppearance,
  seeColour,
  type AppearanceModel,
} from './appearance.ts';
import { axisLightness, focusGain, focusGainBlend, focusLightness, hullColourfulness, lineSlope, mix } from './hull.ts';
import { powExact } from '../../kernel/exactPower.ts';

/** Degrees in the circle, one entry each. */
const degrees = 360;
/** One entry before the first and two after the last carry on round the circle, so that looking up needs no wrapping. */
const entries = degrees + 3;
const firstEntry = 1;
const endEntry = firstEntry + degrees;

/** The display's cusp by hue: hue of each entry in degrees, lightness and colourfulness of the cusp, and the power of the upper hull. */
export interface GamutTables {
  readonly hue: Float64Array;
  readonly lightness: Float64Array;
  readonly colourfulness: Float64Array;
  readonly upperPower: Float64Array;
  /** How far, at most, an entry lies from where evenly spread hues would have it. */
  readonly searchFrom: number;
  readonly searchTo: number;
}

export interface GamutRequest {
  readonly peak: number;
  readonly limit: number;
  readonly middle: number;
  readonly focusDistance: number;
  readonly lowerHull: number;
  /** Scene light at which reach is looked for at most. */
  readonly brightest: number;
}

/** Copies the entries that carry on round the circle; `turn` is added once a turn. */
function wrap(table: Float64Array, turn = 0): void {
  table[0] = table[endEntry - 1]! - turn;
  table[endEntry] = table[firstEntry]! + turn;
  table[endEntry + 1] = table[firstEntry + 1]! + turn;
}

/** Colourfulness at which light of the primaries would turn negative, at a lightness, for each degree of hue (with the wrapped entries). */
export function reachTable(m: AppearanceModel, lightness: number): Float64Array {
  const table = new Float64Array(entries);
  const rgb: [number, number, number] = [0, 0, 0];
  const [step, most, tolerance] = [50, 1300, 1e-2];
  for (let hue = 0; hue < degrees; hue++) {
    const { cosine, sine } = direction(hue);
    const outside = (colourfulness: number) => {
      makeColour(m, lightness, colourfulness, cosine, sine, rgb);
      return rgb[0] < 0 || rgb[1] < 0 || rgb[2] < 0;
    };
    let low = 0;
    let high = step;
    while (high < most && !outside(high)) {
      low = high;
      high += step;
    }
    while (high - low > tolerance) {
      const middle = (high + low) / 2;
      if (outside(middle)) high = middle;
      else low = middle;
    }
    table[hue + firstEntry] = high;
  }
  wrap(table);
  return table;
}

type Triple = readonly [number, number, number];

/** Corners of the cube in the order of their hues: red, yellow, green, cyan, blue, magenta. */
const corners: readonly Triple[] = [
  [1, 0, 0],
  [1, 1, 0],
  [0, 1, 0],
  [0, 1, 1],
  [0, 0, 1],
  [1, 0, 1],
];

interface Corner {
  readonly rgb: Triple;
  readonly lightness: number;
  readonly colourfulness: number;
  readonly hue: number;
}

function cornerOf(m: AppearanceModel, rgb: Triple): Corner {
  const seen = newAppearance();
  seeColour(m, rgb[0], rgb[1], rgb[2], seen);
  return { rgb, lightness: seen.lightness, colourfulness: seen.colourfulness, hue: seen.hue };
}

/** Turns a circle of corners so that the smallest hue is first, and carries it on by one corner at either end. */
function circle(list: readonly Corner[]): Corner[] {
  let first = 0;
  list.forEach((c, i) => {
    if (c.hue < list[first]!.hue) first = i;
  });
  const turned = [...list.slice(first), ...list.slice(0, first)];
  const last = turned.at(-1)!;
  return [{ ...last, hue: last.hue - 360 }, ...turned, { ...turned[0]!, hue: turned[0]!.hue + 360 }];
}

function displayCorners(m: AppearanceModel, peak: number): Corner[] {
  const k = peak / 100;
  return circle(corners.map((c) => cornerOf(m, [c[0] * k, c[1] * k, c[2] * k])));
}

/** The corners of a gamut without a ceiling, where their lightness is `limit`. */
function reachCorners(m: AppearanceModel, limit: number, brightest: number): Corner[] {
  const wanted = powExact(limit / 100, 1 / lightnessExponent);
  const seen = newAppearance();
  return circle(
    corners.map((c) => {
      let low = 0;
      let high = brightest;
      while (high - low > 1e-3) {
        const k = (low + high) / 2;
        seeColour(m, c[0] * k, c[1] * k, c[2] * k, seen);
        if (seen.achromatic < wanted) low = k;
        else high = k;
        if (seen.achromatic === wanted) break;
      }
      return cornerOf(m, [c[0] * high, c[1] * high, c[2] * high]);
    }),
  );
}

/** Hues as even as possible over the circle, with every corner of both gamuts among them. */
function hueTable(reach: readonly Corner[], display: readonly Corner[]): Float64Array {
  const hues = [...reach.slice(1, 7), ...display.slice(1, 7)].map((c) => c.hue).sort((a, b) => a - b);
  const sorted = hues.filter((h, i) => i === 0 || h !== hues[i - 1]);
  const place: number[] = [];
  let last = -1;
  let least = sorted[0] === 0 ? 0 : 1;
  sorted.forEach((hue, i) => {
    let at = Math.min(Math.max(Math.round(hue), least), degrees - 1);
    if (at === last) {
      if (i > 1 && place[i - 2] !== place[i - 1]! - 1) place[i - 1] = place[i - 1]! - 1;
      else at++;
    }
    place[i] = Math.min(at, degrees - 1);
    last = least = at;
  });
  const table = new Float64Array(entries);
  let done = 0;
  const fill = (count: number, from: number, to: number) => {
    for (let i = 0; i < count; i++) table[firstEntry + done + i] = from + (i * (to - from)) / count;
    done += count;
  };
  fill(place[0]!, 0, sorted[0]!);
  for (let i = 1; i < sorted.length; i++) fill(place[i]! - place[i - 1]!, sorted[i - 1]!, sorted[i]!);
  fill(degrees - done, sorted.at(-1)!, 360);
  wrap(table, 360);
  return table;
}

/** Lightness and colourfulness of the display's cusp at a hue: on the edge between the two corners around it, by halving. */
function cuspAt(
  hue: number,
  list: readonly Corner[],
  m: AppearanceModel,
): { lightness: number; colourfulness: number } {
  const upper = Math.max(
    list.findIndex((c, i) => i >= 1 && c.hue > hue),
    1,
  );
  const [from, to] = [list[upper - 1]!, list[upper]!];
  if (from.hue === hue) return from;
  const seen = newAppearance();
  const see = (t: number) =>
    seeColour(m, mix(from.rgb[0], to.rgb[0], t), mix(from.rgb[1], to.rgb[1], t), mix(from.rgb[2], to.rgb[2], t), seen);
  let low = 0;
  let high = 1;
  while (high - low > 1e-7) {
    const t = (low + high) / 2;
    see(t);
    // Across 0 degrees a hue can come out a turn away from the two corners.
    const above = seen.hue < from.hue || (seen.hue < to.hue && seen.hue > hue);
    if (above) high = t;
    else low = t;
  }
  see((low + high) / 2);
  return { lightness: seen.lightness, colourfulness: seen.colourfulness };
}

const smoothing = 0.27 * 0.12;

/** Cusps and hulls of a display. aces-core, Lib.Academy.OutputTransform.ctl. */
export function gamutTables(reach: AppearanceModel, display: AppearanceModel, request: GamutRequest): GamutTables {
  const list = displayCorners(display, request.peak);
  const hue = hueTable(reachCorners(reach, request.limit, request.brightest), list);
  const lightness = new Float64Array(entries);
  const colourfulness = new Float64Array(entries);
  const upperPower = new Float64Array(entries);
  let [searchFrom, searchTo] = [0, 1];
  for (let i = firstEntry; i < endEntry; i++) {
    const cusp = cuspAt(hue[i]!, list, display);
    lightness[i] = cusp.lightness;
    colourfulness[i] = cusp.colourfulness * (1 + smoothing);
    const delta = i - (firstEntry + Math.trunc(hue[i]!));
    searchFrom = Math.min(searchFrom, delta);
    searchTo = Math.max(searchTo, delta + 1);
    upperPower[i] = 1 / upperHull(hue[i]!, lightness[i]!, colourfulness[i]!, display, request);
  }
  wrap(lightness);
  wrap(colourfulness);
  wrap(upperPower);
  return { hue, lightness, colourfulness, upperPower, searchFrom, searchTo };
}

/** Smallest power with which the upper hull lies outside the display's real one at five heights, within 1e-5. */
function upperHull(hue: number, cuspJ: number, cuspM: number, m: AppearanceModel, request: GamutRequest): number {
  const { limit, middle, focusDistance, lowerHull, peak } = request;
  const threshold = mix(cuspJ, limit, focusGainBlend);
  const focus = focusLightness(cuspJ, middle, limit);
  const { cosine, sine } = direction(hue);
  const tests = [0.01, 0.1, 0.5, 0.8, 0.99].map((height) => {
    const j = mix(cuspJ, limit, height);
    const gain = focusGain(j, threshold, limit, focusDistance);
    const axis = axisLightness(j, cuspM, focus, limit, gain);
    return {
      axis,
      slope: lineSlope(axis, focus, limit, gain),
      cuspAxis: axisLightness(cuspJ, cuspM, focus, limit, gain),
    };
  });
  const rgb: [number, number, number] = [0, 0, 0];
  const top = peak / 100;
  const fits = (power: number) =>
    tests.every(({ axis, slope, cuspAxis }) => {
      const edge = hullColourfulness(cuspJ, cuspM, limit, 1 / power, lowerHull, axis, slope, cuspAxis);
      makeColour(m, axis + slope * edge, edge, cosine, sine, rgb);
      return rgb[0] > top || rgb[1] > top || rgb[2] > top;
    });
  const [step, most, tolerance] = [0.4, 5, 1e-5];
  let low = 0;
  let high = step;
  while (high < most && !fits(high)) {
    low = high;
    high += step;
  }
  while (high - low > tolerance) {
    const power = (high + low) / 2;
    if (fits(power)) high = power;
    else low = power;
  }
  return high;
}
