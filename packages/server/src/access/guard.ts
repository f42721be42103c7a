import express, { Router, type Request, type RequestHandler } from 'express';
import { rateLimit } from 'express-rate-limit';
import { RequestError } from '../errors.ts';
import type { AccessKey } from './key.ts';

const local = (host: string) => /^(localhost|127\.0\.0\.1|\[::1\])(:\d+)?$/.test(host);
const reads = new Set(['GET', 'HEAD', 'OPTIONS']);

/**
 * Who may ask: on a loopback address only under this machine's own names (DNS rebinding). What changes anything must come from this server's
 * own pages: a browser says where a request comes from in Origin or Sec-Fetch-Site, and programs that are no browsers say neither.
 */
export function sameOrigin(loopback: boolean): RequestHandler {
  return (request, _response, next) => {
    const { host = '', origin } = request.headers;
    if (loopback && !local(host)) throw new RequestError(403, 'This address is not served.');
    const from = request.headers['sec-fetch-site'];
    const own = origin === undefined || origin.replace(/^https?:\/\//, '') === host;
    if (!own || (!reads.has(request.method) && from !== undefined && from !== 'same-origin'))
      throw new RequestError(403, 'Requests from other sites are not served.');
    next();
  };
}

/** Types of bodies that are taken, by the path below /api; everything else takes JSON. */
const bodies: readonly (readonly [RegExp, RegExp])[] = [
  [/^\/files(\/|$)/, /^application\/offset\+octet-stream$/],
  [/^\/library$/, /^application\/(octet-stream|zip)$/],
];

/** Refuses bodies that a form of another site could send (WHATWG Fetch, CORS-safelisted request-header: Content-Type). */
export const knownBodies: RequestHandler = (request, _response, next) => {
  const empty = !request.headers['transfer-encoding'] && !Number(request.headers['content-length'] ?? 0);
  const [type = ''] = (request.headers['content-type'] ?? '').split(';');
  const wanted = bodies.find(([path]) => path.test(request.path))?.[1] ?? /^application\/json$/;
  if (!reads.has(request.method) && !empty && !wanted.test(type.trim().toLowerCase()))
    throw new RequestError(415, 'This kind of content is not taken here.');
  next();
};

const cookieName = 'june_key';
function keyOf(request: Request): string | undefined {
  const bearer = /^Bearer (\S+)$/.exec(request.headers.authorization ?? '')?.[1];
  const cookie = (request.headers.cookie ?? '').split(/;\s*/).find((c) => c.startsWith(`${cookieName}=`));
  return bearer ?? (cookie && decodeURIComponent(cookie.slice(cookieName.length + 1)));
}

/** Wrong keys that one address may try in a minute. */
const triesAMinute = 10;

/** Lets in who has the access key: in a cookie, which the page sets, or as `Authorization: Bearer KEY`. Wrong keys are slowed down. */
export function accessGuard(key: AccessKey): Router {
  const router = Router();
  const slow = rateLimit({
    windowMs: 60_000,
    limit: triesAMinute,
    standardHeaders: 'draft-8',
    legacyHeaders: false,
    skipSuccessfulRequests: true,
    // Asking for the key is no try of one.
    skip: (request) => keyOf(request) === undefined && request.path !== '/enter',
    handler: (_request, response) => {
      response.status(429).type('text').send('Too many wrong keys came from this address; wait a minute.\n');
    },
  });
  router.use((request, response, next) => {
    const given = keyOf(request);
    if (given !== undefined && key.fits(given)) next();
    else void slow(request, response, next);
  });
  router.post('/enter', express.urlencoded({ extended: false, limit: '4kb' }), (request, response) => {
    const given = String((request.body as { key?: unknown } | undefined)?.key ?? '').trim();
    if (!key.fits(given)) {
      response.status(401).type('html').send(page('This is not the key.'));
      return;
    }
    const secure = request.headers['x-forwarded-proto'] === 'https' ? '; Secure' : '';
    const year = 365 * 24 * 3600;
    response.setHeader(
      'set-cookie',
      `${cookieName}=${encodeURIComponent(given)}; HttpOnly; SameSite=Strict; Path=/; Max-Age=${year}${secure}`,
    );
    response.redirect(303, '/');
  });
  router.use((request, response, next) => {
    const given = keyOf(request);
    if (given !== undefined && key.fits(given)) next();
    else if (request.path.startsWith('/api')) throw new RequestError(401, 'This server asks for its access key.');
    else response.status(401).type('html').send(page());
  });
  return router;
}

/** Where a person types the key in: stands alone, since nothing else is served without it. */
const page = (fault = '') => `<!doctype html>
<html lang="en-GB">
  <title>June Haze</title>
  <meta name="viewport" content="width=device-width" />
  <body style="font: 15px/1.5 sans-serif; background: #dadada; color: #1c1c1c; display: grid; place-content: center; height: 90vh">
    <form method="post" action="/enter">
      <h1 style="font-size: 20px">June Haze</h1>
      <label for="key">Access key, as it was printed when the server was first started</label><br />
      <input id="key" name="key" type="password" autocomplete="current-password" required autofocus style="width: 28em" />
      <button>Enter</button>
      <p role="alert">${fault}</p>
    </form>
  </body>
</html>
`;
