import { apply3, diagonal3, invert3, multiply3 } from '../../colour/matrix.ts';
import {
  ap0,
  ap1,
  p3d60,
  p3d65,
  primariesMatrix,
  rec2020,
  rec709,
  toXyz,
  type Primaries,
} from '../../colour/primaries.ts';
import type { ColourStep } from '../../colour/steps.ts';
import { toneScale } from '../aces2/parameters.ts';

/** An ACES 2 output: peak in cd/m² of the rendering, the primaries that limit it, and how it is fitted into a display of another white. */
export interface Aces2Output {
  readonly peak: number;
  readonly limiting: Primaries;
  /** The display's own primaries, where the limiting white is shown within another. */
  readonly within?: Primaries;
  /** Light of the display relative to the rendering's: 0.48 for cinema, where 48 cd/m² are white. */
  readonly scale?: number;
}

const sceneWhite = ap0.white;
const rec709d60: Primaries = { ...rec709, white: sceneWhite };
const rec2020d60: Primaries = { ...rec2020, white: sceneWhite };
/** XYZ itself with equal energy as white, as digital cinema masters are encoded. */
const xyzE: Primaries = { red: [1, 0], green: [0, 1], blue: [0, 0], white: [1 / 3, 1 / 3] };

/** ACES2065-1 to XYZ of the display (white D65 = 1 at 100 cd/m²). Academy, aces-core, Output Transforms of ACES 2. */
export function aces2Steps({ peak, limiting, within, scale = 1 }: Aces2Output): ColourStep[] {
  const toAp1 = primariesMatrix(ap0, ap1);
  const top = peak / 100;
  let size = scale;
  if (within) {
    // The limiting white must fit into the display's: its largest channel becomes 1.
    const white = apply3(multiply3(invert3(toXyz(within)), toXyz(limiting)), [1, 1, 1]);
    size /= Math.max(...white);
  }
  return [
    { kind: 'matrix', matrix: toAp1 },
    { kind: 'clamp', low: 0, high: toneScale(peak).forwardLimit },
    { kind: 'matrix', matrix: invert3(toAp1) },
    { kind: 'aces2', peak, limiting },
    { kind: 'clamp', low: 0, high: top },
    { kind: 'matrix', matrix: multiply3(toXyz(limiting), diagonal3(size, size, size)) },
  ];
}

const hdr = [500, 1000, 2000, 4000] as const;

const d65: Readonly<Record<string, Aces2Output>> = {
  'SDR-100nit-REC709': { peak: 100, limiting: rec709 },
  'SDR-100nit-P3-D65': { peak: 100, limiting: p3d65 },
  'HDR-108nit-P3-D65': { peak: 225, limiting: p3d65, scale: 0.48 },
  'HDR-300nit-P3-D65': { peak: 625, limiting: p3d65, scale: 0.48 },
  ...Object.fromEntries(hdr.map((peak) => [`HDR-${peak}nit-P3-D65`, { peak, limiting: p3d65 }])),
  ...Object.fromEntries(hdr.map((peak) => [`HDR-${peak}nit-REC2020`, { peak, limiting: rec2020 }])),
};

const d60: Readonly<Record<string, Aces2Output>> = {
  'SDR-100nit-REC709-D60-in-REC709-D65': { peak: 100, limiting: rec709d60, within: rec709 },
  'SDR-100nit-REC709-D60-in-P3-D65': { peak: 100, limiting: rec709d60, within: p3d65 },
  'SDR-100nit-REC709-D60-in-REC2020-D65': { peak: 100, limiting: rec709d60, within: rec2020 },
  'SDR-100nit-P3-D60-in-P3-D65': { peak: 100, limiting: p3d60, within: p3d65 },
  'SDR-100nit-P3-D60-in-XYZ-E': { peak: 100, limiting: p3d60 },
  'HDR-108nit-P3-D60-in-P3-D65': { peak: 225, limiting: p3d60, within: p3d65, scale: 0.48 },
  'HDR-300nit-P3-D60-in-XYZ-E': { peak: 625, limiting: p3d60, within: xyzE, scale: 0.48 },
  ...Object.fromEntries(
    hdr.flatMap((peak) => [
      [`HDR-${peak}nit-P3-D60-in-P3-D65`, { peak, limiting: p3d60, within: p3d65 }],
      [`HDR-${peak}nit-P3-D60-in-REC2020-D65`, { peak, limiting: p3d60, within: rec2020 }],
      [`HDR-${peak}nit-REC2020-D60-in-REC2020-D65`, { peak, limiting: rec2020d60, within: rec2020 }],
    ]),
  ),
};

/** The outputs by the name that the open config format gives them, without its prefix and version. */
export const aces2Outputs: Readonly<Record<string, Aces2Output>> = { ...d65, ...d60 };
