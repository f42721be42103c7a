import { pictureChannels, type Pass } from '../sequence/passes.ts';
import { findBlend } from '../operations/registry.ts';
import { acts, type Entry, type LedgerDocument, type PassEntry } from './document.ts';
import type { PlanSource } from './planSource.ts';

// The rules of alpha, stated once; docs/architecture.md has them as a table.
//
// A source is premultiplied, straight, or none: then its A is ignored. Blends act on light and leave the total's alpha as it is; only
// `over`, `under` and `replace` compose it (Porter and Duff 1984, table 1), and what has no alpha covers wholly, inside its data window.
// A total that nothing brought alpha to has none: it covers, and its files carry no A.

/** Where alpha lies in a source. */
export interface AlphaPlace {
  readonly part: number;
  readonly channel: string;
}

/** The alpha that a pass carries itself; undefined when it has none or the source is read as having none. */
export function ownAlpha(source: PlanSource, pass: Pass): AlphaPlace | undefined {
  if (source.alpha === 'none') return undefined;
  const channel = pictureChannels(pass).alpha ?? (pass.role === 'alpha' ? pass.channels[0]!.name : undefined);
  return channel === undefined ? undefined : { part: pass.part, channel };
}

/** The alpha of the render that a pass belongs to: its beauty's, else that of an alpha pass, else the pass's own. */
function renderAlpha(source: PlanSource, pass: Pass): AlphaPlace | undefined {
  const of = (p: Pass | undefined) => p && ownAlpha(source, p);
  const withRole = (role: Pass['role']) => source.passes.filter((p) => p.role === role);
  const candidates = [...(pass.role === 'beauty' ? [pass] : []), ...withRole('beauty'), ...withRole('alpha'), pass];
  for (const candidate of candidates) {
    const found = of(candidate);
    if (found) return found;
  }
  return undefined;
}

/** Whether an entry changes the alpha of the total it is applied to. */
export const composesAlpha = (entry: Entry): boolean =>
  entry.kind !== 'finish' && findBlend(entry.operation)?.alpha === 'composes';

/** The first entry whose light the total is made of; undefined when something composes alpha before it. */
function firstLight(entries: readonly Entry[], frame: number): PassEntry | undefined {
  for (const entry of entries.filter((e) => acts(e, frame))) {
    if (composesAlpha(entry)) return undefined;
    if (entry.kind === 'pass') return entry;
    if (entry.kind === 'subtotal') {
      const inner = firstPass(entry.entries, frame);
      if (inner) return inner;
    }
  }
  return undefined;
}

function firstPass(entries: readonly Entry[], frame: number): PassEntry | undefined {
  for (const entry of entries.filter((e) => acts(e, frame))) {
    const found =
      entry.kind === 'pass' ? entry : entry.kind === 'subtotal' ? firstPass(entry.entries, frame) : undefined;
    if (found) return found;
  }
  return undefined;
}

/** The alpha that a ledger's total begins with, in its source; undefined when it begins with none. */
export function startingAlpha(
  document: LedgerDocument,
  sources: readonly PlanSource[],
  frame: number,
): (AlphaPlace & { readonly sourceId: string }) | undefined {
  const { alphaFrom } = document;
  if (alphaFrom === null) return undefined;
  const light = alphaFrom ? undefined : firstLight(document.entries, frame);
  const sourceId = alphaFrom?.sourceId ?? light?.sourceId;
  const source = sources.find((s) => s.id === sourceId);
  const named = source?.passes.find((p) => p.name === (alphaFrom?.pass ?? light?.alphaFrom));
  if (source && named) {
    const own = ownAlpha(source, named);
    return own && { ...own, sourceId: source.id };
  }
  const pass = source?.passes.find((p) => p.name === light?.pass);
  const found = source && pass && renderAlpha(source, pass);
  return found && { ...found, sourceId: source.id };
}

/** Whether the total of some entries has alpha: one to begin with, or one that an acting entry composed. */
export function totalHasAlpha(entries: readonly Entry[], begins: boolean, frame: number): boolean {
  return begins || entries.some((e) => acts(e, frame) && composesAlpha(e));
}
