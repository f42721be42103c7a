import type { Vector3 } from '../colour/matrix.ts';
import type { ColourStep } from '../colour/steps.ts';
import { ColourFileError } from '../config/place.ts';
import { arctangent2, powExact } from '../kernel/exactPower.ts';
import type { Direction, TransformOf } from './transform.ts';

type Pixel = (p: [number, number, number]) => void;

const spellings: Readonly<Record<string, string>> = {
  aces_redmod03: 'aces_redmod03',
  aces_red_mod_03: 'aces_redmod03',
  aces_redmod10: 'aces_redmod10',
  aces_red_mod_10: 'aces_redmod10',
  aces_glow03: 'aces_glow03',
  aces_glow_03: 'aces_glow03',
  aces_glow10: 'aces_glow10',
  aces_glow_10: 'aces_glow10',
  aces_darktodim10: 'aces_darktodim10',
  aces_dark_to_dim_10: 'aces_darktodim10',
  aces_gamutcomp13: 'aces_gamutcomp13',
  aces_gamut_comp_13: 'aces_gamutcomp13',
  rec2100_surround: 'rec2100surround',
  rec2100surround: 'rec2100surround',
  rgb_to_hsv: 'rgb_to_hsv',
  xyz_to_xyy: 'xyz_to_xyy',
  xyz_to_uvy: 'xyz_to_uvy',
  xyz_to_luv: 'xyz_to_luv',
};

/** The open config format's fixed functions. Sources: Academy CTL (ACES parts), BT.2100-2 (surround), CIE 15:2004 (xyY, u'v', L*u*v*). */
export function fixedFunctionSteps(t: TransformOf<'fixedFunction'>, way: Direction): ColourStep[] {
  const style = spellings[t.style.toLowerCase()];
  if (!style) throw new ColourFileError(`the fixed function "${t.style}" is not known.`, t.place, 'unsupported');
  const count = style === 'rec2100surround' ? 1 : style === 'aces_gamutcomp13' ? 7 : 0;
  if (t.parameters.length !== count || t.parameters.some((p) => !Number.isFinite(p)))
    throw new ColourFileError(`the fixed function "${t.style}" needs ${count} parameters.`, t.place);
  if (style === 'rec2100surround' && !(t.parameters[0]! >= 0.01 && t.parameters[0]! <= 100))
    throw new ColourFileError('the surround gamma must lie between 0.01 and 100.', t.place);
  return [{ kind: 'plain', recipe: { what: 'function', style, parameters: t.parameters, inverse: way === 'inverse' } }];
}

/** The function over one colour that a style (as `spellings` settles it) stands for. */
export function fixedFunctionPixel(style: string, parameters: readonly number[], forward: boolean): Pixel {
  switch (style) {
    case 'aces_redmod03':
      return redModifier(3, forward);
    case 'aces_redmod10':
      return redModifier(10, forward);
    case 'aces_glow03':
      return glow(0.075, 0.1, forward);
    case 'aces_glow10':
      return glow(0.05, 0.08, forward);
    case 'aces_darktodim10': {
      const weights: Vector3 = [0.27222871678091454, 0.67408176581114831, 0.053689517407937051];
      return surround(weights, (forward ? 0.9811 : 1 / 0.9811) - 1, 1e-10);
    }
    case 'rec2100surround': {
      const gamma = parameters[0]!;
      return surround([0.2627, 0.678, 0.0593], (forward ? gamma : 1 / gamma) - 1, 1e-4);
    }
    case 'aces_gamutcomp13':
      return gamutCompression(parameters, forward);
    case 'rgb_to_hsv':
      return forward ? toHsv : fromHsv;
    case 'xyz_to_xyy':
      return forward ? toXyY : fromXyY;
    case 'xyz_to_uvy':
      return forward ? toUvY : fromUvY;
    case 'xyz_to_luv':
      return forward ? toLuv : fromLuv;
    default:
      throw new ColourFileError(`the fixed function "${style}" is not known.`, undefined, 'unsupported');
  }
}

function saturationOf(r: number, g: number, b: number): number {
  const high = Math.max(r, g, b);
  const low = Math.min(r, g, b);
  return (Math.max(high, 1e-10) - Math.max(low, 1e-10)) / Math.max(high, 1e-2);
}

/** Cubic pieces of the bell over hue, four knots apart: coefficients of t³, t², t, 1. */
const bell = [
  [0.25, 0, 0, 0],
  [-0.75, 0.75, 0.75, 0.25],
  [0.75, -1.5, 0, 1],
  [-0.25, 0.75, -0.75, 0.25],
] as const;

/** Academy CTL, RRT.ctl: the red modifier of ACES 1.0 (width 135 degrees, scale 0.82) and 0.x (120 degrees, 0.85, hue kept). */
function redModifier(version: 3 | 10, forward: boolean): Pixel {
  const perRadian = version === 3 ? 1.9098593171027443 : 1.6976527263135504;
  const strength = version === 3 ? 1 - 0.85 : 1 - 0.82;
  const pivot = 0.03;
  const hueWeight = (r: number, g: number, b: number) => {
    const hue = arctangent2(1.7320508075688772 * (g - b), 2 * r - (g + b));
    const knot = hue * perRadian + 2;
    const j = Math.floor(knot);
    const piece = bell[j];
    if (!piece || knot < 0) return 0;
    const t = knot - j;
    return piece[3] + t * (piece[2] + t * (piece[1] + t * piece[0]));
  };
  const keepHue = (p: [number, number, number], red: number) => {
    const [r, g, b] = p;
    if (g >= b) p[1] = ((g - b) / Math.max(1e-10, r - b)) * (red - b) + b;
    else p[2] = ((b - g) / Math.max(1e-10, r - g)) * (red - g) + g;
  };
  return (p) => {
    const [r, g, b] = p;
    const weight = hueWeight(r, g, b);
    if (!(weight > 0)) return;
    let red: number;
    if (forward) red = r + weight * saturationOf(r, g, b) * (pivot - r) * strength;
    else {
      const low = Math.min(g, b);
      const a = weight * strength - 1;
      const half = r - weight * (pivot + low) * strength;
      const c = weight * pivot * low * strength;
      red = (-half - Math.sqrt(half * half - 4 * a * c)) / (2 * a);
    }
    if (version === 3) keepHue(p, red);
    p[0] = red;
  };
}

/** Academy CTL, RRT.ctl: the glow module, with its gain and middle. */
function glow(gain: number, middle: number, forward: boolean): Pixel {
  return (p) => {
    const [r, g, b] = p;
    const chroma = Math.sqrt(Math.max(b * (b - g) + g * (g - r) + r * (r - b), 0));
    const yc = (b + g + r + 1.75 * chroma) / 3;
    const x = (saturationOf(r, g, b) - 0.4) * 5;
    const t = Math.max(1 - Math.abs(0.5 * x), 0);
    const s = 0.5 * (1 + (x < 0 ? -1 : 1) * (1 - t * t));
    const k = gain * s;
    let change: number;
    if (yc >= middle * 2) change = 0;
    else if (forward) change = yc <= (middle * 2) / 3 ? k : k * (middle / yc - 0.5);
    else change = yc <= ((1 + k) * middle * 2) / 3 ? -k / (1 + k) : (k * (middle / yc - 0.5)) / (k * 0.5 - 1);
    p[0] = r * (1 + change);
    p[1] = g * (1 + change);
    p[2] = b * (1 + change);
  };
}

/** Y^exponent as a gain on all channels, Y limited from below. */
function surround([wr, wg, wb]: Vector3, exponent: number, least: number): Pixel {
  return (p) => {
    const k = powExact(Math.max(least, wr * p[0] + wg * p[1] + wb * p[2]), exponent);
    p[0] *= k;
    p[1] *= k;
    p[2] *= k;
  };
}

/** Academy S-2020-001, ACES reference gamut compression: limits, thresholds (cyan, magenta, yellow) and power. */
function gamutCompression(parameters: readonly number[], forward: boolean): Pixel {
  const power = parameters[6]!;
  const scales = [0, 1, 2].map((c) => {
    const [limit, threshold] = [parameters[c]!, parameters[c + 3]!];
    const inner = ((1 - threshold) / (limit - threshold)) ** -power - 1;
    return (limit - threshold) / inner ** (1 / power);
  });
  const bend = (distance: number, c: number) => {
    const threshold = parameters[c + 3]!;
    const scale = scales[c]!;
    if (distance < threshold) return distance;
    const n = (distance - threshold) / scale;
    if (!forward && distance >= threshold + scale) return distance;
    const q = powExact(n, power);
    return forward
      ? threshold + (scale * n) / powExact(1 + q, 1 / power)
      : threshold + scale * powExact(-(q / (q - 1)), 1 / power);
  };
  return (p) => {
    const top = Math.max(p[0], p[1], p[2]);
    if (top === 0) return;
    const size = Math.abs(top);
    for (let c = 0; c < 3; c++) p[c] = top - bend((top - p[c]!) / size, c) * size;
  };
}

const toHsv: Pixel = (p) => {
  const [r, g, b] = p;
  const high = Math.max(r, g, b);
  const low = Math.min(r, g, b);
  let hue = 0;
  let saturation = 0;
  let value = high;
  if (high !== low) {
    const delta = high - low;
    if (high !== 0) saturation = delta / high;
    hue = r === high ? (g - b) / delta : g === high ? 2 + (b - r) / delta : 4 + (r - g) / delta;
    if (hue < 0) hue += 6;
    hue /= 6;
  }
  // Values below 0 carry on, as the format's own definition has it.
  if (low < 0) value += low;
  if (-low > high) saturation = (high - low) / -low;
  p[0] = hue;
  p[1] = saturation;
  p[2] = value;
};

const unit = (x: number) => Math.min(Math.max(x, 0), 1);

const fromHsv: Pixel = (p) => {
  const hue = (p[0] - Math.floor(p[0])) * 6;
  const saturation = Math.min(Math.max(p[1], 0), 1.999);
  const value = p[2];
  let high = value;
  let low = value * (1 - saturation);
  if (saturation > 1) {
    low = (value * (1 - saturation)) / (2 - saturation);
    high = value - low;
  }
  if (value < 0) {
    low = value / (2 - saturation);
    high = value - low;
  }
  const delta = high - low;
  p[0] = unit(Math.abs(hue - 3) - 1) * delta + low;
  p[1] = unit(2 - Math.abs(hue - 2)) * delta + low;
  p[2] = unit(2 - Math.abs(hue - 4)) * delta + low;
};

const over = (x: number) => (x === 0 ? 0 : 1 / x);

const toXyY: Pixel = (p) => {
  const [x, y, z] = p;
  const d = over(x + y + z);
  p[0] = x * d;
  p[1] = y * d;
  p[2] = y;
};

const fromXyY: Pixel = (p) => {
  const [x, y, luminance] = p;
  const d = over(y);
  p[0] = luminance * x * d;
  p[1] = luminance;
  p[2] = luminance * (1 - x - y) * d;
};

const toUvY: Pixel = (p) => {
  const [x, y, z] = p;
  const d = over(x + 15 * y + 3 * z);
  p[0] = 4 * x * d;
  p[1] = 9 * y * d;
  p[2] = y;
};

const fromUvY: Pixel = (p) => {
  const [u, v, luminance] = p;
  const d = over(v);
  p[0] = (9 / 4) * luminance * u * d;
  p[1] = luminance;
  p[2] = (3 / 4) * luminance * (4 - u - (20 / 3) * v) * d;
};

/** CIE 15:2004, 8.2.3.1, scaled so that white has L* = 1; u' and v' of D65. */
const whiteU = 0.19783001;
const whiteV = 0.46831999;

const toLuv: Pixel = (p) => {
  toUvY(p);
  const [u, v, y] = p;
  const lightness = y <= 0.008856451679 ? 9.0329629629629608 * y : 1.16 * powExact(y, 1 / 3) - 0.16;
  const d = 13 * lightness;
  p[0] = lightness;
  p[1] = d * (u - whiteU);
  p[2] = d * (v - whiteV);
};

const fromLuv: Pixel = (p) => {
  const [lightness, us, vs] = p;
  const d = lightness === 0 ? 0 : 1 / (13 * lightness);
  const u = us * d + whiteU;
  const v = vs * d + whiteV;
  const t = (lightness + 0.16) / 1.16;
  const y = lightness <= 0.08 ? 0.11070564598794539 * lightness : t * t * t;
  p[0] = u;
  p[1] = v;
  p[2] = y;
  fromUvY(p);
};
