import { Router } from 'express';
import { newSetUpSchema } from '@june-haze/contract';
import type { Context } from '../context.ts';
import { keepSetUp, listSetUps, removeSetUp } from '../shots/setUps.ts';

/** What new shots may start from. */
export function setUpRoutes({ db, events }: Context): Router {
  const router = Router();

  router.get('/set-ups', async (_request, response) => {
    response.json(await listSetUps(db));
  });

  router.post('/set-ups', async (request, response) => {
    const { name, shotId } = newSetUpSchema.parse(request.body);
    await keepSetUp(db, name, shotId);
    events.send({ kind: 'setUps' });
    response.status(201).json(await listSetUps(db));
  });

  router.delete('/set-ups/:id', async (request, response) => {
    await removeSetUp(db, request.params.id);
    events.send({ kind: 'setUps' });
    response.json(await listSetUps(db));
  });

  return router;
}
