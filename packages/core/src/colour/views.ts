import { bt1886Power, srgbCurve } from './curves.ts';
import { acesSdr } from '../transform/builtin/acesOutputs.ts';
import { invert3 } from './matrix.ts';
import { ap0, primariesMatrix, rec709, toXyz } from './primaries.ts';
import { decodeSteps, exposureStep } from './conversion.ts';
import { mergeSteps, type ColourStep } from './steps.ts';
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
    ...acesSdr(true),
    { kind: 'matrix', matrix: invert3(toXyz(rec709)) },
    limit,
    encode,
  ]);
}
