import { bt1886Power, gammas, srgbCurve } from './curves.ts';
import { isHdr, type CodeEncoding } from './displayCodes.ts';
import { aces2Steps } from '../transform/builtin/aces2Outputs.ts';
import { hlgLight } from '../transform/builtin/displays.ts';
import { acesHdr, acesSdr } from '../transform/builtin/acesOutputs.ts';
import { invert3 } from './matrix.ts';
import { ap0, p3d65, primariesMatrix, rec2020, rec709, toXyz, type Primaries } from './primaries.ts';
import { decodeSteps, exposureStep } from './conversion.ts';
import { mergeSteps } from './merge.ts';
import type { ColourStep } from './steps.ts';
import { UnknownNameError, type ColourSpace } from './spaces.ts';

export interface Display {
  readonly name: string;
  readonly primaries: Primaries;
  /** How its codes stand for light. */
  readonly encoding: CodeEncoding;
  readonly views: readonly string[];
}

const sdrViews = ['ACES SDR', 'ACES 2.0 SDR', 'Gentle', 'Untoned'] as const;
const hdrViews = ['ACES HDR 1000 nits', 'ACES 2.0 HDR 1000 nits', 'Gentle', 'Untoned'] as const;

/** Middle grey: below it the gentle view moves nothing. */
const middleGrey = 0.18;

/** Displays of the built-in config: IEC 61966-2-1, BT.1886, cinema projection (SMPTE RP 431-2 gamma, white D65), and BT.2100's PQ and HLG (a display of 1000 cd/m²). */
export const displays: readonly Display[] = [
  { name: 'sRGB', primaries: rec709, encoding: 'srgb', views: sdrViews },
  { name: 'Rec.709', primaries: rec709, encoding: 'bt1886', views: sdrViews },
  { name: 'P3-D65', primaries: p3d65, encoding: 'p3Cinema', views: sdrViews },
  { name: 'Rec.2100 PQ', primaries: rec2020, encoding: 'pq', views: hdrViews },
  { name: 'Rec.2100 HLG', primaries: rec2020, encoding: 'hlg', views: hdrViews },
];

/** What only the eye gets: display, view, look, an exposure trim in stops, levels and a gamma over the display's codes. */
export interface ViewChoice {
  readonly display: string;
  readonly view: string;
  readonly exposure: number;
  /** The codes that become 0 and 1, before the gamma; 0 and 1 when left out. */
  readonly black?: number;
  readonly white?: number;
  /** Codes to the power of 1 / gamma; 1 when left out. */
  readonly gamma?: number;
  /** Looks of the config in place of the view's own; "" for none, null for the view's own. */
  readonly look?: string | null;
  /** A LUT or CDL of the Library, on numbers of the space that it expects. */
  readonly lookFile?: { readonly id: string; readonly space: string } | null;
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
  const toLinear = [...decodeSteps(from), exposureStep(choice.exposure)];
  const limit: ColourStep = { kind: 'clamp', low: 0, high: 1 };
  const own: ColourStep = { kind: 'matrix', matrix: invert3(toXyz(display.primaries)) };
  const hdr = isHdr(display.encoding);
  const within: ColourStep = hdr ? { kind: 'clamp', low: 0, high: display.encoding === 'pq' ? 100 : 10 } : limit;
  if (view === 'Untoned' || view === 'Gentle') {
    const matrix = primariesMatrix(from.primaries, display.primaries);
    const tone: ColourStep[] = view === 'Gentle' ? [shoulder(hdr ? 10 : 1)] : [];
    return mergeSteps([...toLinear, { kind: 'matrix', matrix }, ...tone, within, ...encodeFor(display)]);
  }
  const aces: ColourStep = { kind: 'matrix', matrix: primariesMatrix(from.primaries, ap0) };
  return mergeSteps([...toLinear, aces, ...acesSteps(view, display), own, within, ...encodeFor(display)]);
}

/** ACES2065-1 to XYZ of the display, as the Academy publishes it: version 1.x or 2.0. */
function acesSteps(view: string, display: Display): ColourStep[] {
  const hdr = isHdr(display.encoding);
  if (view.includes('2.0')) return aces2Steps({ peak: hdr ? 1000 : 100, limiting: display.primaries });
  // Projection in a dark room needs no surround; the others are seen in a dim one.
  return hdr ? acesHdr(15, 1000, 'REC2020') : acesSdr(display.encoding !== 'p3Cinema');
}

/** Our own curve, per channel: nothing moves up to middle grey, what lies above bends smoothly towards `top` and never reaches it. */
function shoulder(top: number): ColourStep {
  return { kind: 'plainPlane', recipe: { what: 'shoulder', join: middleGrey, top, inverse: false } };
}

/** Linear light of a display (1 is its white; 100 cd/m² for PQ and HLG) to its codes. */
function encodeFor({ encoding }: Display): ColourStep[] {
  switch (encoding) {
    case 'srgb':
    case 'displayP3':
      return [{ kind: 'encode', curve: srgbCurve }];
    case 'bt1886':
      return [{ kind: 'power', exponent: 1 / bt1886Power }];
    case 'p3Cinema':
      return [{ kind: 'power', exponent: 1 / gammas.g26 }];
    case 'pq':
      return [{ kind: 'encodePq' }];
    case 'hlg':
      return hlgLight().encode;
  }
}
