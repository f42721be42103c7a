import { mattesWith, sourcesOf, type Entry, type LedgerDocument } from '@june-haze/core';
import type { OutputSettings } from './output.ts';

type Makes = Pick<OutputSettings, 'kind' | 'passes' | 'mattes'>;

/** What of a ledger an output is made from: all of it, or the mattes that are written beside passes, with those that they are made of. */
export function documentOfOutput({ kind, mattes }: Makes, document: LedgerDocument): LedgerDocument {
  if (kind !== 'passes') return document;
  return { version: 2, entries: [], mattes: mattesWith(mattes, document.mattes ?? {}), alphaFrom: null };
}

/** The sources that an output is made from; of a ledger's entries those that `counts`. */
export function sourcesOfOutput(
  settings: Makes,
  document: LedgerDocument,
  counts?: (entry: Entry) => boolean,
): Set<string> {
  const used = sourcesOf(documentOfOutput(settings, document), counts);
  if (settings.kind === 'passes') for (const { sourceId } of settings.passes) used.add(sourceId);
  return used;
}
