import { powExact } from '../../kernel/exactPower.ts';
import {
  lightnessExponent,
  lightnessOf,
  luminanceOf,
  makeColour,
  newAppearance,
  referenceLuminance,
  seeColour,
  type Appearance,
} from './appearance.ts';
import {
  axisLightness,
  focusGain,
  focusGainBlend,
  focusLightness,
  hullColourfulness,
  lineSlope,
  meetCurve,
  mix,
} from './hull.ts';
import type { Rendering, ToneScale } from './parameters.ts';

/**
 * The ACES 2 rendering undone: out of the display's gamut, the tone scale backwards, colourfulness expanded with it. The rendering itself is
 * a kernel (kernels/aces2.ts). aces-core, Lib.Academy.OutputTransform.ctl and Lib.Academy.Tonescale.ctl; held to the reference library 2.5.1.
 */

/** Display luminance (100 is white of a 100 cd/m² display) to scene luminance. */
function toneInverse(y: number, t: ToneScale): number {
  const z = Math.max(0, Math.min(t.inverseLimit, y / referenceLuminance));
  const f = (z + Math.sqrt(z * (4 * t.toe + z))) / 2;
  return t.s2 / (powExact(t.m2 / f, 1 / t.contrast) - 1);
}

/** How colourful a hue is made: a sum over one, two and three times the angle. */
function chromaNorm(c: number, s: number, scale: number): number {
  const [c2, s2] = [2 * c * c - 1, 2 * c * s];
  const [c3, s3] = [4 * c * c * c - 3 * c, 3 * s - 4 * s * s * s];
  const sum = 11.34072 * c + 16.46899 * c2 + 7.8838 * c3 + 14.66441 * s - 6.37224 * s2 + 9.19364 * s3 + 77.12896;
  return sum * scale;
}

function toeInverse(x: number, limit: number, k1In: number, k2In: number): number {
  if (x > limit) return x;
  const k2 = Math.max(k2In, 0.001);
  const k1 = Math.sqrt(k1In * k1In + k2 * k2);
  const k3 = (limit + k1) / (limit + k2);
  return (x * x + k1 * x) / (k3 * (x + k2));
}

const gamma = 1 / lightnessExponent;

function reachAt(hue: number, reach: Float64Array): number {
  const base = Math.trunc(hue);
  return mix(reach[base + 1]!, reach[base + 2]!, hue - base);
}

/** Colourfulness of a display colour of lightness `to`, at the scene's lightness `from`. */
function expandChroma(m: number, to: number, from: number, norm: number, reach: number, r: Rendering): number {
  if (m === 0) return 0;
  const n = to / r.limit;
  const rest = Math.max(0, 1 - n);
  const limit = (powExact(n, gamma) * reach) / norm;
  let x = toeInverse(m / norm, limit, n * r.compression, rest);
  x = limit - toeInverse(limit - x, limit - 0.001, rest * r.saturation, Math.sqrt(n * n + r.saturationThreshold));
  return x * norm * powExact(to / from, -gamma);
}

const compressionThreshold = 0.75;

/** Colourfulness m let out again between a threshold and the hull, so that what lies at the hull comes to lie at the reach. */
function letOut(m: number, hull: number, reach: number): number {
  const proportion = Math.max(hull / reach, compressionThreshold);
  const threshold = proportion * hull;
  if (m <= threshold || proportion >= 1) return m;
  const [gamutRoom, reachRoom] = [hull - threshold, reach - threshold];
  const scale = reachRoom / (reachRoom / gamutRoom - 1);
  const n = (m - threshold) / scale;
  return threshold + (n >= 1 ? scale : scale * -(n / (n - 1)));
}

/** Moves a colour of one hue out of the display's gamut again. Lightness and colourfulness are changed in place. */
function expandGamut(a: Appearance, reachM: number, r: Rendering): void {
  const { limit, gamut: g } = r;
  const { lightness: j, colourfulness: m } = a;
  if (!(j > 0)) {
    a.lightness = a.colourfulness = 0;
    return;
  }
  if (!(m > 0) || j > limit) {
    a.colourfulness = 0;
    return;
  }
  const upper = entryAbove(a.hue, g);
  const t = (a.hue - g.hue[upper - 1]!) / (g.hue[upper]! - g.hue[upper - 1]!);
  const cuspJ = mix(g.lightness[upper - 1]!, g.lightness[upper]!, t);
  const cuspM = mix(g.colourfulness[upper - 1]!, g.colourfulness[upper]!, t);
  const upperPower = mix(g.upperPower[upper - 1]!, g.upperPower[upper]!, t);
  const focus = focusLightness(cuspJ, r.middle, limit);
  const threshold = mix(cuspJ, limit, focusGainBlend);
  const move = (at: number) => {
    const gain = focusGain(at, threshold, limit, r.focusDistance);
    const axis = axisLightness(j, m, focus, limit, gain);
    const slope = lineSlope(axis, focus, limit, gain);
    const cuspAxis = axisLightness(cuspJ, cuspM, focus, limit, gain);
    const hull = hullColourfulness(cuspJ, cuspM, limit, upperPower, r.lowerHull, axis, slope, cuspAxis);
    if (!(hull > 0)) {
      a.lightness = j;
      a.colourfulness = 0;
      return;
    }
    const moved = letOut(m, hull, meetCurve(axis, slope, gamma, limit, reachM, limit));
    a.lightness = axis + moved * slope;
    a.colourfulness = moved;
  };
  move(j);
  // The lines' steepness hangs on the lightness that is sought: above the threshold a first answer stands in for it.
  if (j > threshold) move(a.lightness);
}

/** Index of the entry of the hue table at or above a hue. */
function entryAbove(hue: number, g: Rendering['gamut']): number {
  let i = 1 + Math.trunc(hue);
  let low = Math.max(0, i + g.searchFrom);
  let high = Math.min(361, i + g.searchTo);
  while (low + 1 < high) {
    if (hue > g.hue[i]!) low = i;
    else high = i;
    i = (low + high) >> 1;
  }
  return Math.max(1, high);
}

/** Linear light of the display's primaries (1 is 100 cd/m²) back to ACES2065-1, in place. */
export function undoRendering(r: Rendering): (p: [number, number, number]) => void {
  const a = newAppearance();
  return (p) => {
    seeColour(r.display, p[0], p[1], p[2], a);
    const norm = chromaNorm(a.cosine, a.sine, r.chromaScale);
    const reach = reachAt(a.hue, r.reach);
    expandGamut(a, reach, r);
    const shown = a.lightness;
    const scene = lightnessOf(toneInverse(luminanceOf(powExact(shown / 100, gamma), r.scene), r.tone), r.scene);
    makeColour(r.scene, scene, expandChroma(a.colourfulness, shown, scene, norm, reach, r), a.cosine, a.sine, p);
  };
}
