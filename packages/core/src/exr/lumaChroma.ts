import { luminanceWeights, rec709, type Primaries } from '../colour/primaries.ts';
import { readChannels, type ReadOptions, type ReadResult } from './read.ts';
import { type Plane } from './plane.ts';
import { intersect } from './geometry.ts';
import {
  boxHeight,
  boxWidth,
  ExrError,
  type Box,
  type ByteCodec,
  type ExrChannel,
  type ExrFile,
  type ExrPart,
} from './types.ts';
import { halfToNumber, numberToHalf } from '../image/half.ts';

/** Whether a part stores luma and two sub-sampled colour differences in place of red, green and blue. */
export function isLumaChroma(part: Pick<ExrPart, 'channels'>): boolean {
  const of = (name: string) => part.channels.find((c) => c.name === name);
  return of('Y') !== undefined && [of('RY'), of('BY')].every((c) => c?.xSampling === 2 && c.ySampling === 2);
}

/**
 * A part's channels as the program offers them: red, green and blue where the file stores luma and colour differences. Other channels
 * with fewer samples than pixels are not offered; `june info` lists them.
 */
export function offeredChannels(part: Pick<ExrPart, 'channels'>): readonly ExrChannel[] {
  const full = part.channels.filter((c) => c.xSampling === 1 && c.ySampling === 1);
  if (!isLumaChroma(part)) return full;
  const made = ['R', 'G', 'B'].map((name): ExrChannel => ({
    name,
    type: 'half',
    xSampling: 1,
    ySampling: 1,
    perceptuallyLinear: false,
  }));
  return [...full.filter((c) => c.name !== 'Y'), ...made];
}

/**
 * Reads offered channels. Ordinary parts are read as `readChannels` does; of luma-chroma parts the whole data window is read, rebuilt
 * to RGB, and the region cut out.
 */
export async function readOffered(
  file: ExrFile,
  partIndex: number,
  names: readonly string[],
  codec: ByteCodec,
  options: ReadOptions = {},
): Promise<ReadResult> {
  const part = file.parts[partIndex];
  if (!part || !isLumaChroma(part)) return readChannels(file, partIndex, names, codec, options);
  const offered = offeredChannels(part).map((c) => c.name);
  const unknown = names.find((n) => !offered.includes(n));
  if (unknown !== undefined)
    throw new ExrError(
      file.source.name,
      `part ${partIndex} keeps luma and colour differences and is read as ${offered.join(', ')}, not as "${unknown}".`,
    );
  const stored = names.filter((n) => part.channels.some((c) => c.name === n));
  const { planes, missing } = await readChannels(file, partIndex, ['Y', 'RY', 'BY', ...stored], codec);
  const [r, g, b] = rebuild(part, planes[0]!, planes[1]!, planes[2]!);
  const whole = new Map<string, Plane>([
    ['R', r!],
    ['G', g!],
    ['B', b!],
    ...stored.map((n, i): [string, Plane] => [n, planes[3 + i]!]),
  ]);
  const region = intersect(options.region ?? part.dataWindow, part.dataWindow);
  if (!region) throw new ExrError(file.source.name, 'the region asked for lies outside the data window.');
  const cut = names.map((n) => cutPlane(whole.get(n)!, part.dataWindow, region));
  if (!options.into) return { region, planes: cut, missing };
  cut.forEach((plane, i) => options.into![i]!.set(plane));
  return { region, planes: options.into, missing };
}

function cutPlane(plane: Plane, whole: Box, region: Box): Plane {
  const [w, width, height] = [boxWidth(whole), boxWidth(region), boxHeight(region)];
  if (width === w && height === boxHeight(whole)) return plane;
  const out = new (plane.constructor as new (n: number) => Plane)(width * height);
  for (let y = 0; y < height; y++) {
    const from = (region.yMin - whole.yMin + y) * w + region.xMin - whole.xMin;
    out.set(plane.subarray(from, from + width), y * width);
  }
  return out;
}

/** The filter that fills in every other sample, from both sides (OpenEXR, ImfRgbaYca, reconstructChromaHoriz). */
const taps = [0.627123, -0.186077, 0.087929, -0.043159, 0.019597, -0.00754, 0.002128];

/** Rebuilds halves R, G, B from luma and colour differences (OpenEXR, ImfRgbaYca). Rounds to half between steps, as it does. */
function rebuild(part: ExrPart, y: Plane, ry: Plane, by: Plane): Uint16Array[] {
  const [width, height] = [boxWidth(part.dataWindow), boxHeight(part.dataWindow)];
  const weights = lumaWeights(part);
  const luma = toNumbers(y);
  const [red, blue] = [ry, by].map((p) => fillIn(toNumbers(p), width, height)) as [Float64Array, Float64Array];
  const rgb = [0, 1, 2].map(() => new Float64Array(width * height));
  for (let i = 0; i < luma.length; i++) {
    const l = luma[i]!;
    if (red[i] === 0 && blue[i] === 0) {
      rgb.forEach((p) => (p[i] = l));
      continue;
    }
    const r = round((red[i]! + 1) * l);
    const b = round((blue[i]! + 1) * l);
    rgb[0]![i] = r;
    rgb[2]![i] = b;
    rgb[1]![i] = round((l - r * weights[0] - b * weights[2]) / weights[1]);
  }
  return calmSaturation(rgb, width, height, weights).map((p) => Uint16Array.from(p, numberToHalf));
}

const round = (x: number) => halfToNumber(numberToHalf(x));
const toNumbers = (p: Plane) => Float64Array.from(p, (v) => (p instanceof Uint16Array ? halfToNumber(v) : v));

/** Luminance weights of the file's chromaticities, else of Rec.709's (OpenEXR, computeYw). */
function lumaWeights(part: ExrPart): readonly [number, number, number] {
  const primaries = (part.attributes.get('chromaticities')?.value as Primaries | undefined) ?? rec709;
  const weights = luminanceWeights(primaries);
  const sum = weights[0] + weights[1] + weights[2];
  return [weights[0] / sum, weights[1] / sum, weights[2] / sum];
}

/** Every other sample in both directions from a quarter of them; edges repeat. */
function fillIn(quarter: Float64Array, width: number, height: number): Float64Array {
  const [w, h] = [Math.ceil(width / 2), Math.ceil(height / 2)];
  const wide = new Float64Array(width * h);
  for (let y = 0; y < h; y++) {
    const at = (x: number) => quarter[y * w + Math.min(Math.max(x, 0), w - 1)]!;
    for (let x = 0; x < width; x++) wide[y * width + x] = x & 1 ? between((k) => at((x >> 1) + k)) : at(x >> 1);
  }
  const full = new Float64Array(width * height);
  for (let x = 0; x < width; x++) {
    const at = (y: number) => wide[Math.min(Math.max(y, 0), h - 1) * width + x]!;
    for (let y = 0; y < height; y++) full[y * width + x] = y & 1 ? between((k) => at((y >> 1) + k)) : at(y >> 1);
  }
  return full;
}

/** The value half-way between stored samples 0 and 1. */
function between(stored: (k: number) => number): number {
  let sum = 0;
  for (let k = 0; k < taps.length; k++) sum += taps[k]! * (stored(-k) + stored(1 + k));
  return round(sum);
}

const saturation = (r: number, g: number, b: number) => {
  const most = Math.max(r, g, b);
  return most > 0 ? 1 - Math.min(r, g, b) / most : 0;
};

/** Pixels far more saturated than their neighbours are an artefact of the filter: calms them (OpenEXR, ImfRgbaYca, fixSaturation). */
function calmSaturation(
  rgb: readonly Float64Array[],
  width: number,
  height: number,
  weights: readonly [number, number, number],
): Float64Array[] {
  const of = (x: number, y: number) => {
    const i = Math.min(Math.max(y, 0), height - 1) * width + Math.min(Math.max(x, 0), width - 1);
    return saturation(rgb[0]![i]!, rgb[1]![i]!, rgb[2]![i]!);
  };
  const out = rgb.map((p) => p.slice());
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const mean = Math.min(1, 0.25 * (of(x - 1, y - 1) + of(x + 1, y - 1) + of(x - 1, y + 1) + of(x + 1, y + 1)));
      const s = of(x, y);
      const limit = Math.min(1, 1 - (1 - mean) * 0.25);
      if (s > mean && s > limit) desaturate(rgb, out, y * width + x, limit / s, weights);
    }
  }
  return out;
}

function desaturate(
  rgb: readonly Float64Array[],
  out: readonly Float64Array[],
  i: number,
  f: number,
  weights: readonly [number, number, number],
): void {
  const most = Math.max(rgb[0]![i]!, rgb[1]![i]!, rgb[2]![i]!);
  const luma = (p: readonly Float64Array[]) => p.reduce((sum, c, k) => sum + c[i]! * weights[k]!, 0);
  rgb.forEach((p, k) => (out[k]![i] = Math.max(most - (most - p[i]!) * f, 0)));
  const before = luma(rgb);
  const after = luma(out);
  if (after > 0) out.forEach((p) => (p[i]! *= before / after));
}
