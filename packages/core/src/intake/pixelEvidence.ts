import { lightOfCode } from '../colour/displayCodes.ts';
import type { Evidence } from './evidence.ts';
import type { FileKind } from './fileFacts.ts';
import { logCandidates, looksFlat } from './logFootage.ts';
import { topTraits, type TopTraits } from './toneMapped.ts';
import { joinStatistics, percentile, type ChannelStatistics } from './statistics.ts';

/** What the colour channels of the sampled frames are like, together. */
export interface ColourPixels {
  readonly channels: readonly ChannelStatistics[];
  readonly imaginary: Readonly<Record<string, number>>;
}

/** Samples on the 256 codes of a display picture, but for black and white, which every picture has. */
const codesShare = 0.985;
const fewestCodes = 24;

/** The figures that the evidence and the problems speak of. */
export interface PixelTraits {
  /** 0 … 1 bounds hold: nothing rules a display encoding out. */
  readonly bounded: boolean;
  readonly eightBit: boolean;
  readonly codes: number;
  readonly maximum: number;
  readonly minimum: number;
  readonly median: number;
  readonly bright: number;
  readonly p95: number;
  readonly mean: number;
  /** Share of samples at exactly 1: light that a picture clipped. */
  readonly clipped: number;
  readonly aboveOne: number;
  readonly negative: number;
  /** All but a thousandth lie above. */
  readonly floor: number;
  /** Between the lowest and the highest twentieth. */
  readonly spread: number;
  readonly samples: number;
  /** Absent in sources that were looked at before this was counted. */
  readonly top?: TopTraits | undefined;
}

export function traitsOf(channels: readonly ChannelStatistics[]): PixelTraits | undefined {
  const all = joinStatistics(channels);
  const finite = all.samples - all.nan - all.infinite;
  if (!finite) return undefined;
  const between = all.onCodes - all.zero - all.atOne;
  const inner = finite - all.zero - all.atOne;
  return {
    bounded: all.minimum >= -1e-4 && all.maximum <= 1.0005,
    eightBit: inner > 500 && between >= codesShare * inner && all.codes >= fewestCodes,
    codes: all.codes,
    maximum: all.maximum,
    minimum: all.minimum,
    median: percentile(all, 0.5),
    p95: percentile(all, 0.95),
    floor: percentile(all, 0.001),
    spread: percentile(all, 0.95) - percentile(all, 0.05),
    bright: percentile(all, 0.99),
    mean: all.sum / finite,
    clipped: all.atOne / finite,
    aboveOne: all.aboveOne / finite,
    negative: all.negative / finite,
    samples: finite,
    top: topTraits(channels, all),
  };
}

/**
 * Whether float pixels look encoded for a display: within 0 … 1, and either on the 256 codes of an 8-bit picture, or spread as encoded
 * pictures are, up to white: bright mid-tones, no long tail of highlights. A dark or hazy linear picture has neither.
 */
export function looksEncoded(t: PixelTraits): boolean {
  if (!t.bounded) return false;
  if (t.eightBit) return true;
  const spread = t.median >= 0.28 && t.bright <= 3 * t.median && t.mean <= 1.25 * t.median;
  return spread && t.maximum >= 0.985 && (t.clipped >= 2e-4 || t.maximum <= 1.0005) && t.median <= 0.85;
}

/**
 * Whether an integer picture's codes look like linear light: most of it deep in the shadows while highlights fill the range. Shown as it
 * is such a picture has five and more stops between its median and its brightest twentieth; a picture of a dark place has few bright
 * pixels, and a dark one has none.
 */
export function looksLinear(t: PixelTraits): boolean {
  const asShown = (v: number) => lightOfCode(v, 'srgb');
  const stops = Math.log2(Math.max(asShown(t.p95), 1e-6) / Math.max(asShown(t.median), 1e-6));
  return t.median < 0.14 && t.p95 >= 0.3 && t.bright >= 0.6 && stops > 4.5;
}

/** Kinds of file that log footage comes in. Pictures of 8 bits and stills for screens are flat for other reasons. */
const logKinds: ReadonlySet<FileKind> = new Set(['dpx', 'exr', 'tiff', 'movie']);
/** So many curves are named. */
const curvesTold = 3;

/** Flat footage, with the log spaces that it could be in, the likeliest first. */
function logEvidence(kind: FileKind, t: PixelTraits, others: readonly Evidence[]): Evidence[] {
  if (!logKinds.has(kind) || t.eightBit || others.length || !looksFlat(t)) return [];
  const [first, ...next] = logCandidates(t).slice(0, curvesTold);
  if (!first) return [];
  const stops = `${first.middle < 0 ? '−' : '+'}${Math.abs(first.middle).toFixed(1)}`;
  return [
    {
      from: 'pixels',
      says: `flat as log footage is: nothing below ${short(t.floor)}, half below ${short(t.median)}, hardly any above ${short(t.bright)}. As ${first.space} its middle is ${stops} stops from grey; ${next.map((n) => n.space).join(' or ')} could be as well`,
      space: first.space,
      about: 'log',
      weight: 0.5,
    },
  ];
}

const percent = (share: number) => `${Number((100 * share).toPrecision(2))} %`;
const short = (v: number) => String(Number(v.toPrecision(3)));

/** What the pixels say of the space. Integers cannot hold what is beyond 0 and 1, so only floats speak of that. */
export function pixelEvidence(kind: FileKind, integer: boolean, pixels: ColourPixels): Evidence[] {
  const t = traitsOf(pixels.channels);
  if (!t) return [];
  const from = 'pixels' as const;
  const found: Evidence[] = [];
  if (!integer) {
    if (t.maximum > 1.0005)
      found.push({
        from,
        says: `${percent(t.aboveOne)} are above 1, up to ${short(t.maximum)}: no display encoding holds them`,
        about: 'linear',
        weight: t.maximum > 1.05 ? 0.75 : 0.4,
      });
    else if (t.negative > 0)
      found.push({ from, says: `some are below 0, down to ${short(t.minimum)}`, about: 'linear', weight: 0.6 });
    else if (t.eightBit)
      found.push({
        from,
        says: `${t.codes} levels between 0 and 1, as of an 8-bit picture`,
        about: 'encoded',
        weight: 0.9,
      });
    else if (looksEncoded(t))
      found.push({
        from,
        says: `all between 0 and 1, median ${short(t.median)}, white at ${short(t.maximum)}: spread as an encoded picture is`,
        about: 'encoded',
        weight: 0.7,
      });
  } else if (kind !== 'dpx' && looksLinear(t)) {
    found.push({
      from,
      says: `half lie below ${short(t.median)} while the brightest reach ${short(t.bright)}: spread as linear light is`,
      about: 'linear',
      weight: 0.6,
    });
  }
  found.push(...logEvidence(kind, t, found));
  const least = Math.min(...Object.values(pixels.imaginary), 1);
  for (const [space, share] of Object.entries(pixels.imaginary)) {
    // Enough of them, and another space holds these colours better.
    if (!integer && share > 0.002 && least < share / 2)
      found.push({ from, says: `${percent(share)} would be colours that no eye sees in ${space}`, against: space });
  }
  return found;
}
