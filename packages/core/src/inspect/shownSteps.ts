import { exposureStep } from '../colour/conversion.ts';
import { mergeSteps } from '../colour/merge.ts';
import type { ColourStep } from '../colour/steps.ts';
import { requireSpace } from '../colour/spaces.ts';
import { viewSteps, type ViewChoice } from '../colour/views.ts';
import type { ShotColour } from '../config/shotColour.ts';

/** The parts of a viewing, in the order in which they are applied. */
export const viewingParts = ['exposure', 'look', 'view', 'display'] as const;
export type ViewingPart = (typeof viewingParts)[number];

/** How the numbers of a total become codes of the screen. For the eye alone. */
export interface Showing {
  readonly viewing: ViewChoice;
  /** Parts that are left out. Without a display the numbers are shown as codes, untouched; without a view they are only encoded, as sRGB. */
  readonly off: readonly ViewingPart[];
  /** As a reader that ignores all tags shows them: for linear light of Rec.709, encoded as sRGB. */
  readonly plain?: boolean;
  /** Steps on the codes themselves, after the viewing: to be seen for what they do there. */
  readonly after?: readonly ColourStep[];
}

/** Steps from the working space to codes of the screen, the last of which clamps to 0 … 1. Throws an UnknownNameError for a space or view that is not there. */
export function shownSteps(
  colour: ShotColour,
  working: string,
  { viewing, off, plain, after = [] }: Showing,
): ColourStep[] {
  const left = new Set(off);
  const limit: ColourStep = { kind: 'clamp', low: 0, high: 1 };
  const exposure = left.has('exposure') ? 0 : viewing.exposure;
  const further = after.length ? [...after, limit] : [];
  if (plain) return viewSteps(requireSpace('Linear Rec.709'), { display: 'sRGB', view: 'Untoned', exposure: 0 });
  if (left.has('display')) return mergeSteps([limit, ...further]);
  if (left.has('view')) {
    const look = left.has('look') ? [] : lookAlone(colour, working, viewing);
    return mergeSteps([exposureStep(exposure), ...look, ...colour.conversion(working, 'sRGB'), limit, ...further]);
  }
  const looks = left.has('look') ? { look: '', lookFile: null } : {};
  const choice = { ...viewing, ...looks, exposure };
  const steps = colour.view(working, choice);
  return further.length ? mergeSteps([...steps, ...further]) : steps;
}

function lookAlone(colour: ShotColour, working: string, { look, lookFile }: ViewChoice): readonly ColourStep[] {
  if (!look && !lookFile) return [];
  return colour.lookInPlace(working, { look: look ?? null, lookFile: lookFile ? { name: '', ...lookFile } : null });
}
