import { findFinish, findMatte, type Matte } from '../operations/registry.ts';
import { parameterActs, type ParameterTable } from '../operations/parameters.ts';
import type { Pass, PassRole } from '../sequence/passes.ts';
import { adjustmentsOf, changeRows, walkEntries, type Entry, type LedgerDocument } from './document.ts';
import type { PlanSource } from './planSource.ts';

/** A pass that a recipe asks for: by name, else by role. `source` is a word of the recipe's own. */
export interface WantedPass {
  readonly source: string;
  readonly pass: string;
  readonly role: PassRole;
}

/**
 * Rows and mattes that are kept to be used elsewhere. Sources go by words of the recipe's own ("1", "2" …): what they are in another shot
 * is found by what passes are for. A viewing's exposure is no part of it.
 */
export interface Recipe {
  readonly version: 1;
  readonly entries: readonly Entry[];
  readonly mattes: Readonly<Record<string, Matte>>;
  readonly wants: readonly WantedPass[];
}

export type RecipeSource = Pick<PlanSource, 'id' | 'name' | 'passes'>;

/** Other values of the parameters that name a source or a pass, wherever a row or a matte has some. */
type Places = (at: { readonly source: string; readonly pass?: string | undefined }) => {
  readonly source: string;
  readonly pass?: string | undefined;
};

function replaced<T extends object>(stored: T, parameters: ParameterTable, to: Places): T {
  const given = stored as Readonly<Record<string, unknown>>;
  const { source } = given;
  if (parameters.source?.type !== 'source' || typeof source !== 'string' || !source) return stored;
  const passes = passesNamed(given, parameters).map(([key, pass]) => [key, to({ source, pass }).pass ?? pass] as const);
  return { ...stored, source: to({ source }).source, ...Object.fromEntries(passes) };
}

/** The passes that a finish or a matte reads, by parameter; those that do nothing with its values are none. */
const passesNamed = (stored: object, parameters: ParameterTable): (readonly [key: string, pass: string])[] =>
  Object.entries(parameters).flatMap(([key, p]) => {
    const pass = (stored as Readonly<Record<string, unknown>>)[key];
    return p.type === 'pass' && typeof pass === 'string' && pass && parameterActs(parameters, stored, key)
      ? [[key, pass] as const]
      : [];
  });

function entryAt(entry: Entry, to: Places): Entry {
  if (entry.kind === 'pass') {
    const { source, pass } = to({ source: entry.sourceId, pass: entry.pass });
    return { ...entry, sourceId: source, pass: pass ?? entry.pass };
  }
  if (entry.kind === 'finish') return replaced(entry, findFinish(entry.finish)?.parameters ?? {}, to);
  return entry;
}

const matteAt = (matte: Matte, to: Places): Matte => replaced(matte, findMatte(matte.kind)?.parameters ?? {}, to);

/** The mattes that rows use, and those that these are made of. */
function mattesOfRows(document: LedgerDocument, entries: readonly Entry[]): Record<string, Matte> {
  const { mattes = {} } = document;
  const found: Record<string, Matte> = {};
  const take = (name: string | null | undefined) => {
    const stored = name && Object.hasOwn(mattes, name) ? mattes[name] : undefined;
    if (!stored || !name || Object.hasOwn(found, name)) return;
    found[name] = stored;
    for (const [key, p] of Object.entries(findMatte(stored.kind)?.parameters ?? {}))
      if (p.type === 'matte') take((stored as unknown as Record<string, string>)[key]);
  };
  for (const e of walkEntries(entries)) [e.matte, ...adjustmentsOf(e).map((a) => a.matte)].forEach(take);
  return found;
}

/** What a matte, a finish or a row asks of passes: of ID passes, the name that their ranks begin with. */
const roleOf = (sources: readonly RecipeSource[], source: string, pass: string): PassRole => {
  const passes = sources.find((s) => s.id === source)?.passes ?? [];
  return (passes.find((p) => p.name === pass) ?? passes.find((p) => isRankOf(p, pass)))?.role ?? 'other';
};
const isRankOf = ({ name }: Pick<Pass, 'name'>, pass: string): boolean =>
  name.startsWith(pass) && /^\d+$/.test(name.slice(pass.length));

/** A recipe of some rows of a ledger, and of mattes: those that they use, and those that are named besides. */
export function recipeOf(
  document: LedgerDocument,
  entries: readonly Entry[],
  sources: readonly RecipeSource[],
  mattes: readonly string[] = [],
): Recipe {
  const words = new Map<string, string>();
  const wants = new Map<string, WantedPass>();
  const to: Places = ({ source, pass }) => {
    const word = words.get(source) ?? String(words.size + 1);
    words.set(source, word);
    if (pass !== undefined) wants.set(`${word} ${pass}`, { source: word, pass, role: roleOf(sources, source, pass) });
    return { source: word, pass };
  };
  const named = Object.fromEntries(mattes.flatMap((m) => (document.mattes?.[m] ? [[m, document.mattes[m]]] : [])));
  const kept = { ...named, ...mattesOfRows(document, entries) };
  return {
    version: 1,
    entries: changeRows(entries, (e) => entryAt(e, to)),
    mattes: Object.fromEntries(Object.entries(kept).map(([name, m]) => [name, matteAt(m, to)])),
    wants: [...wants.values()],
  };
}

/** What stands in for a recipe's passes in a shot. */
export interface RecipeMatch {
  /** By the recipe's source and pass. */
  readonly found: readonly (WantedPass & {
    readonly sourceId: string;
    readonly as: string;
    readonly by: 'name' | 'role';
  })[];
  readonly unmatched: readonly WantedPass[];
}

/** A pass of a source that stands in for a wanted one: of its name, else the only one of its role. Lights are not each other. */
function standIn(
  { passes }: RecipeSource,
  { pass, role }: WantedPass,
): { as: string; by: 'name' | 'role' } | undefined {
  if (passes.some((p) => p.name === pass || isRankOf(p, pass))) return { as: pass, by: 'name' };
  if (role === 'other' || role === 'light-group') return undefined;
  const same = passes.filter((p) => p.role === role);
  if (role === 'id-matte') {
    const names = new Set(same.map((p) => p.name.replace(/\d+$/, '')));
    return names.size === 1 ? { as: [...names][0]!, by: 'role' } : undefined;
  }
  return same.length === 1 ? { as: same[0]!.name, by: 'role' } : undefined;
}

/** Finds, for each of a recipe's sources, the source of a shot that has most of its passes. */
export function matchRecipe({ wants }: Recipe, sources: readonly RecipeSource[]): RecipeMatch {
  const found: RecipeMatch['found'][number][] = [];
  const taken = new Set<string>();
  for (const word of new Set(wants.map((w) => w.source))) {
    const own = wants.filter((w) => w.source === word);
    const ranked = sources
      .filter((s) => !taken.has(s.id))
      .map((s) => {
        const matched = own.flatMap((want) => {
          const at = standIn(s, want);
          return at ? [{ ...want, sourceId: s.id, ...at }] : [];
        });
        return { id: s.id, matched, score: matched.reduce((n, m) => n + (m.by === 'name' ? 2 : 1), 0) };
      })
      .sort((a, b) => b.score - a.score);
    const best = ranked[0];
    if (!best?.score) continue;
    taken.add(best.id);
    found.push(...best.matched);
  }
  const key = (w: WantedPass) => `${w.source} ${w.pass}`;
  const matched = new Set(found.map(key));
  return { found, unmatched: wants.filter((w) => !matched.has(key(w))) };
}

/**
 * A recipe's rows and mattes in a shot, as `match` found its passes: rows and finishes whose pass was not found are left out, subtotals that
 * are empty then too; mattes stay, and say what they miss. Names of mattes that are taken get a number. `newId` gives each row its id.
 */
export function withRecipe(
  document: LedgerDocument,
  recipe: Recipe,
  match: RecipeMatch,
  newId: () => string,
): LedgerDocument {
  const places = new Map(match.found.map((f) => [`${f.source} ${f.pass}`, f]));
  const sourceIds = new Map(match.found.map((f) => [f.source, f.sourceId]));
  const to: Places = ({ source, pass }) => {
    const at = pass === undefined ? undefined : places.get(`${source} ${pass}`);
    return { source: at?.sourceId ?? sourceIds.get(source) ?? '', pass: at?.as ?? pass };
  };
  const names = new Map<string, string>();
  for (const name of Object.keys(recipe.mattes)) names.set(name, freeName(name, document, names));
  const matteNamed = (name: string | null | undefined) => (name ? (names.get(name) ?? name) : name);
  const has = (e: Entry): boolean => {
    if (e.kind === 'pass') return places.has(`${e.sourceId} ${e.pass}`);
    if (e.kind !== 'finish') return true;
    const { source } = e as { source?: string };
    const named = passesNamed(e, findFinish(e.finish)?.parameters ?? {});
    return !source || named.every(([, pass]) => places.has(`${source} ${pass}`));
  };
  const row = (e: Entry): Entry[] => {
    if (!has(e)) return [];
    const inner = e.kind === 'subtotal' ? e.entries.flatMap(row) : undefined;
    if (inner?.length === 0) return [];
    const adjustments = e.adjustments?.map((a) => ({ ...a, matte: matteNamed(a.matte) }));
    const placed = entryAt(e, to);
    return [
      {
        ...placed,
        id: newId(),
        matte: matteNamed(e.matte),
        ...(inner ? { entries: inner } : {}),
        ...(adjustments ? { adjustments } : {}),
      } as Entry,
    ];
  };
  const mattes = Object.entries(recipe.mattes).map(([name, m]) => {
    const keys = Object.entries(findMatte(m.kind)?.parameters ?? {}).filter(([, p]) => p.type === 'matte');
    const own = m as unknown as Record<string, string>;
    const others = Object.fromEntries(keys.map(([key]) => [key, matteNamed(own[key]) ?? '']));
    return [names.get(name)!, { ...matteAt(m, to), ...others }] as const;
  });
  return {
    ...document,
    version: 2,
    entries: [...document.entries, ...recipe.entries.flatMap(row)],
    mattes: { ...document.mattes, ...Object.fromEntries(mattes) },
  };
}

function freeName(wanted: string, { mattes = {} }: LedgerDocument, given: ReadonlyMap<string, string>): string {
  const taken = new Set([...Object.keys(mattes), ...given.values()]);
  for (let n = 1; ; n++) {
    const name = n === 1 ? wanted : `${wanted} ${n}`;
    if (!taken.has(name)) return name;
  }
}
