import express, { Router } from 'express';
import { libraryChangeSchema } from '@june-haze/contract';
import type { Context } from '../context.ts';
import { RequestError } from '../errors.ts';
import { addItem, changeItem, listItems, removeItem, requireItem } from '../library/items.ts';
import { bundlePath } from '../library/store.ts';

/** Configs, LUTs and CDLs: brought in by their bytes, kept by content. */
export function libraryRoutes({ db, events, places, pool }: Context): Router {
  const router = Router();
  const folder = places.libraryFolder;
  const changed = () => events.send({ kind: 'library' });

  router.get('/library', async (_request, response) => {
    response.json(await listItems(db));
  });

  router.post('/library', express.raw({ type: () => true, limit: '256mb' }), async (request, response) => {
    const name = String(request.query.name ?? '').trim();
    if (!name || name.length > 200) throw new RequestError(400, 'The file needs a name.');
    if (!Buffer.isBuffer(request.body) || request.body.length === 0)
      throw new RequestError(400, `${name}: the file is empty.`);
    const examined = await pool.run('examineDropped', { name, bytes: request.body });
    const id = await addItem(db, folder, name, examined);
    changed();
    response.status(201).json({ id });
  });

  router.patch('/library/:id', async (request, response) => {
    await changeItem(db, request.params.id, libraryChangeSchema.parse(request.body));
    changed();
    response.json((await listItems(db)).find((i) => i.id === request.params.id));
  });

  router.delete('/library/:id', async (request, response) => {
    await removeItem(db, folder, request.params.id);
    changed();
    response.status(204).end();
  });

  router.get('/library/:id/content', async (request, response) => {
    const { id } = await requireItem(db, request.params.id);
    response.setHeader('content-type', 'application/zip');
    response.setHeader('cache-control', 'private, max-age=31536000, immutable');
    response.sendFile(bundlePath(folder, id));
  });

  return router;
}
