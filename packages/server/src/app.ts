import express, { type ErrorRequestHandler, type Express } from 'express';
import helmet from 'helmet';
import { existsSync } from 'node:fs';
import type { Machine } from '@june-haze/contract';
import { accessGuard, knownBodies, sameOrigin } from './access/guard.ts';
import { saneRequest } from './access/saneRequest.ts';
import type { AccessKey } from './access/key.ts';
import type { Context } from './context.ts';
import { describeError, RequestError } from './errors.ts';
import { jobRoutes } from './routes/jobRoutes.ts';
import { matchRoutes } from './routes/matchRoutes.ts';
import { libraryRoutes } from './routes/libraryRoutes.ts';
import { outputRoutes } from './routes/outputRoutes.ts';
import { pixelRoutes } from './routes/pixelRoutes.ts';
import { recipeRoutes } from './routes/recipeRoutes.ts';
import { setUpRoutes } from './routes/setUpRoutes.ts';
import { shotRoutes } from './routes/shotRoutes.ts';
import { uploadRoutes } from './routes/uploadRoutes.ts';
import { sourceRoutes } from './routes/sourceRoutes.ts';

/**
 * The HTTP application: the API under /api, the built interface elsewhere. Without an access key only this machine's own pages are served.
 */
export function createApp(context: Context, webFolder: string, access?: AccessKey): Express {
  const app = express();
  app.disable('x-powered-by');
  app.use(
    helmet({
      strictTransportSecurity: false,
      contentSecurityPolicy: {
        directives: {
          defaultSrc: ["'self'"],
          scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
          workerSrc: ["'self'", 'blob:'],
          styleSrc: ["'self'", "'unsafe-inline'"],
          imgSrc: ["'self'", 'data:', 'blob:'],
          upgradeInsecureRequests: null,
        },
      },
      crossOriginEmbedderPolicy: { policy: 'require-corp' },
      // Without a referrer browsers send a form's origin as "null" (WHATWG Fetch, 3.2), and the page of the access key would be another site's.
      referrerPolicy: { policy: 'same-origin' },
    }),
  );
  app.use(sameOrigin(access === undefined));
  if (access) app.use(accessGuard(access));
  app.use('/api', knownBodies, express.json({ limit: '16mb' }), saneRequest);
  app.use(
    '/api',
    uploadRoutes(context),
    shotRoutes(context),
    setUpRoutes(context),
    recipeRoutes(context),
    matchRoutes(context),
    libraryRoutes(context),
    sourceRoutes(context),
    pixelRoutes(context),
    outputRoutes(context),
    jobRoutes(context),
  );
  app.get('/api/events', (_request, response) => context.events.add(response));
  app.get('/api/demo', (_request, response) => response.json(context.demo.state));
  app.post('/api/demo/reset', async (_request, response) => {
    await context.demo.start(true);
    response.status(204).end();
  });
  app.get('/api/machine', (_request, response) => {
    const { parts, pool } = context;
    const { rss } = process.memoryUsage();
    response.json({
      frames: parts.bytes,
      framesMost: parts.limit,
      process: rss,
      threads: pool.threads,
    } satisfies Machine);
  });
  app.get('/api/health', (_request, response) => response.json({ ok: true }));
  app.use('/api', () => {
    throw new RequestError(404, 'There is no such request.');
  });
  if (existsSync(webFolder)) {
    app.use(express.static(webFolder, { index: false, dotfiles: 'ignore', maxAge: '1y', immutable: true }));
    app.get('/{*path}', (_request, response) =>
      // The folder of the project may have a dot in its path.
      response.sendFile('index.html', { root: webFolder, dotfiles: 'allow', headers: { 'cache-control': 'no-cache' } }),
    );
  }
  app.use(sayError);
  return app;
}

/** Every error ends here as one sentence. */
const sayError: ErrorRequestHandler = (error: unknown, request, response, _next) => {
  const [status, message] = describeError(error);
  if (status === 500) console.error(`${request.method} ${request.path}:`, error);
  if (response.headersSent) response.end();
  else response.status(status).json({ error: message });
};
