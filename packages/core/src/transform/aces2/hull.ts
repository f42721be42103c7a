import { log2Exact, powExact } from '../../kernel/exactPower.ts';

/**
 * Geometry of the gamut compression in a plane of one hue: colours move along lines towards a focus on the lightness axis until they lie
 * within the display's hull, whose upper and lower parts are powers meeting at the cusp. aces-core, Lib.Academy.OutputTransform.ctl.
 */

const smoothCusps = 0.12;
export const cuspMiddleBlend = 1.3;
export const focusGainBlend = 0.3;

export const mix = (from: number, to: number, t: number): number => from + t * (to - from);

/** How steep the lines are; above `threshold` they flatten towards the top. */
export function focusGain(lightness: number, threshold: number, limit: number, distance: number): number {
  const gain = limit * distance;
  if (!(lightness > threshold)) return gain;
  const t = log2Exact((limit - threshold) / Math.max(0.0001, limit - lightness)) / 3.321928094887362;
  return gain * (t * t + 1);
}

/** Lightness at which the line through a colour meets the axis. */
export function axisLightness(
  lightness: number,
  colourfulness: number,
  focus: number,
  limit: number,
  gain: number,
): number {
  const scaled = colourfulness / gain;
  const a = scaled / focus;
  if (lightness < focus) {
    const b = 1 - scaled;
    return (2 * lightness) / (b + Math.sqrt(b * b + 4 * a * lightness));
  }
  const b = -(1 + scaled + limit * a);
  const c = limit * scaled + lightness;
  return (-2 * c) / (b - Math.sqrt(b * b - 4 * a * c));
}

/** Slope of the line that meets the axis at `axis`. */
export function lineSlope(axis: number, focus: number, limit: number, gain: number): number {
  const room = axis < focus ? axis : limit - axis;
  return (room * (axis - focus)) / (focus * gain);
}

/** Colourfulness at which a line meets a power curve from the axis to (`top`, `most`); the published approximation, not a solution. */
export function meetCurve(
  axis: number,
  slope: number,
  power: number,
  top: number,
  most: number,
  cuspAxis: number,
): number {
  const shifted = cuspAxis * powExact(axis / cuspAxis, power);
  return (shifted * most) / (top - slope * most);
}

/** The smaller of two, rounded off where they are close. */
function smoothLeast(a: number, b: number, scale: number): number {
  const s = smoothCusps * scale;
  const h = Math.max(s - Math.abs(a - b), 0) / s;
  return Math.min(a, b) - (h * h * h * s) / 6;
}

/** Colourfulness at which a line leaves the display's hull. */
export function hullColourfulness(
  cuspLightness: number,
  cuspColourfulness: number,
  limit: number,
  upperPower: number,
  lowerPower: number,
  axis: number,
  slope: number,
  cuspAxis: number,
): number {
  const lower = meetCurve(axis, slope, lowerPower, cuspLightness, cuspColourfulness, cuspAxis);
  // The upper part is the lower one turned upside down at the limit.
  const upper = meetCurve(limit - axis, -slope, upperPower, limit - cuspLightness, cuspColourfulness, limit - cuspAxis);
  return smoothLeast(lower, upper, cuspColourfulness);
}

/** Lightness of the focus for a cusp. */
export function focusLightness(cuspLightness: number, middle: number, limit: number): number {
  return mix(cuspLightness, middle, Math.min(1, cuspMiddleBlend - cuspLightness / limit));
}
