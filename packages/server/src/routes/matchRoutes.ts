import { Router } from 'express';
import {
  applyRowSchema,
  carryRequestSchema,
  chartRequestSchema,
  ledgerFileRequestSchema,
  matrixFileRequestSchema,
  patchRequestSchema,
  viewFileRequestSchema,
  type MatchLine,
} from '@june-haze/contract';
import type { Context } from '../context.ts';
import { describeError } from '../errors.ts';
import { carryOver } from '../shots/carryOver.ts';
import { deriveView } from '../shots/derivedView.ts';
import { ledgerFile, matrixFile, viewFile } from '../shots/lutFiles.ts';
import { measureChart, measurePatch } from '../shots/measured.ts';
import { applyRow, findReference, proveReference, undoRow } from '../shots/match.ts';
import { requireShot } from '../shots/shotRows.ts';
import { readShot } from '../shots/shots.ts';

/** Match: what made the reference, whether the present viewing makes it, and what a renderer's words mean. */
export function matchRoutes(context: Context): Router {
  const { db, events } = context;
  const router = Router();
  const shotAndRow = async (id: string) => {
    const row = await requireShot(db, id);
    return { row, shot: await readShot(db, row, context.checks) };
  };
  const changed = async (id: string) => {
    events.send({ kind: 'shot', shotId: id });
    events.send({ kind: 'shelf' });
    return readShot(db, await requireShot(db, id), context.checks);
  };

  router.post('/shots/:id/match/prove', async (request, response) => {
    const { row, shot } = await shotAndRow(request.params.id);
    await proveReference(context, row, shot.match);
    response.json(await changed(row.id));
  });

  /** A search's progress as lines of JSON, then its result. Whoever leaves ends it. */
  router.post('/shots/:id/match/find', async (request, response) => {
    const { row, shot } = await shotAndRow(request.params.id);
    const left = new AbortController();
    response.on('close', () => left.abort());
    const tell = (line: MatchLine) => void (response.writableEnded || response.write(`${JSON.stringify(line)}\n`));
    response.setHeader('content-type', 'application/x-ndjson');
    response.setHeader('cache-control', 'no-store');
    try {
      const result = await findReference(context, row, shot.match, (progress) => tell({ progress }), left.signal);
      if (result) tell({ result: { ...result } } as MatchLine);
    } catch (error) {
      const [status, message] = describeError(error);
      if (status === 500) console.error('POST match/find:', error);
      tell({ error: message });
    }
    response.end();
  });

  router.post('/shots/:id/match/apply', async (request, response) => {
    const applied = applyRowSchema.parse(request.body);
    const { row, shot } = await shotAndRow(request.params.id);
    await applyRow(context, row.id, shot.match.source, applied);
    response.json(await changed(row.id));
  });

  router.post('/shots/:id/match/undo', async (request, response) => {
    const { id } = await requireShot(db, request.params.id);
    await undoRow(context, id);
    response.json(await changed(id));
  });

  router.post('/shots/:id/match/derive', async (request, response) => {
    const { row, shot } = await shotAndRow(request.params.id);
    response.status(201).json(await deriveView(context, row, shot.match));
    events.send({ kind: 'library' });
  });

  router.post('/shots/:id/match/patch', async (request, response) => {
    const { region } = patchRequestSchema.parse(request.body);
    const { row, shot } = await shotAndRow(request.params.id);
    response.json(await measurePatch(context, row, shot.match, region));
  });

  router.post('/shots/:id/match/chart', async (request, response) => {
    const asked = chartRequestSchema.parse(request.body);
    const { row, shot } = await shotAndRow(request.params.id);
    response.json(await measureChart(context, row, shot.match, asked));
  });

  router.post('/shots/:id/match/carry', async (request, response) => {
    const { to } = carryRequestSchema.parse(request.body);
    const { shot } = await shotAndRow(request.params.id);
    const carried = await carryOver(context, shot, to);
    carried.forEach(({ id }) => events.send({ kind: 'shot', shotId: id }));
    events.send({ kind: 'shelf' });
    response.json(carried);
  });

  router.post('/shots/:id/view-file', async (request, response) => {
    const asked = viewFileRequestSchema.parse(request.body);
    response.json(await viewFile(context, await requireShot(db, request.params.id), asked));
  });

  router.post('/shots/:id/matrix-file', async (request, response) => {
    const asked = matrixFileRequestSchema.parse(request.body);
    response.json(await matrixFile(context, await requireShot(db, request.params.id), asked));
  });

  router.post('/shots/:id/ledger-file', async (request, response) => {
    const asked = ledgerFileRequestSchema.parse(request.body);
    response.json(await ledgerFile(context, await requireShot(db, request.params.id), asked));
  });

  return router;
}
