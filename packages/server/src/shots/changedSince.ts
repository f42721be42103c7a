import { isDeepStrictEqual } from 'node:util';
import {
  documentOfOutput,
  holdsPictures,
  outputSettingsSchema,
  viewingSchema,
  type OutputSettings,
} from '@june-haze/contract';
import { builtinColour, keyInForce, type ColourKey, type LedgerDocument } from '@june-haze/core';
import type { DeclaredSource, RunRecipe } from '../database/tables.ts';
import { writtenViewing } from './outputs.ts';
import type { ShotRow } from './shotRows.ts';

/** The shot as it is now, as far as a run's files depend on it. */
export interface StateNow {
  readonly row: ShotRow;
  readonly document: LedgerDocument;
  readonly colour: ColourKey;
  readonly settings: OutputSettings;
  readonly declared: readonly DeclaredSource[];
}

/**
 * What changed since a run's files were written, in words: why they would be others now. The range does not count, nor, for files of light,
 * what is only shown. Nothing when they would be the same.
 */
export function changedSince(recipe: RunRecipe, now: StateNow): string[] {
  const settings = outputSettingsSchema.parse(now.settings);
  // Neither the range nor the place in the queue makes other files.
  const { firstFrame, lastFrame, priority } = settings;
  const pictures = holdsPictures(settings);
  const written = writtenViewing(viewingSchema.parse(now.row.viewing), settings);
  const colours = (
    key: ColourKey,
    { document, declared }: Pick<StateNow, 'document'> & Partial<StateNow>,
    viewing: unknown,
  ) =>
    keyInForce(
      key,
      document,
      declared?.map((d) => d.space),
      pictures ? viewing : null,
    );
  const compared: [string, unknown, unknown][] = [
    ['the ledger', recipe.document, documentOfOutput(settings, now.document)],
    ...(settings.kind === 'passes'
      ? []
      : ([['the working space', recipe.workingSpace, now.row.working_space]] as [string, unknown, unknown][])),
    ['the output', outputSettingsSchema.parse({ ...recipe.settings, firstFrame, lastFrame, priority }), settings],
    [
      'the config or a look',
      colours(recipe.colour ?? builtinColour, recipe, recipe.viewing),
      colours(now.colour, now, written),
    ],
    ...sourcesCompared(recipe, now),
  ];
  if (pictures) compared.push(['the viewing', viewingSchema.parse(recipe.viewing), written]);
  return compared.filter(([, was, is]) => !isDeepStrictEqual(was, is)).map(([what]) => what);
}

function sourcesCompared({ declared }: RunRecipe, now: StateNow): [string, unknown, unknown][] {
  if (!declared) return [];
  const ids = [...new Set([...declared, ...now.declared].map((d) => d.id))];
  return ids.flatMap((id): [string, unknown, unknown][] => {
    const was = declared.find((d) => d.id === id);
    const is = now.declared.find((d) => d.id === id);
    // One that is used no more, or only now, is the ledger's change.
    if (!was || !is) return [];
    const name = is.place?.split('/').at(-1) ?? 'a source';
    return [
      [`what ${name} is declared as`, [was.space, was.reading], [is.space, is.reading]],
      ...(was.files === undefined
        ? []
        : ([[`files of ${name}`, [was.place, filesOf(was, was)], [is.place, filesOf(is, was)]]] as [
            string,
            unknown,
            unknown,
          ][])),
    ];
  });
}

/** What is compared of a source's files: of their names and content only what had been looked at when the run began. */
function filesOf(of: DeclaredSource, { printed }: DeclaredSource): string | undefined {
  if (printed === null) return undefined;
  return printed === false ? of.names : of.files;
}
