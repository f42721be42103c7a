import { arePlainLevels, bakedLooks, type LedgerDocument } from '@june-haze/core';
import { holdsPictures, type OutputSettings, type Viewing } from '@june-haze/contract';
import { lookOf } from './lookOf.ts';

/** What goes into the pixels of an output's files for good, in words: looks of the ledger, and for pictures the viewing. */
export function bakedInto(output: OutputSettings, viewing: Viewing, document: LedgerDocument): string {
  if (output.kind === 'passes') return '';
  const parts = bakedLooks(document).map(({ look, entry }) => `look ${look} (${entry})`);
  if (!holdsPictures(output)) return parts.join(', ');
  parts.push(`view ${viewing.view}`);
  if (output.bakeLook && (viewing.look || viewing.lookFile)) parts.push(`look ${lookOf(viewing)}`);
  if (viewing.exposure !== 0) parts.push(`exposure ${viewing.exposure.toFixed(1)}`);
  if (!arePlainLevels(viewing)) parts.push(`levels ${viewing.black} to ${viewing.white}`);
  if (viewing.gamma !== 1) parts.push(`gamma ${viewing.gamma}`);
  return parts.join(', ');
}
