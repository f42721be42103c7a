import { bt1886Power, srgbCurve } from './curves.ts';
import { diagonal3, invert3, multiply3, type Matrix3 } from './matrix.ts';
import { adaptation, ap0, ap1, luminanceWeights, primariesMatrix, rec709, toXyz } from './primaries.ts';
import { exposureStep, mergeSteps, decodeSteps, type ColourStep } from './processor.ts';
import { UnknownNameError, type ColourSpace } from './spaces.ts';

export interface Display {
  readonly name: string;
  /** What a file that carries this display's numbers is tagged as. */
  readonly encoding: 'srgb' | 'bt1886';
  readonly views: readonly string[];
}

export const displays: readonly Display[] = [
  { name: 'sRGB', encoding: 'srgb', views: ['ACES SDR', 'Untoned'] },
  { name: 'Rec.709', encoding: 'bt1886', views: ['ACES SDR', 'Untoned'] },
];

/** What only the eye gets: display, view and an exposure trim in stops. Looks come with the colour configs. */
export interface ViewChoice {
  readonly display: string;
  readonly view: string;
  readonly exposure: number;
}

export function requireDisplay(name: string): Display {
  const display = displays.find((d) => d.name.toLowerCase() === name.toLowerCase());
  if (!display)
    throw new UnknownNameError(
      'display',
      name,
      displays.map((d) => d.name),
    );
  return display;
}

/**
 * Numbers of `from` to display code values 0 … 1 of a display, through a view. The last step clamps, as the display does.
 * Throws an UnknownNameError for a display or view that does not exist.
 */
export function viewSteps(from: ColourSpace, choice: ViewChoice): ColourStep[] {
  const display = requireDisplay(choice.display);
  const view = display.views.find((v) => v.toLowerCase() === choice.view.toLowerCase());
  if (!view) throw new UnknownNameError(`view of display ${display.name}`, choice.view, display.views);
  const encode: ColourStep =
    display.encoding === 'srgb' ? { kind: 'encode', curve: srgbCurve } : { kind: 'power', exponent: 1 / bt1886Power };
  const toLinear = [...decodeSteps(from), exposureStep(choice.exposure)];
  const limit: ColourStep = { kind: 'clamp', low: 0, high: 1 };
  if (view === 'Untoned') {
    const matrix = primariesMatrix(from.primaries, rec709);
    return mergeSteps([...toLinear, { kind: 'matrix', matrix }, limit, encode]);
  }
  return mergeSteps([
    ...toLinear,
    { kind: 'matrix', matrix: primariesMatrix(from.primaries, ap0) },
    ...acesSdrSteps(),
    limit,
    encode,
  ]);
}

/** A saturation matrix about the luminance weights of AP1. Academy CTL, ACESlib.Utilities_Color calc_sat_adjust_matrix. */
function saturationMatrix(factor: number): Matrix3 {
  const w = luminanceWeights(ap1);
  const rest = 1 - factor;
  return [
    rest * w[0] + factor,
    rest * w[1],
    rest * w[2],
    rest * w[0],
    rest * w[1] + factor,
    rest * w[2],
    rest * w[0],
    rest * w[1],
    rest * w[2] + factor,
  ];
}

/**
 * ACES 1.x SDR output transform: ACES2065-1 to linear light of a 100 nit Rec.709 display in a dim surround.
 * Source: Academy CTL, RRT.ctl and ODT.Academy.Rec709_100nits_dim.ctl / ODT.Academy.sRGB_100nits_dim.ctl (versions 1.0.3 and
 * later agree). Both tone scales work on AP1, so the way back to AP0 between them cancels and is left out.
 */
function acesSdrSteps(): ColourStep[] {
  const halfMax = 65504;
  const cinemaWhite = 48;
  const cinemaBlack = 0.02;
  const range = cinemaWhite - cinemaBlack;
  return [
    { kind: 'acesGlowAndRed' },
    { kind: 'matrix', matrix: primariesMatrix(ap0, ap1) },
    { kind: 'clamp', low: 0, high: halfMax },
    { kind: 'matrix', matrix: saturationMatrix(0.96) },
    { kind: 'acesTone' },
    { kind: 'offset', offset: -cinemaBlack },
    { kind: 'matrix', matrix: diagonal3(1 / range, 1 / range, 1 / range) },
    { kind: 'surround', weights: luminanceWeights(ap1), exponent: 0.9811 },
    { kind: 'matrix', matrix: saturationMatrix(0.93) },
    { kind: 'matrix', matrix: acesToRec709() },
  ];
}

/** AP1 light to Rec.709 light with the CTL's D60 to D65 adaptation (Bradford). */
function acesToRec709(): Matrix3 {
  return multiply3(invert3(toXyz(rec709)), multiply3(adaptation(ap1.white, rec709.white), toXyz(ap1)));
}
