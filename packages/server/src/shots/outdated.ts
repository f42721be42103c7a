import { isDeepStrictEqual } from 'node:util';
import { outputSettingsSchema, viewingSchema, type OutputSettings } from '@june-haze/contract';
import { builtinColour, type ColourKey, type LedgerDocument } from '@june-haze/core';
import type { DeclaredSource, RunRecipe } from '../database/tables.ts';
import { writtenViewing } from './outputs.ts';
import type { ShotRow } from './shots.ts';

/**
 * Whether a run's files would be others if they were written now. The range does not count, nor, for files of light, what is only shown.
 */
export function isOutdated(
  recipe: RunRecipe,
  now: {
    row: ShotRow;
    document: LedgerDocument;
    colour: ColourKey;
    settings: OutputSettings;
    declared: readonly DeclaredSource[];
  },
): boolean {
  const settings = outputSettingsSchema.parse(now.settings);
  const { firstFrame, lastFrame } = settings;
  const pictures = settings.kind === 'png' || settings.kind === 'jpeg';
  const made: unknown[] = [
    recipe.document,
    recipe.workingSpace,
    outputSettingsSchema.parse({ ...recipe.settings, firstFrame, lastFrame }),
    recipe.colour ?? builtinColour,
  ];
  const wanted: unknown[] = [now.document, now.row.working_space, settings, now.colour];
  if (recipe.declared) {
    made.push(recipe.declared);
    wanted.push(now.declared);
  }
  if (pictures) {
    made.push(viewingSchema.parse(recipe.viewing));
    wanted.push(writtenViewing(viewingSchema.parse(now.row.viewing), settings));
  }
  return !isDeepStrictEqual(made, wanted);
}
