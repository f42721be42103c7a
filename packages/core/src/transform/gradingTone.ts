import type { ColourStep, PlaneStep } from '../colour/steps.ts';
import { fromStops, toStops } from './logAround.ts';
import { line, parabola, stableRoot } from './monotone.ts';
import { eachChannel } from './scale.ts';
import type { Direction, GradingStyle, ToneValues, ToneZone, TransformOf } from './transform.ts';

type Curve = (x: number) => number;

/** Ends of the tonal scale by style; the S-contrast has an upper end of its own. */
const ends: Readonly<Record<GradingStyle, { bottom: number; top: number; sTop: number; pivot: number }>> = {
  log: { bottom: 0, top: 1, sTop: 1, pivot: 0.4 },
  linear: { bottom: -5.5, top: 7.5, sTop: 6.5, pivot: 0 },
  video: { bottom: 0, top: 1, sTop: 1, pivot: 0.4 },
};

/**
 * The tone control of the open config format: midtones, highlights, whites, shadows, blacks and an S-contrast, each a
 * rising curve made of parabolas. Every channel is a rising function of itself, so the inverse is solved for.
 */
export function gradingToneSteps(t: TransformOf<'gradingTone'>, way: Direction): ColourStep[] {
  if (([0, 1, 2] as const).every((c) => toneCurve(t.values, t.style, c).length === 0)) return [];
  const step = (channel: 0 | 1 | 2): PlaneStep => ({
    kind: 'plainPlane',
    recipe: { what: 'tone', values: t.values, style: t.style, channel, inverse: way === 'inverse' },
  });
  const limit: ColourStep = { kind: 'clamp', low: -Infinity, high: 65504 };
  const inner = [eachChannel(step)];
  return t.style === 'linear' ? [toStops, ...inner, fromStops, limit] : [...inner, limit];
}

/** The whole control as one rising function of a channel. */
export function toneFunction(values: ToneValues, style: GradingStyle, channel: 0 | 1 | 2): Curve {
  const parts = toneCurve(values, style, channel);
  return (x) => parts.reduce((y, part) => part(y), x);
}

function toneCurve(v: ToneValues, style: GradingStyle, c: 0 | 1 | 2): Curve[] {
  const zone = (z: ToneZone, make: (value: number, z: ToneZone) => Curve | undefined) => [
    make(z.rgb[c], z),
    make(z.master, z),
  ];
  // A zone's start keeps a hundredth away from its pivot.
  const highlightStart = Math.min(v.highlights.start, v.highlights.width - 0.01);
  const shadowStart = Math.max(v.shadows.start, v.shadows.width + 0.01);
  const high = (value: number) => bent(2 - value, highlightStart, v.highlights.width, 'high');
  const low = (value: number) => bent(value, v.shadows.width, shadowStart, 'low');
  // Whites begin and end where the highlights' master has moved them to, blacks likewise with the shadows'.
  const white = movedZone(v.whites, v.whites.start + v.whites.width, high(v.highlights.master));
  const black = movedZone(v.blacks, v.blacks.start - v.blacks.width, low(v.shadows.master));
  return [
    ...zone(v.midtones, (value, z) => midtones(value, z, style)),
    ...zone(v.highlights, high),
    ...zone(white, whites),
    ...zone(v.shadows, low),
    ...zone(black, blacks),
    sContrast(v.sContrast, style),
  ].filter((f) => f !== undefined);
}

/** A zone whose start and end go through a curve. */
function movedZone(z: ToneZone, end: number, curve: Curve | undefined): ToneZone {
  if (!curve) return z;
  const start = curve(z.start);
  return { ...z, start, width: Math.abs(curve(end) - start) };
}

const limit = (x: number, low: number, high: number) => Math.min(Math.max(x, low), high);

function midtones(value: number, { start, width: asked }: ToneZone, style: GradingStyle): Curve | undefined {
  const { bottom: x0, top: x5 } = ends[style];
  const given = limit(value, 0.01, 1.99);
  if (given === 1) return undefined;
  const width = limit(asked, 0.01, (x5 - x0) * 0.95);
  const centre = limit(start, x0 + width * 0.51, x5 - width * 0.51);
  const x1 = centre - width * 0.5;
  const x4 = x1 + width;
  const x2 = x1 + (x4 - x1) * 0.25;
  const x3 = x1 + (x4 - x1) * 0.75;
  const [m0, m5] = [1, 1];
  const amount = (given - 1) * 0.9;
  const [m2, m3] = [1 + amount, 1 - amount];
  let [m1, m4] = [1 + amount * 0.4, 1 - amount * 0.4];
  // The slope on the wider side makes up for the area won or lost on the other.
  if (centre <= (x5 + x0) * 0.5) {
    const area =
      (x1 - x0) * (m1 - m0) * 0.5 + (x2 - x1) * (m1 - m0 + (m2 - m1) * 0.5) + (centre - x2) * (m2 - m0) * 0.5;
    m4 =
      (-0.5 * (x5 - x4) * m5 + (x4 - x3) * (0.5 * m3 - m5) + (x3 - centre) * (m3 - m5) * 0.5 + area) /
      (-0.5 * (x5 - x3));
  } else {
    const area =
      (x5 - x4) * (m4 - m5) * 0.5 + (x4 - x3) * (m4 - m5 + (m3 - m4) * 0.5) + (x3 - centre) * (m3 - m5) * 0.5;
    m1 =
      (-0.5 * (x1 - x0) * m0 + (x2 - x1) * (0.5 * m2 - m0) + (centre - x2) * (m2 - m0) * 0.5 + area) /
      (-0.5 * (x2 - x0));
  }
  const x = [x0, x1, x2, x3, x4, x5];
  const m = [m0, m1, m2, m3, m4, m5];
  const y = [x0];
  for (let i = 1; i < 6; i++) y.push(y[i - 1]! + (m[i - 1]! + m[i]!) * (x[i]! - x[i - 1]!) * 0.5);
  return (t) => {
    if (t < x0) return line(t, x0, y[0]!, m0);
    if (t > x5) return line(t, x5, y[5]!, m5);
    const i = t < x1 ? 0 : t > x4 ? 4 : t > x3 ? 3 : t > x2 ? 2 : 1;
    return parabola(t, x[i]!, x[i + 1]!, y[i]!, m[i]!, m[i + 1]!);
  };
}

/** Highlights and shadows: two parabolas between fixed ends, one end's slope changed; above 1 the inverse curve of 2 − value. */
function bent(value: number, x0: number, x2: number, side: 'high' | 'low'): Curve | undefined {
  if (value === 1) return undefined;
  const free = Math.max(0.01, value < 1 ? value : 2 - value);
  const [m0, m2] = side === 'high' ? [1, free] : [free, 1];
  const [y0, y2] = [x0, x2];
  const x1 = x0 + (x2 - x0) * 0.5;
  const y1 = (0.5 / (x2 - x0)) * ((2 * y0 + m0 * (x1 - x0)) * (x2 - x1) + (2 * y2 - m2 * (x2 - x1)) * (x1 - x0));
  if (value < 1) {
    return (t) => {
      if (t < x0) return line(t, x0, y0, m0);
      if (t > x2) return line(t, x2, y2, m2);
      if (t < x1) {
        const u = (t - x0) / (x1 - x0);
        return y0 * (1 - u * u) + y1 * u * u + m0 * (1 - u) * u * (x1 - x0);
      }
      const u = (t - x1) / (x2 - x1);
      return y1 * (1 - u) * (1 - u) + y2 * (2 - u) * u + m2 * (u - 1) * u * (x2 - x1);
    };
  }
  return (t) => {
    if (t < y0) return x0 + (t - y0) / m0;
    if (t > y2) return x2 + (t - y2) / m2;
    if (t < y1) return stableRoot(y1 - y0 - m0 * (x1 - x0), m0 * (x1 - x0), y0 - t) * (x1 - x0) + x0;
    return stableRoot(y1 - y2 + m2 * (x2 - x1), 2 * y2 - 2 * y1 - m2 * (x2 - x1), y1 - t) * (x2 - x1) + x1;
  };
}

function whites(value: number, { start: x0, width }: ToneZone): Curve | undefined {
  if (value === 1) return undefined;
  const x1 = x0 + width;
  const m1 = Math.max(0.01, value < 1 ? value : 2 - value);
  if (value < 1) {
    const y1 = x0 + (1 + m1) * (x1 - x0) * 0.5;
    return (t) => (t < x0 ? t : t > x1 ? line(t, x1, y1, m1) : parabola(t, x0, x1, x0, 1, m1));
  }
  const gain = (1 + m1) * 0.5;
  // Beyond the white end the curve goes on as a parabola that starts with the slope it has at 99 %.
  const y1 = (x1 - x0) / gain + x0;
  const near = x0 + (x1 - x0) * 0.99;
  const slope = 1 / (1 + ((near - x0) * (m1 - 1)) / (x1 - x0));
  const aa = (0.5 * (1 / m1 - slope)) / (x1 - near);
  const bb = 1 / m1 - 2 * aa * x1;
  const cc = y1 - bb * x1 - aa * x1 * x1;
  return (t) => {
    if (t > x1) return (aa * t + bb) * t + cc;
    const s = (t - x0) * gain + x0;
    const inner = s < x0 ? s : stableRoot(0.5 * (m1 - 1) * (x1 - x0), x1 - x0, x0 - s) * (x1 - x0) + x0;
    return (inner - x0) / gain + x0;
  };
}

function blacks(value: number, { start: x1, width }: ToneZone): Curve | undefined {
  const turned = 2 - value;
  if (turned === 1) return undefined;
  const x0 = x1 - width;
  const m0 = Math.max(0.01, turned < 1 ? turned : 2 - turned);
  const y0 = x1 - (m0 + 1) * (x1 - x0) * 0.5;
  if (turned < 1) return (t) => (t < x0 ? line(t, x0, y0, m0) : t > x1 ? t : parabola(t, x0, x1, y0, m0, 1));
  const gain = (m0 + 1) * 0.5;
  return (t) => {
    const s = (t - x1) * gain + x1;
    const inner =
      s < y0
        ? x0 + (s - y0) / m0
        : s > x1
          ? s
          : stableRoot(0.5 * (1 - m0) * (x1 - x0), m0 * (x1 - x0), y0 - s) * (x1 - x0) + x0;
    return (inner - x1) / gain + x1;
  };
}

function sContrast(value: number, style: GradingStyle): Curve | undefined {
  if (value === 1) return undefined;
  const { bottom, sTop, pivot } = ends[style];
  const k = value > 1 ? 1 / (1.8125 - 0.8125 * Math.min(value, 1.99)) : 0.28125 + 0.71875 * Math.max(value, 0.01);
  const upper = shoulder(pivot, sTop, k);
  // The toe is the shoulder turned about the pivot.
  const lower = shoulder(-pivot, -bottom, k);
  return (t) => (t > pivot ? upper(t) : -lower(-t));
}

/** From a pivot with slope k up to a point on the diagonal: straight, then a parabola, then straight with a slope near 1/k. */
function shoulder(pivot: number, end: number, k: number): Curve {
  const y0 = pivot + (end - pivot) * 0.25;
  const x0 = pivot + (y0 - pivot) / k;
  const least = (end - x0) * 0.3;
  let m3 = 1 / k;
  const centre = (end - y0 - m3 * end + k * x0) / (k - m3);
  let x1 = x0;
  let x2 = 2 * centre - x1;
  if (x2 > end) {
    x2 = end;
    x1 = 2 * centre - x2;
  } else if (x2 - x1 < least) {
    x2 = x1 + least;
    const moved = (x2 + x1) * 0.5;
    m3 = (end - y0 + k * x0 - moved * k) / (end - moved);
  }
  const y2 = y0 + (k + m3) * (x2 - x1) * 0.5;
  return (t) => (t > x2 ? line(t, x2, y2, m3) : t > x1 ? parabola(t, x1, x2, y0, k, m3) : (t - pivot) * k + pivot);
}
