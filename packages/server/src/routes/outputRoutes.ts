import { Router, type Response } from 'express';
import { existsSync } from 'node:fs';
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import {
  acceptSchema,
  outputSettingsSchema,
  startRunSchema,
  tryFrameSchema,
  type WrittenHandOver,
} from '@june-haze/contract';
import type { Context } from '../context.ts';
import { isId, RequestError } from '../errors.ts';
import { handOverPlace, writeHandOver } from '../handOver/writeHandOver.ts';
import { beginChecked } from '../runs/beginChecked.ts';
import { bringBackIn } from '../runs/bringBackIn.ts';
import { runChanges } from '../runs/changeRun.ts';
import { removeFramesOf } from '../runs/assembledRuns.ts';
import { triedFolder } from '../runs/tryFrames.ts';
import { acceptLine } from '../shots/acceptLine.ts';
import { checkOutput, requireOutput } from '../shots/preCheck/checkOutput.ts';
import { requireShot } from '../shots/shotRows.ts';
import { readShot } from '../shots/shots.ts';

export function outputRoutes(context: Context): Router {
  const { db, events, runs, places } = context;
  const router = Router();
  const answer = async (shotId: string) => {
    events.send({ kind: 'shot', shotId });
    return readShot(db, await requireShot(db, shotId), context.checks);
  };
  router.post('/shots/:id/outputs', async (request, response) => {
    const settings = outputSettingsSchema.parse(request.body);
    const shot = await requireShot(db, request.params.id);
    await db
      .insertInto('outputs')
      .values({ shot_id: shot.id, settings: JSON.stringify(settings) })
      .execute();
    response.status(201).json(await answer(shot.id));
  });

  router.put('/outputs/:id', async (request, response) => {
    const settings = outputSettingsSchema.parse(request.body);
    const output = await requireOutput(db, request.params.id);
    await db
      .updateTable('outputs')
      .set({ settings: JSON.stringify(settings) })
      .where('id', '=', output.id)
      .execute();
    response.json(await answer(output.shot_id));
  });

  router.delete('/outputs/:id', async (request, response) => {
    const output = await requireOutput(db, request.params.id);
    await removeFramesOf(db, places.outputFolder, output.id);
    await db.deleteFrom('outputs').where('id', '=', output.id).execute();
    await rm(triedFolder(places, output.id), { recursive: true, force: true });
    response.json(await answer(output.shot_id));
  });

  const check = (id: string) => checkOutput(context, id);

  router.get('/outputs/:id/precheck', async (request, response) => {
    const { items, existing } = await check(request.params.id);
    response.json({ items, existing });
  });

  router.post('/outputs/:id/runs', async (request, response) => {
    const { overwrite } = startRunSchema.parse(request.body);
    const output = await requireOutput(db, request.params.id);
    await beginChecked(context, output.id, { overwrite });
    response.status(201).json(await answer(output.shot_id));
  });

  router.put('/outputs/:id/accepted', async (request, response) => {
    const { text, reason } = acceptSchema.parse(request.body);
    const { id } = request.params;
    if (reason !== null && !(await check(id)).items.some((i) => i.weight === 'ask' && i.text === text))
      throw new RequestError(409, 'The list before writing does not say this any more; look at it again.');
    await acceptLine(db, (await requireOutput(db, id)).id, text, reason);
    const { items, existing } = await check(id);
    response.json({ items, existing });
  });

  router.post('/outputs/:id/try', async (request, response) => {
    const tried = tryFrameSchema.parse(request.body);
    const { items, output } = await check(request.params.id);
    const stop = items.find((i) => i.weight === 'stop');
    if (stop) throw new RequestError(400, stop.text);
    response.json(await runs.tryFrames(output.id, tried));
  });

  for (const change of runChanges)
    router.post(`/runs/:id/${change}`, async (request, response) => {
      if (!isId(request.params.id)) throw new RequestError(404, 'There is no such run.');
      await runs.change(request.params.id, change);
      response.status(204).end();
    });

  router.post('/runs/:id/bring-in', async (request, response) => {
    if (!isId(request.params.id)) throw new RequestError(404, 'There is no such run.');
    const { shotId } = await bringBackIn(context, request.params.id);
    response.status(201).json(await answer(shotId));
  });

  router.post('/runs/:id/hand-over', async (request, response) => {
    if (!isId(request.params.id)) throw new RequestError(404, 'There is no such run.');
    response.status(201).json((await writeHandOver(context, request.params.id)) satisfies WrittenHandOver);
  });

  /** The page of a hand-over that was written, to be read here. */
  router.get('/runs/:id/hand-over', async (request, response) => {
    const { id } = request.params;
    const run = isId(id)
      ? await db.selectFrom('runs').select('recipe').where('id', '=', id).executeTakeFirst()
      : undefined;
    if (!run) throw new RequestError(404, 'There is no such run.');
    const place = handOverPlace(run.recipe);
    if (!existsSync(join(places.outputFolder, place))) throw new RequestError(404, 'Nothing is handed over yet.');
    response.sendFile(place, { root: places.outputFolder, headers: { 'cache-control': 'private, no-store' } });
  });

  /** One of the three pictures of a proof. */
  const sendPicture = (
    response: Response,
    { id, name }: Record<'id' | 'name', string>,
    folder: (id: string) => string,
  ) => {
    if (!isId(id) || !['shown', 'tagged', 'ignoring'].includes(name))
      throw new RequestError(404, 'There is no such picture.');
    const headers = { 'cache-control': 'private, max-age=3600' };
    response.sendFile(`${name}.png`, { root: folder(id), headers, dotfiles: 'allow' });
  };
  router.get('/runs/:id/pictures/:name', (request, response) =>
    sendPicture(response, request.params, (id) => join(places.proofFolder, id)),
  );
  /** A movie or a contact sheet that was tried, to be looked at. */
  router.get('/outputs/:id/tried/whole/:name', (request, response) => {
    const { id, name } = request.params;
    if (!isId(id) || !/^whole\.(mp4|webm|mov|png|jpg)$/.test(name))
      throw new RequestError(404, 'There is no such file.');
    const headers = { 'cache-control': 'private, no-store' };
    response.sendFile(name, { root: triedFolder(places, id), headers, dotfiles: 'allow' });
  });
  router.get('/outputs/:id/tried/:name', (request, response) =>
    sendPicture(response, request.params, (id) => triedFolder(places, id)),
  );

  return router;
}
