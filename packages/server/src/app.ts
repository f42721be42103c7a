import express, { type ErrorRequestHandler, type Express } from 'express';
import helmet from 'helmet';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { ZodError } from 'zod';
import type { Context } from './context.ts';
import { isOutage } from './database/outage.ts';
import { RequestError } from './errors.ts';
import { libraryRoutes } from './routes/libraryRoutes.ts';
import { outputRoutes } from './routes/outputRoutes.ts';
import { pixelRoutes } from './routes/pixelRoutes.ts';
import { shotRoutes } from './routes/shotRoutes.ts';
import { uploadRoutes } from './routes/uploadRoutes.ts';
import { sourceRoutes } from './routes/sourceRoutes.ts';

/** The HTTP application: the API under /api, the built interface elsewhere. Only this machine's own pages are served. */
export function createApp(context: Context, webFolder: string): Express {
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
  // Loopback only: another site's page must not reach in through the browser (DNS rebinding, cross-site requests).
  app.use((request, _response, next) => {
    const local = (host: string) => /^(localhost|127\.0\.0\.1|\[::1\])(:\d+)?$/.test(host);
    const origin = request.headers.origin;
    if (!local(request.headers.host ?? '')) throw new RequestError(403, 'This address is not served.');
    if (origin && !local(origin.replace(/^https?:\/\//, '')))
      throw new RequestError(403, 'Requests from other sites are not served.');
    next();
  });
  app.use('/api', express.json({ limit: '16mb' }));
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
    app.use(express.static(webFolder, { index: false, maxAge: '1y', immutable: true }));
    app.get('/{*path}', (_request, response) =>
      response.sendFile(join(webFolder, 'index.html'), { headers: { 'cache-control': 'no-cache' } }),
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
    const status = (error as { status?: unknown }).status;
    if (typeof status === 'number' && status >= 400 && status < 500) return [status, error.message];
    return [500, 'Something failed on the server; its log says what.'];
  }
  return [500, 'Something failed on the server; its log says what.'];
}
