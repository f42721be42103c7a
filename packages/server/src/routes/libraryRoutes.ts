import { mkdir, open, rm } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { Router, type Request } from 'express';
import { temporaryName } from '@june-haze/files';
import { foundConfigRequestSchema, libraryChangeSchema, type FoundConfig } from '@june-haze/contract';
import type { Context } from '../context.ts';
import { RequestError } from '../errors.ts';
import { addItem, changeItem, listItems, removeItem, requireItem } from '../library/items.ts';
import { bundlePath } from '../library/store.ts';

/** No config that is sent is larger. */
const largestDrop = 1 << 30;

/** Writes a request's bytes to a file: to the disk, not to memory. Refuses an empty one and one that is too large with a sentence. */
async function receive(request: Request, path: string, name: string): Promise<void> {
  const handle = await open(path, 'wx');
  let size = 0;
  try {
    // The connection stays, so that a refusal can be said.
    for await (const chunk of request.iterator({ destroyOnReturn: false }) as AsyncIterable<Buffer>) {
      size += chunk.length;
      if (size > largestDrop) throw new RequestError(413, `${name}: the file is larger than a config can be.`);
      await handle.write(chunk);
    }
  } finally {
    await handle.close();
  }
  if (size === 0) throw new RequestError(400, `${name}: the file is empty.`);
}

/** Configs, LUTs and CDLs: brought in by their bytes, kept by content. */
export function libraryRoutes({ db, events, places, pool, media }: Context): Router {
  const router = Router();
  const folder = places.libraryFolder;
  const changed = () => events.send({ kind: 'library' });

  router.get('/library', async (_request, response) => {
    response.json(await listItems(db));
  });

  router.post('/library', async (request, response) => {
    const name = String(request.query.name ?? '').trim();
    if (!name || name.length > 200 || name.includes('\0')) throw new RequestError(400, 'The file needs a name.');
    await mkdir(folder, { recursive: true });
    const path = join(folder, temporaryName('dropped'));
    try {
      await receive(request, path, name);
      const id = await addItem(db, name, await pool.run('keepDropped', { name, path, folder }));
      changed();
      response.status(201).json({ id });
    } finally {
      await rm(path, { force: true });
    }
  });

  /** Configs that lie in the media folders, and whether they are in the Library. */
  router.get('/library/found', async (_request, response) => {
    const known = new Set((await db.selectFrom('library_items').select('id').execute()).map((i) => i.id));
    const found: FoundConfig[] = [];
    for (const root of (await media.list('')).folders) {
      const lying = await pool.run('configsBelow', { path: await media.locate(root) });
      found.push(...lying.map(({ path, id }) => ({ place: `${root}/${path}`, kept: known.has(id) ? id : null })));
    }
    response.json(found);
  });

  router.post('/library/found', async (request, response) => {
    const { place } = foundConfigRequestSchema.parse(request.body);
    const path = await media.locate(place);
    const name = basename(dirname(path));
    const id = await addItem(
      db,
      name,
      await pool.run('keepConfig', { folder: dirname(path), config: basename(path), libraryFolder: folder }),
    );
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
    response.sendFile(basename(bundlePath(folder, id)), { root: dirname(bundlePath(folder, id)), dotfiles: 'allow' });
  });

  return router;
}
