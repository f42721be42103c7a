import { cinemaSpline, plainSpline, rrtSpline, singleStageSpline } from '../../colour/acesTonescale.ts';
import { invertSteps } from '../../colour/invert.ts';
import { diagonal3, invert3, multiply3, type Matrix3 } from '../../colour/matrix.ts';
import {
  adaptation,
  ap0,
  ap1,
  luminanceWeights,
  p3d65,
  primariesMatrix,
  rec2020,
  rec709,
  toXyz,
  type Primaries,
} from '../../colour/primaries.ts';
import type { ColourStep } from '../../colour/steps.ts';
import type { Direction } from '../transform.ts';
import { encode } from './curves.ts';

const cinemaWhite = 48;
const cinemaBlack = 0.02;

/** A saturation matrix about the luminance weights of AP1. Academy CTL, ACESlib.Utilities_Color calc_sat_adjust_matrix. */
function saturation(factor: number): ColourStep {
  const w = luminanceWeights(ap1);
  const rest = 1 - factor;
  const row = (c: number) => [0, 1, 2].map((k) => rest * w[k]! + (k === c ? factor : 0));
  return { kind: 'matrix', matrix: [...row(0), ...row(1), ...row(2)] as unknown as Matrix3 };
}

/** ACES2065-1 to the AP1 values that the tone scales work on. Academy CTL, RRT.ctl (1.0.3 and later). */
function sweeteners(): ColourStep[] {
  return [
    { kind: 'acesGlowAndRed' },
    { kind: 'matrix', matrix: primariesMatrix(ap0, ap1) },
    { kind: 'clamp', low: 0, high: 65504 },
    saturation(0.96),
  ];
}

/** (x − low) / (high − low) for all channels. */
function relative(low: number, high: number): ColourStep {
  const k = 1 / (high - low);
  return { kind: 'matrix', matrix: diagonal3(k, k, k), offset: [-low * k, -low * k, -low * k] };
}

/** Holds light within a gamut: into its primaries, 0 … `top`, and back to XYZ. Takes XYZ of white D65. */
function limitTo(primaries: Primaries, top: number): ColourStep[] {
  const out = toXyz(primaries);
  return [
    { kind: 'matrix', matrix: invert3(out) },
    { kind: 'clamp', low: 0, high: top },
    { kind: 'matrix', matrix: out },
  ];
}

const gamuts: Readonly<Record<string, Primaries>> = { REC709: rec709, P3: p3d65, REC2020: rec2020 };

/** AP1 light to XYZ of a D65 display, white adapted. */
export function ap1ToXyz(): Matrix3 {
  return multiply3(adaptation(ap1.white, rec709.white), toXyz(ap1));
}

/** Tone scale, surround and saturation of a 48 nit cinema or a 100 nit video display, relative to its white, in AP1. */
function sdr(video: boolean): ColourStep[] {
  const tone: ColourStep[] = [
    ...sweeteners(),
    { kind: 'tone', splines: [rrtSpline, cinemaSpline()] },
    relative(cinemaBlack, cinemaWhite),
  ];
  if (!video) return tone;
  return [...tone, ...dimSurround()];
}

function dimSurround(): ColourStep[] {
  return [{ kind: 'surround', weights: luminanceWeights(ap1), exponent: 0.9811 }, saturation(0.93)];
}

/**
 * ACES 1.x SDR output: ACES2065-1 to XYZ (white D65) of a display of 1. `gamut` limits the light to a smaller set of primaries.
 * Source: Academy CTL, RRT.ctl with the ODT.Academy files for cinema (48 nit) and video (100 nit, dim surround).
 */
export function acesSdr(video: boolean, gamut?: 'REC709' | 'P3'): ColourStep[] {
  const limit = gamut ? limitTo(gamuts[gamut]!, 1) : [];
  return [...sdr(video), { kind: 'matrix', matrix: ap1ToXyz() }, ...limit];
}

/** How a white is simulated: the scale that makes it fit, the projector whose own white differs, and where light rolls off into it. */
export interface WhiteSimulation {
  readonly white: 'D60' | 'D65';
  readonly scale: number;
  readonly projector?: Primaries;
  readonly roll?: number;
}

/**
 * The versions that simulate a D60 or D65 white on another: the light is limited (or rolled off) and scaled so that the white still fits.
 * Source: Academy CTL, ODT.Academy files named D60sim and D65sim.
 */
export function acesWhiteSimulation(video: boolean, simulation: WhiteSimulation, direction: Direction): ColourStep[] {
  const { white, scale, projector, roll } = simulation;
  const shown = white === 'D60' ? toXyz(ap1) : ap1ToXyz();
  const matrix = projector ? multiply3(adaptation(projector.white, rec709.white), shown) : shown;
  const before = sdr(false);
  const after: ColourStep[] = [
    { kind: 'matrix', matrix: diagonal3(scale, scale, scale) },
    ...(video ? dimSurround() : []),
    { kind: 'matrix', matrix },
  ];
  const limit: ColourStep =
    roll === undefined ? { kind: 'clamp', low: -Infinity, high: 1 } : { ...encode('rollWhite', roll) };
  const forward = [...before, limit, ...after];
  return direction === 'forward' ? forward : invertSteps(forward);
}

/** ACES 1.1 HDR output: ACES2065-1 to XYZ (white D65) where 1 is 100 cd/m². Academy CTL, ACESlib.OutputTransforms. */
export function acesHdr(middle: number, brightest: number, gamut: 'REC2020' | 'P3'): ColourStep[] {
  const darkest = 0.0001;
  const nits = brightest / 100;
  return [
    ...sweeteners(),
    { kind: 'tone', splines: [singleStageSpline(darkest, middle, brightest), plainSpline] },
    relative(darkest, brightest),
    // The CTL limits before it adapts the white.
    { kind: 'matrix', matrix: toXyz(ap1) },
    ...limitTo(gamuts[gamut]!, 1),
    { kind: 'matrix', matrix: multiply3(diagonal3(nits, nits, nits), adaptation(ap1.white, rec709.white)) },
  ];
}
