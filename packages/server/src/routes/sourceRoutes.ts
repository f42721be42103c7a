import { createHash } from 'node:crypto';
import { Router } from 'express';
import { dataRoles, sideAtLevel } from '@june-haze/core';
import { newSourceSchema, roleChangeSchema, sourceChangeSchema, viewingSchema } from '@june-haze/contract';
import type { Context } from '../context.ts';
import { RequestError } from '../errors.ts';
import { colourKey } from '../library/items.ts';
import { colourOf } from '../library/store.ts';
import { applyRoleHabits, correctRole } from '../shots/roleHabits.ts';
import { bringIn, examineSequence, identityOf } from '../shots/sources.ts';
import { fileOfPart, type SourceWithFiles } from '../shots/sourceFiles.ts';
import { readShot, requireShot, requireSource, touchShot } from '../shots/shots.ts';

export function sourceRoutes(context: Context): Router {
  const { db, pool, media, events, parts, places } = context;
  const router = Router();
  const changed = async (shotId: string) => {
    await touchShot(db, shotId);
    events.send({ kind: 'shot', shotId });
    events.send({ kind: 'shelf' });
    return readShot(db, await requireShot(db, shotId));
  };

  router.get('/media', async (request, response) => {
    response.json(await media.list(String(request.query.folder ?? '')));
  });

  router.post('/shots/:id/sources', async (request, response) => {
    const { folder, pattern } = newSourceSchema.parse(request.body);
    const shot = await requireShot(db, request.params.id);
    const { facts, guess } = await examineSequence(pool, media, folder, pattern);
    await bringIn(db, shot.id, folder, pattern, await applyRoleHabits(db, facts), guess);
    response.status(201).json(await changed(shot.id));
  });

  router.patch('/sources/:id', async (request, response) => {
    const change = sourceChangeSchema.parse(request.body);
    const source = await requireSource(db, request.params.id);
    if (change.declaredSpace) {
      const { colour } = await colourOfSource(source.shot_id);
      if (!colour.knows(change.declaredSpace))
        throw new RequestError(400, `There is no colour space named "${change.declaredSpace}" in this shot's config.`);
    }
    await db
      .updateTable('sources')
      .set({
        ...(change.declaredSpace ? { declared_space: change.declaredSpace } : {}),
        ...(change.confirmed !== undefined ? { confirmed: change.confirmed } : {}),
      })
      .where('id', '=', source.id)
      .execute();
    if (change.declaredSpace && change.declaredSpace !== source.declared_space) {
      await db.updateTable('shots').set({ balance: null }).where('id', '=', source.shot_id).execute();
    }
    response.json(await changed(source.shot_id));
  });

  /** Looks at the files again: frames that came, went or were made whole. */
  router.post('/sources/:id/examine', async (request, response) => {
    const source = await requireSource(db, request.params.id);
    const { facts } = await examineSequence(pool, media, source.folder, source.pattern);
    await db
      .updateTable('sources')
      .set({ facts: JSON.stringify(await applyRoleHabits(db, facts)) })
      .where('id', '=', source.id)
      .execute();
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

  const colourOfSource = async (shotId: string) => {
    const row = await requireShot(db, shotId);
    const key = await colourKey(db, row);
    return { row, key, colour: colourOf({ key, folder: places.libraryFolder }) };
  };

  const number = (value: unknown, name: string, most = 1e7): number => {
    const n = Number(value);
    if (!Number.isInteger(n) || n < 0 || n > most) throw new RequestError(400, `"${name}" must be a whole number.`);
    return n;
  };

  /** Planes of one frame as raw samples, one channel after the other. */
  router.get('/sources/:id/planes', async (request, response) => {
    const { query } = request;
    const source = await requireSource(db, request.params.id);
    const frame = number(query.frame, 'frame');
    const { path, part } = await frameOf(source, frame, number(query.part, 'part'));
    const channels = [query.channel].flat().map(String);
    const etag = `"${await identityOf(path)}-${Buffer.from(JSON.stringify([channels, query.part, query.level, query.top, query.end, query.data])).toString('base64url')}"`;
    response.setHeader('etag', etag);
    response.setHeader('cache-control', 'private, no-cache');
    if (request.headers['if-none-match'] === etag) {
      response.status(304).end();
      return;
    }
    const data = query.data === '1';
    const level = number(query.level, 'level', 12);
    const name = path.split('/').at(-1)!;
    // A file's own smaller levels are averages: right for light, never for data.
    const decoded = await parts.get(path, name, part, data ? 0 : level);
    const unknown = channels.find((c) => !(c in decoded.planes));
    if (unknown !== undefined) throw new RequestError(404, `${source.pattern} has no channel "${unknown}".`);
    const further = level - decoded.level;
    const rows = sideAtLevel(decoded.height, further);
    const [top, end] = [number(query.top ?? 0, 'top'), number(query.end ?? rows, 'end')];
    const read = await parts.rows(decoded, channels, further, data, top, end);
    const { bytes } = read;
    response.setHeader('content-type', 'application/octet-stream');
    response.setHeader('content-length', bytes.length);
    response.setHeader(
      'x-june-planes',
      JSON.stringify({ width: read.width, rows: read.rows, types: read.types, missing: decoded.missing }),
    );
    response.end(bytes);
  });

  router.get('/sources/:id/thumbnail', async (request, response) => {
    const { query } = request;
    const source = await requireSource(db, request.params.id);
    const pass = source.facts.passes.find((p) => p.name === query.pass);
    if (!pass) throw new RequestError(404, `${source.pattern} has no pass "${String(query.pass)}".`);
    const { key, row } = await colourOfSource(source.shot_id);
    const own = viewingSchema.parse(row.viewing);
    // A small picture is seen as the shot is, but for its exposure and gamma trims.
    const viewing = viewingSchema.parse({
      ...own,
      exposure: 0,
      gamma: 1,
      display: query.display ?? own.display,
      view: query.view ?? own.view,
      look: query.look ?? own.look,
    });

    const { path, part } = await frameOf(source, number(query.frame, 'frame'), pass.part);
    const space = String(query.space ?? source.declared_space ?? 'Linear Rec.709');
    const seen = JSON.stringify([query, space, key, row.working_space, viewing]);
    const etag = `"${await identityOf(path)}-${createHash('sha256').update(seen).digest('base64url')}"`;
    response.setHeader('etag', etag);
    response.setHeader('cache-control', 'private, no-cache');
    if (request.headers['if-none-match'] === etag) {
      response.status(304).end();
      return;
    }
    const width = Math.min(640, Math.max(32, number(query.width ?? 160, 'width')));
    const level = dataRoles.has(pass.role) ? 0 : Math.max(0, Math.floor(Math.log2(source.facts.width / width)));
    const decoded = await parts.get(path, path.split('/').at(-1)!, part, level);
    const png = await pool.run('makeThumbnail', {
      decoded,
      pass,
      space,
      viewing,
      workingSpace: row.working_space,
      colour: { key, folder: places.libraryFolder },
      width,
    });
    response.setHeader('content-type', 'image/png');
    response.end(Buffer.from(png));
  });

  /** The file that holds a part of a source's frame, and the part's number within it. */
  async function frameOf(
    source: SourceWithFiles & { folder: string },
    frame: number,
    part: number,
  ): Promise<{ path: string; part: number }> {
    const { pattern, firstPart } = fileOfPart(source, part);
    const path = await media.frameFile(source.folder, pattern, frame).catch((error: unknown) => {
      if (error instanceof RequestError && error.status === 404)
        throw new RequestError(404, `${pattern}: frame ${frame} is missing.`);
      throw error;
    });
    return { path, part: part - firstPart };
  }

  return router;
}
