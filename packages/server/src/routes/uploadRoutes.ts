import { join } from 'node:path';
import { Router } from 'express';
import { uploadHashesSchema, uploadPlanSchema } from '@june-haze/contract';
import type { Context } from '../context.ts';
import { batchPlace, lackingFiles, otherFiles, uploadServer, uploadsPlace } from '../intake/uploads.ts';
import { requireShot } from '../shots/shotRows.ts';

/** How often pieces of uploads are looked through for those that nobody goes on with. */
const sweep = 6 * 3600 * 1000;

/** Files dropped on the page: what is lacking of them, and the resumable uploads themselves. */
export function uploadRoutes({ db, pool, places }: Context): Router {
  const router = Router();
  const tus = uploadServer(db, places.uploadFolder, join(places.uploadFolder, '.pieces'));
  const clean = () =>
    void tus.cleanUpExpiredUploads().catch((error: unknown) => console.error('uploads that were left:', error));
  clean();
  setInterval(clean, sweep).unref();
  // Under /api; the handler answers by itself.
  router.all('/files{/*rest}', (request, response, next) => {
    tus.handle(request, response).catch(next);
  });
  router.post('/uploads', async (request, response) => {
    const plan = uploadPlanSchema.parse(request.body);
    await requireShot(db, plan.shot);
    const found = await lackingFiles(places.uploadFolder, plan);
    response.json({ folder: `${uploadsPlace}/${batchPlace(plan.shot, plan.batch)}`, ...found });
  });
  router.post('/uploads/compare', async (request, response) => {
    const wanted = uploadHashesSchema.parse(request.body);
    await requireShot(db, wanted.shot);
    response.json({ others: await otherFiles(pool, places.uploadFolder, wanted) });
  });
  return router;
}
