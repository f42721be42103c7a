import express, { type ErrorRequestHandler, type Express } from 'express';
import helmet from 'helmet';
import { existsSync } from 'node:fs';
import { ZodError } from 'zod';
import { accessGuard, knownBodies, sameOrigin } from './access/guard.ts';
import { saneRequest } from './access/saneRequest.ts';
import type { AccessKey } from './access/key.ts';
import type { Context } from './context.ts';
import { isOutage } from './database/outage.ts';
import { RequestError } from './errors.ts';
import { libraryRoutes } from './routes/libraryRoutes.ts';
import { outputRoutes } from './routes/outputRoutes.ts';
import { pixelRoutes } from './routes/pixelRoutes.ts';
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
    }),
  );
  app.use(sameOrigin(access === undefined));
  if (access) app.use(accessGuard(access));
  app.use('/api', knownBodies, express.json({ limit: '16mb' }), saneRequest);
  app.use(
    '/api',
    uploadRoutes(context),
    shotRoutes(context),
    libraryRoutes(context),
    sourceRoutes(context),
    pixelRoutes(context),
    outputRoutes(context),
  );
  app.get('/api/events', (_request, response) => context.events.add(response));
  app.get('/api/demo', (_request, response) => response.json(context.demo.state));
  app.post('/api/demo/reset', async (_request, response) => {
    await context.demo.start(true);
    response.status(204).end();
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
  const [status, message] = describe(error);
  if (status === 500) console.error(`${request.method} ${request.path}:`, error);
  if (response.headersSent) response.end();
  else response.status(status).json({ error: message });
};

function describe(error: unknown): [number, string] {
  if (error instanceof RequestError) return [error.status, error.message];
  if (error instanceof ZodError) {
    const first = error.issues[0];
    return [400, `${first?.path.join('.') || 'The request'}: ${first?.message ?? 'is not understood.'}`];
  }
  if (isOutage(error))
    return [503, 'The database does not answer; it is tried again by itself, nothing that was kept is lost.'];
  if (error instanceof Error) {
    // Errors from worker threads keep their sentence and stack, not their class or name.
    const kind = /^\w+/.exec(error.stack ?? '')?.[0] ?? error.name;
    if (['ExrError', 'FormatError', 'ForeignFile', 'PlanError', 'ColourFileError', 'UnknownNameError'].includes(kind))
      return [422, error.message];
    const { status, code } = error as { status?: unknown; code?: unknown };
    // PostgreSQL's class 22: a value that cannot be what it stands for (its manual, appendix A).
    if (typeof code === 'string' && /^22[0-9A-Z]{3}$/.test(code))
      return [400, 'A value in the request cannot be what it stands for.'];
    // The file system's own words name places on this machine.
    if (typeof code === 'string' && /^E[A-Z]+$/.test(code) && status === 404) return [404, 'There is no such file.'];
    if (typeof status === 'number' && status >= 400 && status < 500) return [status, error.message];
    return [500, 'Something failed on the server; its log says what.'];
  }
  return [500, 'Something failed on the server; its log says what.'];
}
