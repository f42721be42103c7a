import { basename } from 'node:path';
import { Router } from 'express';
import { importJobSchema, type JobPlace, type JobList } from '@june-haze/contract';
import type { Context } from '../context.ts';
import { exportJob } from '../job/exportJob.ts';
import { importJob, listJobs } from '../job/importJob.ts';
import { requireShot } from '../shots/shotRows.ts';
import { readShot } from '../shots/shots.ts';

/** Shots as job files, and back. */
export function jobRoutes(context: Context): Router {
  const { db, events, places, checks } = context;
  const router = Router();
  const below = (place: string) => `${basename(places.outputFolder)}/${place}`;

  router.get('/jobs', async (_request, response) => {
    response.json({ jobs: (await listJobs(places.outputFolder)).map(below) } satisfies JobList);
  });

  router.post('/shots/:id/job', async (request, response) => {
    const shot = await readShot(db, await requireShot(db, request.params.id), checks);
    response.status(201).json({ place: below(await exportJob(context, shot)) } satisfies JobPlace);
  });

  router.post('/jobs', async (request, response) => {
    const { place } = importJobSchema.parse(request.body);
    const { id, notices } = await importJob(context, place);
    events.send({ kind: 'shelf' });
    events.send({ kind: 'library' });
    response.status(201).json({ ...(await readShot(db, await requireShot(db, id), checks)), notices });
  });

  return router;
}
