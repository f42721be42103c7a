import { walkEntries, type Entry, type LedgerDocument, type PassEntry } from '../ledger/document.ts';
import type { PlanSource } from '../ledger/planSource.ts';
import { componentRoles, pictureChannels, type Pass, type PassRole } from '../sequence/passes.ts';

/** Ways that one render's picture is built: from what light did last, from which lamp it came, or as the renderer summed it. */
export const rebuildWays = ['components', 'lights', 'beauty'] as const;
export type RebuildWay = (typeof rebuildWays)[number];

export const isRebuildWay = (word: string): word is RebuildWay => (rebuildWays as readonly string[]).includes(word);

/** A render that a ledger can begin with. */
export type Render = Pick<PlanSource, 'id' | 'name' | 'passes'>;

const titles: Partial<Record<PassRole, string>> = {
  'diffuse-direct': 'Diffuse, direct',
  'diffuse-indirect': 'Diffuse, indirect',
  'specular-direct': 'Specular, direct',
  'specular-indirect': 'Specular, indirect',
};

/** A pass's name as an entry's: `light_sun` is "Light sun". */
export function readableName({ name, role }: Pick<Pass, 'name' | 'role'>): string {
  const plain = name.replace(/[_.]+/g, ' ');
  return titles[role] ?? plain.charAt(0).toUpperCase() + plain.slice(1);
}

/** A row that adds a pass as it came. */
export const passRow = (id: string, sourceId: string, pass: Pick<Pass, 'name' | 'role'>): PassEntry => ({
  id,
  kind: 'pass',
  name: readableName(pass),
  sourceId,
  pass: pass.name,
  enabled: true,
  operation: 'plus',
  mix: 1,
  adjustments: [],
});

/** The passes of a render that one way takes. */
export function passesOfWay({ passes }: Pick<Render, 'passes'>, way: RebuildWay): Pass[] {
  if (way === 'beauty') return passes.filter((p) => p.role === 'beauty').slice(0, 1);
  return passes.filter((p) => (way === 'lights' ? p.role === 'light-group' : componentRoles.has(p.role)));
}

/** A ledger that builds a render's picture one way, balanced against its beauty; undefined where the render has no such passes. `newId` gives each row its id. */
export function rebuildLedger(render: Render, way: RebuildWay, newId: () => string): LedgerDocument | undefined {
  const wanted = passesOfWay(render, way);
  if (!wanted.length) return undefined;
  const entries = wanted.map((pass): Entry => passRow(newId(), render.id, pass));
  return { version: 1, entries, ...wholeOf(render) };
}

/** Alpha belongs to the whole: the total begins with the beauty's, and is balanced against it. */
function wholeOf({ id, passes }: Render): Pick<LedgerDocument, 'alphaFrom' | 'balanceAgainst'> {
  const beauty = passes.find((p) => p.role === 'beauty');
  const whole = beauty && { sourceId: id, pass: beauty.name };
  return whole ? { alphaFrom: whole, balanceAgainst: whole } : {};
}

/**
 * Several renders laid over each other by their alpha, in their order; below them the first that has none and so covers everything (footage,
 * a sky). Undefined where nothing lies over anything.
 */
export function renderOverRender(renders: readonly Render[], newId: () => string): LedgerDocument | undefined {
  const pictures = renders.flatMap((render) => {
    const beauty = passesOfWay(render, 'beauty')[0];
    return beauty ? [{ render, beauty, covers: pictureChannels(beauty).alpha === undefined }] : [];
  });
  const laid = [...pictures.filter((p) => p.covers).slice(0, 1), ...pictures.filter((p) => !p.covers)];
  if (laid.length < 2) return undefined;
  const entries = laid.map(({ render, beauty }): Entry => ({
    ...passRow(newId(), render.id, beauty),
    name: render.name,
    operation: 'over',
  }));
  return { version: 1, entries, alphaFrom: null };
}

/** A ledger that names no beauty yet, balanced against that of the render which its first part is of; else as it is. */
export function balancedAgainstItsRender(document: LedgerDocument, renders: readonly Render[]): LedgerDocument {
  if (document.balanceAgainst) return document;
  for (const e of walkEntries(document.entries)) {
    const beauty =
      e.kind === 'pass' && renders.find((r) => r.id === e.sourceId)?.passes.find((p) => p.role === 'beauty');
    if (beauty && beauty.name !== e.pass)
      return { ...document, balanceAgainst: { sourceId: e.sourceId, pass: beauty.name } };
  }
  return document;
}
