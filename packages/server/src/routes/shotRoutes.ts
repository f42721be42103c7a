import { Router } from 'express';
import {
  balanceRequestSchema,
  frameQuerySchema,
  ledgerChangeSchema,
  ledgerStepSchema,
  newShotSchema,
  shotChangeSchema,
} from '@june-haze/contract';
import { isRebuildWay } from '@june-haze/core';
import type { Context } from '../context.ts';
import { RequestError } from '../errors.ts';
import { changeShot } from '../shots/changeShot.ts';
import { proveBalance } from '../shots/balance.ts';
import { explainBalance } from '../shots/balanceFaults.ts';
import { startingPoints } from '../shots/startingPoints.ts';
import { rebuildSource, saveLedger, stepLedger } from '../shots/ledger.ts';
import { describeSource } from '../intake/sourceState.ts';
import { beginShot } from '../shots/setUps.ts';
import { removeFramesOf } from '../runs/assembledRuns.ts';
import { requireShot, requireSource } from '../shots/shotRows.ts';
import { listShots, readShot } from '../shots/shots.ts';

export function shotRoutes(context: Context): Router {
  const { db, events, pool } = context;
  const router = Router();
  const answer = async (id: string) => readShot(db, await requireShot(db, id), context.checks);
  const changed = (id: string) => {
    events.send({ kind: 'shot', shotId: id });
    events.send({ kind: 'shelf' });
  };

  router.get('/shots', async (_request, response) => {
    response.json(await listShots(db));
  });

  router.post('/shots', async (request, response) => {
    const { name, setUp } = newShotSchema.parse(request.body);
    const id = await beginShot(db, { pool, libraryFolder: context.places.libraryFolder }, name, setUp);
    changed(id);
    response.status(201).json(await answer(id));
  });

  router.get('/shots/:id', async (request, response) => {
    context.watch.look(request.params.id);
    response.json(await answer(request.params.id));
  });

  router.patch('/shots/:id', async (request, response) => {
    const change = shotChangeSchema.parse(request.body);
    const shot = await requireShot(db, request.params.id);
    await changeShot({ db, pool, libraryFolder: context.places.libraryFolder }, shot.id, change);
    changed(shot.id);
    response.json(await answer(shot.id));
  });

  router.delete('/shots/:id', async (request, response) => {
    const shot = await requireShot(db, request.params.id);
    const outputs = await db.selectFrom('outputs').select('id').where('shot_id', '=', shot.id).execute();
    for (const { id } of outputs) await removeFramesOf(db, context.places.outputFolder, id);
    await db.deleteFrom('shots').where('id', '=', shot.id).execute();
    changed(shot.id);
    response.status(204).end();
  });

  router.put('/shots/:id/ledger', async (request, response) => {
    const { base, document, summary } = ledgerChangeSchema.parse(request.body);
    const shot = await requireShot(db, request.params.id);
    // What cannot be evaluated yet is kept all the same: the page names it at its row, and nothing is written from it.
    await saveLedger(db, shot.id, base, document, summary);
    changed(shot.id);
    response.json(await answer(shot.id));
  });

  for (const direction of ['undo', 'redo'] as const) {
    router.post(`/shots/:id/ledger/${direction}`, async (request, response) => {
      await requireShot(db, request.params.id);
      await stepLedger(db, request.params.id, ledgerStepSchema.parse(request.body).base, direction);
      changed(request.params.id);
      response.json(await answer(request.params.id));
    });
  }

  router.post('/shots/:id/ledger/rebuild', async (request, response) => {
    const { base } = ledgerStepSchema.parse(request.body);
    const by = String(request.query.by ?? 'components');
    if (!isRebuildWay(by)) throw new RequestError(400, `"${by}" is no way to rebuild.`);
    const shot = await requireShot(db, request.params.id);
    const source = describeSource(await requireSource(db, String(request.query.source)));
    await saveLedger(db, shot.id, base, rebuildSource(source, by), `built from ${by}`);
    changed(shot.id);
    response.json(await answer(shot.id));
  });

  router.get('/shots/:id/starts', async (request, response) => {
    const { frame } = frameQuerySchema.parse(request.query);
    const { id } = await requireShot(db, request.params.id);
    response.json(await startingPoints(context, id, frame));
  });

  router.get('/shots/:id/balance/faults', async (request, response) => {
    const { frame } = frameQuerySchema.parse(request.query);
    const { id } = await requireShot(db, request.params.id);
    response.json(await explainBalance(context, id, frame));
  });

  router.post('/shots/:id/balance', async (request, response) => {
    const { frame } = balanceRequestSchema.parse(request.body);
    const { id } = await requireShot(db, request.params.id);
    const proof = await proveBalance(context, id, frame);
    changed(id);
    response.json(proof);
  });

  return router;
}
