import { Router } from 'express';
import { sql } from 'kysely';
import {
  manySourcesChangeSchema,
  newSourcesSchema,
  relinkSchema,
  roleChangeSchema,
  silenceSchema,
  sourceChangeSchema,
  spaceRuleSchema,
  type SourceChange,
} from '@june-haze/contract';
import type { Context } from '../context.ts';
import { RequestError } from '../errors.ts';
import { bringIn } from '../intake/bringIn.ts';
import { noticeChanges } from '../intake/changes.ts';
import { relink } from '../intake/relink.ts';
import { correctRole } from '../intake/roleHabits.ts';
import { forgetRule, saveRule } from '../intake/spaceRules.ts';
import type { SourceRow } from '../intake/sourceState.ts';
import { colourKey } from '../library/items.ts';
import { forgetBalances } from '../shots/standingBalances.ts';
import { requireShot, requireSource, touchShot } from '../shots/shotRows.ts';
import { readShot } from '../shots/shots.ts';

/** Material: what lies in the media folders, what is in a shot, and what a person says of it. */
export function sourceRoutes(context: Context): Router {
  const { db, pool, media, events, places, checks } = context;
  const router = Router();
  const changed = async (shotId: string, notices: string[] = []) => {
    await touchShot(db, shotId);
    events.send({ kind: 'shot', shotId });
    events.send({ kind: 'shelf' });
    return { ...(await readShot(db, await requireShot(db, shotId), checks)), notices };
  };

  router.get('/media', async (request, response) => {
    response.json(await media.list(String(request.query.folder ?? '')));
  });

  router.post('/shots/:id/sources', async (request, response) => {
    const { folder, patterns } = newSourcesSchema.parse(request.body);
    const shot = await requireShot(db, request.params.id);
    const { ids, refused } = await bringIn(
      { db, pool, media, libraryFolder: places.libraryFolder },
      shot.id,
      folder,
      patterns,
    );
    ids.forEach((id) => checks.begin(id));
    response.status(201).json(await changed(shot.id, refused));
  });

  const change = async (source: SourceRow, wanted: SourceChange): Promise<void> => {
    const { declaredSpace, confirmed, reading } = wanted;
    if (declaredSpace) {
      const shot = await requireShot(db, source.shot_id);
      const colour = { key: await colourKey(db, shot), folder: places.libraryFolder };
      if (!(await pool.run('knowsSpace', { colour, space: declaredSpace })))
        throw new RequestError(400, `There is no colour space named "${declaredSpace}" in this shot's config.`);
    }
    await db
      .updateTable('sources')
      .set({
        ...(declaredSpace === undefined ? {} : { declared_space: declaredSpace }),
        ...(confirmed !== undefined ? { confirmed, confirmed_by: null } : {}),
        // Merged where it lies: two changes at once must not undo each other.
        ...(reading ? { reading: sql`reading || ${JSON.stringify(reading)}::jsonb` } : {}),
      })
      .where('id', '=', source.id)
      .execute();
    if ((declaredSpace !== undefined && declaredSpace !== source.declared_space) || reading)
      await forgetBalances(db, source.shot_id);
  };

  router.patch('/sources/:id', async (request, response) => {
    const source = await requireSource(db, request.params.id);
    await change(source, sourceChangeSchema.parse(request.body));
    response.json(await changed(source.shot_id));
  });

  /** One change for many sources of a shot. */
  router.patch('/shots/:id/sources', async (request, response) => {
    const { sources, change: wanted } = manySourcesChangeSchema.parse(request.body);
    const shot = await requireShot(db, request.params.id);
    const rows = await Promise.all(sources.map((id) => requireSource(db, id)));
    if (rows.some((r) => r.shot_id !== shot.id)) throw new RequestError(400, 'A source is not in this shot.');
    for (const row of rows) await change(row, wanted);
    response.json(await changed(shot.id));
  });

  /** Looks at the files again: frames that came, went or were made whole; with `full`, at every frame's pixels. */
  router.post('/sources/:id/examine', async (request, response) => {
    const source = await requireSource(db, request.params.id);
    await db
      .updateTable('sources')
      .set({ checked_at: null, check_failure: null, check_full: request.query.full === '1' })
      .where('id', '=', source.id)
      .execute();
    checks.begin(source.id);
    response.json(await changed(source.shot_id));
  });

  /** Whether files changed since they were looked at; those that grew are looked at again by themselves. */
  router.post('/shots/:id/changes', async (request, response) => {
    const shot = await requireShot(db, request.params.id);
    const rows = await db.selectFrom('sources').selectAll().where('shot_id', '=', shot.id).execute();
    for (const row of rows.filter((r) => r.checked_at !== null))
      if ((await noticeChanges({ db, pool, media }, row)).again) checks.begin(row.id);
    response.json(await readShot(db, await requireShot(db, shot.id), checks));
  });

  /** Another folder for a source that moved, or another version of it; what was declared of it stays. */
  router.post('/sources/:id/relink', async (request, response) => {
    const { folder, pattern } = relinkSchema.parse(request.body);
    const source = await requireSource(db, request.params.id);
    await relink({ db, pool, media }, source, folder, pattern ?? source.pattern);
    checks.begin(source.id);
    response.json(await changed(source.shot_id));
  });

  router.put('/sources/:id/silence', async (request, response) => {
    const { keys, reason } = silenceSchema.parse(request.body);
    const source = await requireSource(db, request.params.id);
    const reasons = JSON.stringify(Object.fromEntries(keys.map((key) => [key, reason])));
    await db
      .updateTable('sources')
      // Changed where they lie, as the reading above.
      .set({ silenced: reason ? sql`silenced || ${reasons}::jsonb` : sql`silenced - ${keys}::text[]` })
      .where('id', '=', source.id)
      .execute();
    response.json(await changed(source.shot_id));
  });

  /** "Pictures in this folder are …": shown as evidence from now on, and confirming. */
  router.post('/sources/:id/rule', async (request, response) => {
    const rule = spaceRuleSchema.parse(request.body);
    const source = await requireSource(db, request.params.id);
    await saveRule(db, rule);
    await db.updateTable('sources').set({ checked_at: null }).where('id', '=', source.id).execute();
    checks.begin(source.id);
    response.json(await changed(source.shot_id));
  });

  router.delete('/sources/:id/rule', async (request, response) => {
    const source = await requireSource(db, request.params.id);
    await forgetRule(db, `${source.folder}/${source.pattern}`, source.facts.fileKind);
    await db.updateTable('sources').set({ checked_at: null }).where('id', '=', source.id).execute();
    checks.begin(source.id);
    response.json(await changed(source.shot_id));
  });

  router.put('/sources/:id/role', async (request, response) => {
    const { pass, role } = roleChangeSchema.parse(request.body);
    const source = await requireSource(db, request.params.id);
    await correctRole(db, source, pass, role);
    response.json(await changed(source.shot_id));
  });

  router.delete('/sources/:id', async (request, response) => {
    const source = await requireSource(db, request.params.id);
    await db.deleteFrom('sources').where('id', '=', source.id).execute();
    response.json(await changed(source.shot_id));
  });

  return router;
}
