import { kindNames, type Evidence } from '@june-haze/core';
import type { SourceFacts, SpaceRule } from '@june-haze/contract';
import type { TaskRunner } from '../compute/ask.ts';
import type { Db } from '../database/connect.ts';
import { colourKey } from '../library/items.ts';
import { requireShot } from '../shots/shotRows.ts';

/** Evidence that does not lie in the files, by pattern. */
export type EvidenceLookup = (pattern: string) => readonly Evidence[];

/** A rule in words: "PNG pictures in media/plates are sRGB". */
export const ruleWords = ({ folder, fileKind, space }: SpaceRule): string =>
  `${fileKind === null ? 'everything' : kindNames[fileKind]} in ${folder} ${fileKind === null ? 'is' : 'are'} ${space}`;

/** Saves a rule in place of an earlier one for the same folder and kind. */
export async function saveRule(db: Db, { folder, fileKind, space }: SpaceRule): Promise<void> {
  await db.transaction().execute(async (t) => {
    const same = t.deleteFrom('space_rules').where('folder', '=', folder);
    await (fileKind === null ? same.where('file_kind', 'is', null) : same.where('file_kind', '=', fileKind)).execute();
    await t.insertInto('space_rules').values({ folder, file_kind: fileKind, space }).execute();
  });
}

/** Forgets the saved rule that speaks of a place and a kind of file, the nearest first. */
export async function forgetRule(db: Db, place: string, fileKind: string): Promise<void> {
  const rules = await db.selectFrom('space_rules').selectAll().execute();
  const [rule] = fittingRules(rules, place, fileKind);
  if (rule) await db.deleteFrom('space_rules').where('id', '=', rule.id).execute();
}

/** Saved rules that speak of a place, the nearest folder first, then those for one kind of file. */
function fittingRules<T extends { folder: string; file_kind: string | null }>(
  rules: readonly T[],
  place: string,
  kind: string | undefined,
): T[] {
  return rules
    .filter((r) => place.startsWith(`${r.folder}/`) && (r.file_kind === null || r.file_kind === kind))
    .sort((a, b) => b.folder.length - a.folder.length || (a.file_kind === null ? 1 : -1));
}

export interface RulePlaces {
  readonly db: Db;
  readonly pool: TaskRunner;
  readonly libraryFolder: string;
}

/**
 * What rules say of material in a folder: those that a person saved for it or a folder above it (the nearest folder first, then those for
 * one kind of file), and the file rules of the shot's config.
 */
export async function evidenceFor(
  { db, pool, libraryFolder }: RulePlaces,
  shotId: string,
  folder: string,
  patterns: readonly string[],
  kind?: SourceFacts['fileKind'],
): Promise<EvidenceLookup> {
  const rules = await db.selectFrom('space_rules').selectAll().execute();
  const shot = await requireShot(db, shotId);
  const places = patterns.map((pattern) => `${folder}/${pattern}`);
  const colour = { key: await colourKey(db, shot), folder: libraryFolder };
  const ofConfig = await pool.run('rulesOf', { colour, places });
  const found = patterns.map((_, i): Evidence[] => {
    const [rule] = fittingRules(rules, places[i]!, kind);
    return [
      ...(rule
        ? [
            {
              from: 'saved rule' as const,
              says: ruleWords({ folder: rule.folder, fileKind: rule.file_kind, space: rule.space }),
              space: rule.space,
            },
          ]
        : []),
      ...ofConfig[i]!,
    ];
  });
  return (pattern) => found[patterns.indexOf(pattern)] ?? [];
}
