import { mergeSteps } from '../colour/merge.ts';
import type { ColourStep } from '../colour/steps.ts';
import { selfContainedSteps } from '../transform/fileSteps.ts';
import type { Transform } from '../transform/transform.ts';

/** The display under which show LUTs stand as views, each by its name. */
export const lutDisplay = 'LUTs of the Library';

/** How the codes that a show LUT makes stand for light: IEC 61966-2-1 or ITU-R BT.1886. */
export const lutEncodings = ['srgb', 'bt1886'] as const;
export type LutEncoding = (typeof lutEncodings)[number];

/** A show LUT: it turns numbers of a space into codes of a display by itself. */
export interface LutView {
  readonly name: string;
  readonly from: string;
  readonly encoding: LutEncoding;
  readonly transform: Transform;
}

export const isLutDisplay = (display: string): boolean => display.toLowerCase() === lutDisplay.toLowerCase();

export const findLutView = <V extends { readonly name: string }>(views: readonly V[], name: string): V | undefined =>
  views.find((v) => v.name.toLowerCase() === name.toLowerCase());

/** From numbers of `working` to a show LUT's codes; `conversion` gives the steps between spaces. */
export function lutViewSteps(
  { from, transform }: LutView,
  working: string,
  conversion: (from: string, to: string) => ColourStep[],
): ColourStep[] {
  return mergeSteps([...conversion(working, from), ...selfContainedSteps(transform)]);
}

/** From a show LUT's codes back to numbers of `to`. Throws a named error where the LUT cannot be turned round. */
export function undoneLutView(
  { from, transform }: LutView,
  to: string,
  conversion: (from: string, to: string) => ColourStep[],
): ColourStep[] {
  return mergeSteps([...selfContainedSteps(transform, 'inverse'), ...conversion(from, to)]);
}
