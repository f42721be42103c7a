import { lumaAt, type CodePicture, type LightPicture } from './pictures.ts';

/** Pixels that tell views apart: calm ones of as many colours as the picture has. */
export interface MatchSamples {
  readonly count: number;
  /** Red, green and blue of light, sample after sample. */
  readonly light: Float64Array;
  /** The codes that they became, 0 … 1. */
  readonly codes: Float64Array;
  /** Their natural logarithms. */
  readonly logarithms: Float64Array;
}

/** So many steps of a channel's codes tell one colour from another. */
const cellsAcross = 8;
/** At most so many samples are taken of one colour, and in all. */
const mostOfCell = 2;
const mostInAll = 96;
/** About so many pixels of a picture are looked at. */
const looksAt = 60_000;

interface Found {
  readonly at: number;
  /** How much the pixels around differ, in codes; light counts too. */
  readonly unrest: number;
}

/**
 * Samples of a frame and the picture made of it, of one size, stratified over the picture's colours; of each colour the calmest, so that
 * noise, edges and a JPEG's blocks say little. `mean` takes the mean of each pixel and its eight neighbours, for pictures whose
 * pixels are not exact.
 */
export function matchSamples(light: LightPicture, picture: CodePicture, mean: boolean): MatchSamples {
  const cells = calmest(light, picture);
  const taken: number[] = [];
  for (let turn = 0; turn < mostOfCell && taken.length < mostInAll; turn++) {
    const round = [...cells.values()].map((c) => c[turn]).filter((f) => f !== undefined);
    round.sort((a, b) => a.unrest - b.unrest);
    taken.push(...round.slice(0, mostInAll - taken.length).map((f) => f.at));
  }
  const lightOf = new Float64Array(3 * taken.length);
  const codes = new Float64Array(3 * taken.length);
  taken.forEach((at, i) => {
    for (let c = 0; c < 3; c++) {
      lightOf[3 * i + c] = valueAt(light.planes[c]!, at, light.width, mean);
      codes[3 * i + c] = valueAt(picture.planes[c]!, at, picture.width, mean);
    }
  });
  return { count: taken.length, light: lightOf, codes, logarithms: codes.map(Math.log) };
}

function calmest(light: LightPicture, picture: CodePicture): Map<number, Found[]> {
  const { width, height, planes } = picture;
  const step = Math.max(1, Math.floor(Math.sqrt((width * height) / looksAt)));
  const cells = new Map<number, Found[]>();
  for (let y = 1; y < height - 1; y += step)
    for (let x = 1; x < width - 1; x += step) {
      const at = y * width + x;
      if (!light.planes.every((p) => Number.isFinite(p[at]!))) continue;
      const cell = planes.reduce(
        (n, p) => n * cellsAcross + Math.min(cellsAcross - 1, Math.floor(p[at]! * cellsAcross)),
        0,
      );
      const unrest = unrestAt(light, picture, at);
      const found = cells.get(cell) ?? cells.set(cell, []).get(cell)!;
      if (found.length === mostOfCell && found[mostOfCell - 1]!.unrest <= unrest) continue;
      found.push({ at, unrest });
      found.sort((a, b) => a.unrest - b.unrest);
      found.length = Math.min(found.length, mostOfCell);
    }
  return cells;
}

/** How far a pixel's neighbours lie from it: in codes, and in light beside its own. */
function unrestAt(light: LightPicture, picture: CodePicture, at: number): number {
  const { width } = picture;
  let codes = 0;
  let stops = 0;
  for (const off of [-width - 1, -width, -width + 1, -1, 1, width - 1, width, width + 1]) {
    for (const p of picture.planes) codes = Math.max(codes, Math.abs(p[at + off]! - p[at]!));
    const [here, there] = [lumaAt(light.planes, at), lumaAt(light.planes, at + off)];
    stops = Math.max(stops, Math.abs(there - here) / (Math.abs(here) + 0.01));
  }
  return 255 * codes + 20 * Math.min(4, stops);
}

function valueAt(plane: Float32Array, at: number, width: number, mean: boolean): number {
  if (!mean) return plane[at]!;
  let sum = 0;
  for (let dy = -width; dy <= width; dy += width) sum += plane[at + dy - 1]! + plane[at + dy]! + plane[at + dy + 1]!;
  return sum / 9;
}
