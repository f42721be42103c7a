import type { Vector3 } from '../colour/matrix.ts';
import type { GradingCurve, GradingStyle, ToneZone, Transform } from '../transform/transform.ts';
import { Fields } from './fields.ts';
import { ColourFileError } from './place.ts';

const styles = ['log', 'linear', 'video'] as const;
type Shape = Transform extends infer T ? (T extends Transform ? Omit<T, 'direction' | 'place'> : never) : never;

/** Zones of the tone control when a config leaves them out: start (or centre) and width (or pivot), by style. */
const toneDefaults: Readonly<Record<GradingStyle, Readonly<Record<string, readonly [number, number]>>>> = {
  linear: { blacks: [0, 4], shadows: [2, -7], midtones: [0, 8], highlights: [-2, 9], whites: [0, 8] },
  log: { blacks: [0.4, 0.4], shadows: [0.5, 0], midtones: [0.4, 0.6], highlights: [0.3, 1], whites: [0.4, 0.5] },
  video: { blacks: [0.4, 0.4], shadows: [0.6, 0], midtones: [0.4, 0.7], highlights: [0.2, 1], whites: [0.5, 0.5] },
};

/** Readers of the three grading transforms; what a config leaves out takes the format's defaults. */
export const parseGrading = {
  primary(f: Fields): Shape {
    const style = f.word('style', styles, 'log');
    const pivot = f.get('pivot') && new Fields(f.get('pivot')!, 'pivot');
    const clamp = f.get('clamp') && new Fields(f.get('clamp')!, 'clamp');
    return {
      type: 'gradingPrimary',
      style,
      values: {
        brightness: combined(f, 'brightness', 0),
        contrast: combined(f, 'contrast', 1),
        gamma: combined(f, 'gamma', 1),
        offset: combined(f, 'offset', 0),
        exposure: combined(f, 'exposure', 0),
        lift: combined(f, 'lift', 0),
        gain: combined(f, 'gain', 1),
        saturation: f.number('saturation') ?? 1,
        pivot: pivot?.number('contrast') ?? (style === 'log' ? -0.2 : 0.18),
        pivotBlack: pivot?.number('black') ?? 0,
        pivotWhite: pivot?.number('white') ?? 1,
        clampBlack: clamp?.number('black') ?? -Infinity,
        clampWhite: clamp?.number('white') ?? Infinity,
      },
    };
  },

  curve(f: Fields): Shape {
    const style = f.word('style', styles, 'log');
    const read = (key: string) => gradingCurve(f, key, style);
    return {
      type: 'gradingCurve',
      style,
      bypassLog: f.truth('lintolog_bypass', false),
      curves: [read('red'), read('green'), read('blue'), read('master')],
    };
  },

  tone(f: Fields): Shape {
    const style = f.word('style', styles, 'log');
    const zone = (key: string, start: string, width: string): ToneZone => {
      const node = f.get(key);
      const [s, w] = toneDefaults[style][key]!;
      if (!node) return { rgb: [1, 1, 1], master: 1, start: s, width: w };
      const z = new Fields(node, key);
      return {
        rgb: (z.numbers('rgb', [3]) ?? [1, 1, 1]) as unknown as Vector3,
        master: z.number('master') ?? 1,
        start: z.number(start) ?? s,
        width: z.number(width) ?? w,
      };
    };
    return {
      type: 'gradingTone',
      style,
      values: {
        blacks: zone('blacks', 'start', 'width'),
        shadows: zone('shadows', 'start', 'pivot'),
        midtones: zone('midtones', 'center', 'width'),
        highlights: zone('highlights', 'start', 'pivot'),
        whites: zone('whites', 'start', 'width'),
        sContrast: f.number('s_contrast') ?? 1,
      },
    };
  },
};

/** A control's three channels with its master folded in: multiplied where 1 is neutral, added where 0 is. */
function combined(f: Fields, key: string, neutral: 0 | 1): Vector3 {
  const node = f.get(key);
  if (!node) return [neutral, neutral, neutral];
  const control = new Fields(node, key);
  const [r, g, b] = control.numbers('rgb', [3]) ?? [neutral, neutral, neutral];
  const master = control.number('master') ?? neutral;
  return neutral === 1 ? [r! * master, g! * master, b! * master] : [r! + master, g! + master, b! + master];
}

function gradingCurve(f: Fields, key: string, style: GradingStyle): GradingCurve {
  const node = f.get(key);
  const straight = style === 'linear' ? [-7, -7, 0, 0, 7, 7] : [0, 0, 0.5, 0.5, 1, 1];
  const c = node && new Fields(node, key);
  const numbers = c?.numbers('control_points') ?? straight;
  if (numbers.length % 2 || numbers.length < 4)
    throw new ColourFileError(`"${key}" needs two or more points as pairs of numbers.`, node?.place);
  const points: [number, number][] = [];
  for (let i = 0; i < numbers.length; i += 2) points.push([numbers[i]!, numbers[i + 1]!]);
  for (let i = 1; i < points.length; i++) {
    if (points[i]![0] < points[i - 1]![0])
      throw new ColourFileError(`the points of "${key}" must go from left to right.`, node?.place);
  }
  const slopes = c?.numbers('slopes', [points.length]);
  return { points, slopes: slopes?.some((s) => s !== 0) ? slopes : undefined };
}
