import { join } from 'node:path';
import { Router } from 'express';
import { uploadPlanSchema } from '@june-haze/contract';
import type { Context } from '../context.ts';
import { lackingFiles, uploadServer, uploadsPlace } from '../intake/uploads.ts';

/** Files dropped on the page: what is lacking of them, and the resumable uploads themselves. */
export function uploadRoutes({ places }: Context): Router {
  const router = Router();
  const tus = uploadServer(places.uploadFolder, join(places.uploadFolder, '.pieces'));
  // Under /api; the handler answers by itself.
  router.all('/files{/*rest}', (request, response) => void tus.handle(request, response));
  router.post('/uploads', async (request, response) => {
    const plan = uploadPlanSchema.parse(request.body);
    const lacking = await lackingFiles(places.uploadFolder, plan);
    response.json({ folder: `${uploadsPlace}/${plan.batch}`, lacking });
  });
  return router;
}
