import type { PassRole } from '@june-haze/core';
import type { Db } from '../database/connect.ts';
import type { SourceFacts } from '@june-haze/contract';
import { changeFacts } from './changeFacts.ts';
import { RequestError } from '../errors.ts';

/** Gives passes the roles that a person gave to passes of the same name before. */
export async function applyRoleHabits(db: Db, facts: SourceFacts): Promise<SourceFacts> {
  const names = facts.passes.map((p) => p.name);
  if (!names.length) return facts;
  const habits = await db.selectFrom('role_habits').selectAll().where('name', 'in', names).execute();
  const roles = new Map(habits.map((h) => [h.name, h.role]));
  return { ...facts, passes: facts.passes.map((p) => ({ ...p, role: roles.get(p.name) ?? p.role })) };
}

/** Corrects a pass's role, and remembers it for the next frames with the same names. Throws a 404 RequestError for a pass that is not there. */
export async function correctRole(
  db: Db,
  source: { readonly id: string; readonly pattern: string; readonly facts: SourceFacts },
  pass: string,
  role: PassRole,
): Promise<void> {
  if (!source.facts.passes.some((p) => p.name === pass))
    throw new RequestError(404, `${source.pattern} has no pass "${pass}".`);
  await db.transaction().execute(async (t) => {
    await changeFacts(t, source.id, (facts) => ({
      ...facts,
      passes: facts.passes.map((p) => (p.name === pass ? { ...p, role } : p)),
    }));
    await t
      .insertInto('role_habits')
      .values({ name: pass, role })
      .onConflict((c) => c.column('name').doUpdateSet({ role }))
      .execute();
  });
}
