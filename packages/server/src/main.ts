import { existsSync } from 'node:fs';
import { rm } from 'node:fs/promises';
import { createServer } from 'node:http';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { AccessKey, isLoopback } from './access/key.ts';
import { createApp } from './app.ts';
import { PartCache } from './compute/partCache.ts';
import { DatabasePresence } from './database/presence.ts';
import { DemoMaker } from './demo/demoMaker.ts';
import { Events } from './events.ts';
import { FileWatch } from './intake/fileWatch.ts';
import { demoPlace, openEngine, settingsFromEnvironment } from './open.ts';

const env = process.env;
const settings = settingsFromEnvironment(env);
// Whatever nobody caught is said before the process ends, so that it never ends in silence.
process.on('uncaughtException', (error) => {
  console.error('June Haze ends because of a fault that nothing handled:', error);
  process.exit(1);
});
process.on('unhandledRejection', (reason) => console.error('a fault that nothing handled, passed over:', reason));

const events = new Events();
const engine = await openEngine(settings, (event) => events.hear(event));
const bundles = dirname(fileURLToPath(import.meta.url));
const { connection, pool, media, runs, checks, places, notices } = engine;
events.relayTo((event) => notices.tell(event));
const everything = () => events.hear({ kind: 'database', there: true });
void notices.listen((event) => events.hear(event), everything);
const watch = new FileWatch({ db: connection.db, pool, media, checks, outputFolder: places.outputFolder }, (shotId) =>
  events.send({ kind: 'shot', shotId }),
);
watch.start();
const presence = new DatabasePresence(connection.pool, (there) => {
  events.hear({ kind: 'database', there });
  if (there) void checks.resume().catch((error: unknown) => console.error('checks:', error));
});
presence.start();
const demo = new DemoMaker(connection.db, pool, media, events, checks, {
  program: join(bundles, 'tern.mjs'),
  mediaFolder: settings.mediaFolders[0]!,
  place: demoPlace(settings),
  libraryFolder: places.libraryFolder,
  frames: Number(env.JUNE_DEMO_FRAMES ?? 24),
  width: Number(env.JUNE_DEMO_WIDTH ?? 960),
  height: Number(env.JUNE_DEMO_HEIGHT ?? 540),
});
const host = env.JUNE_HOST ?? '127.0.0.1';
const access = isLoopback(host) ? undefined : new AccessKey(join(settings.dataFolder, 'access.json'));
if (access?.fresh !== undefined)
  console.log(
    `Access key, printed this once: ${access.fresh}\n(Only its hash is kept; remove access.json for another.)`,
  );
const parts = new PartCache(pool, 1 << 30);
const app = createApp(
  { db: connection.db, pool, parts, media, events, runs, checks, places, demo, watch },
  join(bundles, '../packages/web/dist'),
  access,
);
const server = createServer(app);
// A browser, a proxy and a script hold an idle connection for a minute or so: who closes first must be they, or a request meets a closing one.
server.keepAliveTimeout = 120_000;
server.headersTimeout = 125_000;

server.on('error', (error: NodeJS.ErrnoException) => {
  console.error(
    error.code === 'EADDRINUSE'
      ? `Port ${env.JUNE_PORT} is taken; start with another: JUNE_PORT=8090 npm start`
      : error.message,
  );
  process.exit(1);
});
server.listen(Number(env.JUNE_PORT ?? 8080), host, () => {
  const address = server.address();
  process.send?.({ ready: typeof address === 'object' ? address?.port : undefined });
});

await checks.resume();

const resetMark = join(settings.dataFolder, 'demo-reset');
const reset = existsSync(resetMark);
if (env.JUNE_DEMO !== 'off') await demo.start(reset);
if (reset) await rm(resetMark, { force: true });

let stopping = false;
async function stop(): Promise<void> {
  if (stopping) return;
  stopping = true;
  events.close();
  server.close();
  server.closeAllConnections();
  presence.stop();
  await watch.stop();
  await demo.stop();
  await engine.close();
  process.exit(0);
}
process.on('SIGTERM', () => void stop());
process.on('SIGINT', () => void stop());
process.on('disconnect', () => void stop());
