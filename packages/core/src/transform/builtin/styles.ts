import { logCurves, type LogCurve } from '../../colour/curves.ts';
import { invertSteps } from '../../colour/invert.ts';
import { diagonal3, multiply3, type Matrix3 } from '../../colour/matrix.ts';
import {
  adaptation,
  ap0,
  ap1,
  canonGamut,
  p3d60,
  p3d65,
  p3dci,
  primariesMatrix,
  rec2020,
  rec709,
  sGamut3,
  sGamut3Cine,
  sGamut3CineVenice,
  sGamut3Venice,
  toXyz,
  vGamut,
  wideGamut3,
  wideGamut4,
  wideGamutRgb,
  type Primaries,
} from '../../colour/primaries.ts';
import { mergeSteps } from '../../colour/merge.ts';
import type { ColourStep } from '../../colour/steps.ts';
import { ColourFileError, type Place } from '../../config/place.ts';
import { curveOfGammaAndOffset } from '../curve.ts';
import { fixedFunctionSteps } from '../fixedFunction.ts';
import type { Direction } from '../transform.ts';
import { acesHdr, acesSdr, acesWhiteSimulation, type WhiteSimulation } from './acesOutputs.ts';
import { aces2Outputs, aces2Steps } from './aces2Outputs.ts';
import { adxSteps } from './adx.ts';
import { decode, encode } from './curves.ts';
import { hlgDisplay, toDisplay } from './displays.ts';
import { acesProxy10, filmLog } from './logs.ts';
import type { BuiltinCurveName } from '../recipes.ts';

/** A style's steps; its inverse where the steps cannot be turned round one by one. */
interface Style {
  readonly forward: () => ColourStep[];
  readonly inverse?: () => ColourStep[];
}

const matrix = (m: Matrix3): ColourStep => ({ kind: 'matrix', matrix: m });
const only = (...steps: ColourStep[]): Style => ({ forward: () => steps });

/** Linear light of these primaries to XYZ of white D65, Bradford. */
const toXyzD65 = (p: Primaries): ColourStep => matrix(multiply3(adaptation(p.white, rec709.white), toXyz(p)));

/** A camera's or grading curve and gamut to ACES2065-1. */
const camera = (curve: LogCurve, gamut: Primaries): Style =>
  only({ kind: 'decodeLog', curve }, matrix(primariesMatrix(gamut, ap0)));

const curved = (name: BuiltinCurveName, gamut: Primaries): Style =>
  only(decode(name), matrix(primariesMatrix(gamut, ap0)));

const aboveZero: ColourStep = { kind: 'clamp', low: 0, high: Infinity };

const power = (p: Primaries, gamma: number, negatives: 'zero' | 'mirror' = 'zero') =>
  only(toDisplay(p), { kind: 'power', exponent: 1 / gamma, negatives });
const srgb = (p: Primaries, mirrored = false) =>
  only(toDisplay(p), { kind: 'encode', curve: curveOfGammaAndOffset(2.4, 0.055), mirrored });

const gamutCompression = (direction: Direction): ColourStep[] => [
  matrix(primariesMatrix(ap0, ap1)),
  ...fixedFunctionSteps(
    {
      type: 'fixedFunction',
      direction: 'forward',
      style: 'aces_gamutcomp13',
      // Academy S-2020-001: limits and thresholds of cyan, magenta and yellow, power.
      parameters: [1.147, 1.264, 1.312, 0.815, 0.803, 0.88, 1.2],
    },
    direction,
  ),
  matrix(primariesMatrix(ap1, ap0)),
];

const simulated = (video: boolean, simulation: WhiteSimulation): Style => ({
  forward: () => acesWhiteSimulation(video, simulation, 'forward'),
  inverse: () => acesWhiteSimulation(video, simulation, 'inverse'),
});

const output = 'ACES-OUTPUT - ACES2065-1_to_CIE-XYZ-D65 - ';
const display = 'DISPLAY - CIE-XYZ-D65_to_';

/** Light of 0 … 3, as the HLG curve takes it in the config format, to 0 … 1. */
const thirdOf: ColourStep = matrix(diagonal3(1 / 3, 1 / 3, 1 / 3));
/** 48 cd/m² of white out of the 52.37 that a digital cinema code holds. SMPTE RP 431-2. */
const cinemaScale: ColourStep = matrix(diagonal3(48 / 52.37, 48 / 52.37, 48 / 52.37));

/** Every builtin style that is known, by name. */
const styles: Readonly<Record<string, Style>> = {
  IDENTITY: only(),
  'UTILITY - ACES-AP0_to_CIE-XYZ-D65_BFD': only(toXyzD65(ap0)),
  'UTILITY - ACES-AP1_to_CIE-XYZ-D65_BFD': only(toXyzD65(ap1)),
  'UTILITY - ACES-AP1_to_LINEAR-REC709_BFD': only(matrix(primariesMatrix(ap1, rec709))),
  'CURVE - ACEScct-LOG_to_LINEAR': only({ kind: 'decodeLog', curve: logCurves.acescct }),
  'ACEScct_to_ACES2065-1': camera(logCurves.acescct, ap1),
  'ACEScc_to_ACES2065-1': {
    forward: () => [decode('acescc'), matrix(primariesMatrix(ap1, ap0)), aboveZero],
    inverse: () => [aboveZero, matrix(primariesMatrix(ap0, ap1)), encode('acescc')],
  },
  'ACEScg_to_ACES2065-1': only(matrix(primariesMatrix(ap1, ap0))),
  'ACESproxy10i_to_ACES2065-1': only(
    { kind: 'clamp', low: 64 / 1023, high: 940 / 1023 },
    { kind: 'decodeLog', curve: acesProxy10 },
    matrix(primariesMatrix(ap1, ap0)),
  ),
  'ADX10_to_ACES2065-1': { forward: () => adxSteps(10) },
  'ADX16_to_ACES2065-1': { forward: () => adxSteps(16) },
  // Academy CTL, LMT.Academy.BlueLightArtifactFix.ctl.
  'ACES-LMT - BLUE_LIGHT_ARTIFACT_FIX': only(
    matrix([
      0.9404372683, -0.0183068787, 0.0778696104, 0.0083786969, 0.8286599939, 0.1629613092, 0.0005471261, -0.0008833746,
      1.0003362486,
    ]),
  ),
  'ACES-LMT - ACES 1.3 Reference Gamut Compression': {
    forward: () => gamutCompression('forward'),
    inverse: () => gamutCompression('inverse'),
  },
  [`${output}SDR-CINEMA_1.0`]: { forward: () => acesSdr(false) },
  [`${output}SDR-VIDEO_1.0`]: { forward: () => acesSdr(true) },
  [`${output}SDR-CINEMA-REC709lim_1.1`]: { forward: () => acesSdr(false, 'REC709') },
  [`${output}SDR-VIDEO-REC709lim_1.1`]: { forward: () => acesSdr(true, 'REC709') },
  [`${output}SDR-VIDEO-P3lim_1.1`]: { forward: () => acesSdr(true, 'P3') },
  [`${output}SDR-CINEMA-D60sim-D65_1.1`]: simulated(false, { white: 'D60', scale: 0.964 }),
  [`${output}SDR-VIDEO-D60sim-D65_1.0`]: simulated(true, { white: 'D60', scale: 0.955 }),
  [`${output}SDR-CINEMA-D60sim-DCI_1.0`]: simulated(false, {
    white: 'D60',
    scale: 0.96,
    projector: p3dci,
    roll: 0.918,
  }),
  [`${output}SDR-CINEMA-D65sim-DCI_1.1`]: simulated(false, {
    white: 'D65',
    scale: 0.9575,
    projector: p3dci,
    roll: 0.908,
  }),
  ...Object.fromEntries(
    ([1000, 2000, 4000] as const).flatMap((nits) =>
      (['REC2020', 'P3'] as const).map((gamut) => [
        `${output}HDR-VIDEO-${nits}nit-15nit-${gamut}lim_1.1`,
        { forward: () => acesHdr(15, nits, gamut) },
      ]),
    ),
  ),
  [`${output}HDR-CINEMA-108nit-7.2nit-P3lim_1.1`]: { forward: () => acesHdr(7.2, 108, 'P3') },
  ...Object.fromEntries(
    Object.entries(aces2Outputs).map(([name, o]) => [`${output}${name}_2.0`, { forward: () => aces2Steps(o) }]),
  ),
  'ARRI_ALEXA-LOGC-EI800-AWG_to_ACES2065-1': camera(logCurves.logc3, wideGamut3),
  'ARRI_LOGC4_to_ACES2065-1': camera(logCurves.logc4, wideGamut4),
  'CANON_CLOG2-CGAMUT_to_ACES2065-1': curved('canonLog2', canonGamut),
  'CANON_CLOG3-CGAMUT_to_ACES2065-1': curved('canonLog3', canonGamut),
  'CURVE - CANON_CLOG2_to_LINEAR': only(decode('canonLog2')),
  'CURVE - CANON_CLOG3_to_LINEAR': only(decode('canonLog3')),
  'APPLE_LOG_to_ACES2065-1': curved('appleLog', rec2020),
  'CURVE - APPLE_LOG_to_LINEAR': only(decode('appleLog')),
  'PANASONIC_VLOG-VGAMUT_to_ACES2065-1': camera(logCurves.vlog, vGamut),
  'RED_REDLOGFILM-RWG_to_ACES2065-1': camera(filmLog, wideGamutRgb),
  'RED_LOG3G10-RWG_to_ACES2065-1': camera(logCurves.log3g10, wideGamutRgb),
  'SONY_SLOG3-SGAMUT3_to_ACES2065-1': camera(logCurves.slog3, sGamut3),
  'SONY_SLOG3-SGAMUT3.CINE_to_ACES2065-1': camera(logCurves.slog3, sGamut3Cine),
  'SONY_SLOG3-SGAMUT3-VENICE_to_ACES2065-1': camera(logCurves.slog3, sGamut3Venice),
  'SONY_SLOG3-SGAMUT3.CINE-VENICE_to_ACES2065-1': camera(logCurves.slog3, sGamut3CineVenice),
  [`${display}REC.1886-REC.709`]: power(rec709, 2.4),
  [`${display}REC.1886-REC.709 - MIRROR NEGS`]: power(rec709, 2.4, 'mirror'),
  [`${display}REC.1886-REC.2020`]: power(rec2020, 2.4),
  [`${display}REC.1886-REC.2020 - MIRROR NEGS`]: power(rec2020, 2.4, 'mirror'),
  [`${display}G2.2-REC.709`]: power(rec709, 2.2),
  [`${display}G2.2-REC.709 - MIRROR NEGS`]: power(rec709, 2.2, 'mirror'),
  [`${display}sRGB`]: srgb(rec709),
  [`${display}sRGB - MIRROR NEGS`]: srgb(rec709, true),
  [`${display}DisplayP3`]: srgb(p3d65, true),
  [`${display}DisplayP3-HDR`]: srgb(p3d65, true),
  [`${display}G2.6-P3-DCI-BFD`]: power(p3dci, 2.6),
  [`${display}G2.6-P3-D65`]: power(p3d65, 2.6),
  [`${display}G2.6-P3-D65 - MIRROR NEGS`]: power(p3d65, 2.6, 'mirror'),
  [`${display}G2.6-P3-D60-BFD`]: power(p3d60, 2.6),
  [`${display}DCDM-D65`]: only(cinemaScale, { kind: 'power', exponent: 1 / 2.6 }),
  'CURVE - ST-2084_to_LINEAR': only({ kind: 'clamp', low: 0, high: 1 }, { kind: 'decodePq' }),
  'CURVE - LINEAR_to_ST-2084': only({ kind: 'encodePq' }),
  [`${display}REC.2100-PQ`]: only(toDisplay(rec2020), { kind: 'encodePq' }),
  [`${display}ST2084-P3-D65`]: only(toDisplay(p3d65), { kind: 'encodePq' }),
  [`${display}ST2084-DCDM-D65`]: only({ kind: 'encodePq' }),
  'CURVE - HLG-OETF': only(thirdOf, encode('hlg')),
  'CURVE - HLG-OETF-INVERSE': only(decode('hlg'), matrix(diagonal3(3, 3, 3))),
  [`${display}REC.2100-HLG-1000nit`]: {
    forward: () => hlgDisplay().forward,
    inverse: () => hlgDisplay().inverse,
  },
};

export const builtinStyleNames: readonly string[] = Object.keys(styles);

/** Steps of a builtin style of the open config format, in a direction. Throws a ColourFileError when it is not known. */
export function builtinStyleSteps(name: string, direction: Direction, place?: Place): ColourStep[] {
  const key = Object.keys(styles).find((k) => k.toLowerCase() === name.toLowerCase());
  const style = key && styles[key];
  if (!style) throw new ColourFileError(`the builtin style "${name}" is not known.`, place, 'unsupported');
  if (direction === 'forward') return mergeSteps(style.forward());
  return mergeSteps(style.inverse?.() ?? invertSteps(style.forward()));
}
