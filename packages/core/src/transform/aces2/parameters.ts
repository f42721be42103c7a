import { ap0, ap1, type Primaries } from '../../colour/primaries.ts';
import { exp2Exact, log2Exact, powExact } from '../../kernel/exactPower.ts';
import { appearanceModel, lightnessOf, referenceLuminance, type AppearanceModel } from './appearance.ts';
import { gamutTables, reachTable, type GamutTables } from './tables.ts';

/** Constants of the tone scale for a peak luminance. aces-core, Lib.Academy.Tonescale.ctl. */
export interface ToneScale {
  readonly contrast: number;
  readonly toe: number;
  readonly greyTarget: number;
  readonly s2: number;
  readonly m2: number;
  /** Scene light above which nothing is looked at, and display light above which nothing can be turned back. */
  readonly forwardLimit: number;
  readonly inverseLimit: number;
  readonly logPeak: number;
}

/** What the ACES 2 rendering needs to know about a display: its peak luminance in cd/m² and the primaries that limit its light. */
export interface Rendering {
  readonly scene: AppearanceModel;
  readonly display: AppearanceModel;
  readonly tone: ToneScale;
  /** Lightness of the peak. */
  readonly limit: number;
  /** Colourfulness that ACEScg reaches at that lightness, for every degree of hue from 0. */
  readonly reach: Float64Array;
  readonly saturation: number;
  readonly saturationThreshold: number;
  readonly compression: number;
  readonly chromaScale: number;
  readonly middle: number;
  readonly focusDistance: number;
  readonly lowerHull: number;
  readonly gamut: GamutTables;
}

const ln = (x: number) => log2Exact(x) * Math.LN2;
const log10 = (x: number) => log2Exact(x) / 3.321928094887362;

export function toneScale(peak: number): ToneScale {
  const contrast = 1.15;
  const greyScene = 0.18;
  // cd/m² that 18 % grey is shown at by a display of 100.
  const greyDisplay = 10.013;
  const greyChange = 0.14;
  const toe = 0.04;
  const [hitLeast, hitMost] = [128, 896];
  const relative = peak / referenceLuminance;
  const hit = hitLeast + (hitMost - hitLeast) * (ln(relative) / ln(100));
  const m1 = 0.5 * (relative + Math.sqrt(relative * (relative + 4 * toe)));
  const u = powExact(hit / m1 / (hit / m1 + 1), contrast);
  const m = m1 / u;
  const doublings = ln(relative) / Math.LN2;
  const greyTarget = (greyDisplay / referenceLuminance) * (1 + doublings * greyChange);
  const grey = 0.5 * (greyTarget + Math.sqrt(greyTarget * (greyTarget + 4 * toe)));
  const root = powExact(grey / m, 1 / contrast);
  const w2 = greyScene / -((m1 * root) / (root - 1));
  const u2 = powExact(hit / m1 / (hit / m1 + w2), contrast);
  return {
    contrast,
    toe,
    greyTarget,
    s2: w2 * m1 * referenceLuminance,
    m2: m1 / u2,
    forwardLimit: 8 * hit,
    inverseLimit: relative / u2,
    logPeak: log10(relative),
  };
}

const known = new Map<string, Rendering>();
const mostKnown = 16;

/** The rendering for a display; what was asked for lately is kept, since its tables take tens of milliseconds. */
export function rendering(peak: number, limiting: Primaries): Rendering {
  const key = JSON.stringify([peak, limiting.red, limiting.green, limiting.blue, limiting.white]);
  const found = known.get(key);
  if (found) return found;
  const made = makeRendering(peak, limiting);
  if (known.size >= mostKnown) known.delete(known.keys().next().value!);
  known.set(key, made);
  return made;
}

/** Constants: aces-core, Lib.Academy.OutputTransform.ctl. */
function makeRendering(peak: number, limiting: Primaries): Rendering {
  const scene = appearanceModel(ap0);
  const display = appearanceModel(limiting);
  const reachModel = appearanceModel(ap1);
  const tone = toneScale(peak);
  const limit = lightnessOf(peak, scene);
  const middle = lightnessOf(tone.greyTarget * referenceLuminance, scene);
  const focusDistance = 1.35 + 1.35 * 1.75 * tone.logPeak;
  const lowerHull = 1 / (1.14 + 0.07 * tone.logPeak);
  return {
    scene,
    display,
    tone,
    limit,
    reach: reachTable(reachModel, limit),
    saturation: Math.max(0.2, 1.3 - 1.3 * 0.69 * tone.logPeak),
    saturationThreshold: 0.5 / peak,
    compression: 2.4 + 2.4 * 3.3 * tone.logPeak,
    chromaScale: exp2Exact(0.30596 * log2Exact(0.03379 * peak)) - 0.45135,
    middle,
    focusDistance,
    lowerHull,
    gamut: gamutTables(reachModel, display, {
      peak,
      limit,
      middle,
      focusDistance,
      lowerHull,
      brightest: tone.forwardLimit,
    }),
  };
}
