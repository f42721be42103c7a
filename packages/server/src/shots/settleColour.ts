import { ColourFileError, UnknownNameError, type ShotColour } from '@june-haze/core';
import type { Viewing } from '@june-haze/contract';
import { RequestError } from '../errors.ts';

/** Levels nearer than this leave nothing to see. */
const leastContrast = 0.01;

/**
 * Refuses working spaces that are not linear and viewings that do not exist, by name. With a config newly chosen (`fresh`), what it lacks
 * gives way: the working space to its scene_linear or first linear space, display and view to its first, the look to the view's own.
 */
export function settleColour(
  colour: ShotColour,
  workingSpace: string,
  viewing: Viewing,
  fresh: boolean,
): { workingSpace: string; viewing: Viewing } {
  try {
    const working = fresh && !canWork(colour, workingSpace) ? firstWorking(colour) : workingSpace;
    const why = colour.whyNotWorking(working);
    if (why) throw new RequestError(400, why);
    const displays = colour.displays();
    const display = displays.find((d) => d.name === viewing.display) ?? (fresh ? displays[0] : undefined);
    const view = display?.views.find((v) => v === viewing.view) ?? (fresh ? display?.views[0] : undefined);
    const settled: Viewing = {
      ...viewing,
      display: display?.name ?? viewing.display,
      view: view ?? viewing.view,
      look: fresh ? null : viewing.look,
    };
    if (!(settled.white - settled.black >= leastContrast))
      throw new RequestError(400, 'White must lie above black: a hundredth of the codes’ range at least.');
    colour.view(working, settled);
    return { workingSpace: working, viewing: settled };
  } catch (error) {
    if (error instanceof UnknownNameError || error instanceof ColourFileError)
      throw new RequestError(400, error.message);
    throw error;
  }
}

const canWork = (colour: ShotColour, name: string) => colour.knows(name) && colour.whyNotWorking(name) === undefined;

function firstWorking(colour: ShotColour): string {
  const role = colour.config?.findSpace('scene_linear')?.name;
  const chosen = role !== undefined && canWork(colour, role) ? role : colour.spaces().find((s) => s.linear)?.name;
  if (chosen === undefined)
    throw new RequestError(400, 'This config has no linear space: light can only be summed in a linear working space.');
  return chosen;
}
