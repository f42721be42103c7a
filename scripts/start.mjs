// npm start: installs what is missing, starts the database, builds, serves, prints the address.
// Plain Node, no packages: on a fresh clone there are none yet.
import { fork } from 'node:child_process';
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { join } from 'node:path';
import { root } from './paths.mjs';
import { startPostgres } from './postgres.mjs';
import { step } from './steps.mjs';
import { installDebian, installPackages } from './system.mjs';

const folder = process.env.JUNE_DATA ?? join(root, 'var');
const port = Number(process.env.JUNE_PORT ?? 8080);
const host = process.env.JUNE_HOST ?? '127.0.0.1';
const running = join(root, 'var/running.json');
let database;
let server;

console.log('June Haze');
await step('Node', () => {
  const [major] = process.versions.node.split('.').map(Number);
  if (major < 20) throw new Error(`June Haze needs Node 20 or newer; this is ${process.version}.`);
  return process.version;
});
await step(
  'port',
  () =>
    new Promise((resolve, reject) => {
      const probe = createServer();
      probe.once('error', () =>
        reject(new Error(`Port ${port} is taken; start with another: JUNE_PORT=${port + 10} npm start`)),
      );
      probe.listen(port, host, () => probe.close(() => resolve(String(port))));
    }),
);
await step('system packages', () => installDebian({ postgresql: '/usr/lib/postgresql', ffmpeg: '/usr/bin/ffmpeg' }));
await step('packages', installPackages);
await step('build', async () => {
  const { buildAll } = await import('./build.mjs');
  const built = await buildAll();
  return built.length ? built.join(', ') : 'up to date';
});
await step('database', async () => {
  mkdirSync(folder, { recursive: true });
  database = await startPostgres(join(folder, 'postgres'));
});

/** Starts the database again when it was killed; the server waits for it meanwhile. */
async function keepDatabase() {
  while (!stopping) {
    await new Promise((done) => setTimeout(done, 2000));
    if (stopping || database.alive()) continue;
    console.error('The database ended; it is started again.');
    // What the killed one left running holds on for a moment.
    await startPostgres(join(folder, 'postgres')).then(
      (again) => (database = again),
      (error) => console.error(error.message.split('\n')[0]),
    );
  }
}

let stopping = false;
function stop(code) {
  if (stopping) return;
  stopping = true;
  rmSync(running, { force: true });
  const end = () => {
    try {
      database?.stop();
    } finally {
      process.exit(code);
    }
  };
  if (!server || server.exitCode !== null) end();
  else {
    server.once('exit', end);
    server.kill('SIGTERM');
    setTimeout(() => server.kill('SIGKILL'), 10_000).unref();
  }
}
process.on('SIGINT', () => stop(0));
process.on('SIGTERM', () => stop(0));

await step(
  'server',
  () =>
    new Promise((resolve, reject) => {
      const settings = {
        JUNE_DATABASE: database.url,
        JUNE_MEDIA: process.env.JUNE_MEDIA
          ? `${join(folder, 'media')}:${process.env.JUNE_MEDIA}`
          : join(folder, 'media'),
        JUNE_OUTPUT: process.env.JUNE_OUTPUT ?? join(folder, 'output'),
        JUNE_DATA: folder,
      };
      server = fork(join(root, 'dist/server.mjs'), {
        env: { ...process.env, ...settings, JUNE_PORT: String(port) },
        stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
      });
      server.once('message', () => {
        mkdirSync(join(root, 'var'), { recursive: true });
        writeFileSync(running, JSON.stringify({ ...settings, JUNE_PORT: String(port) }), { mode: 0o600 });
        resolve();
      });
      server.once('exit', (code) => {
        reject(new Error('The server did not start; its message stands above.'));
        stop(code ?? 1);
      });
    }),
);
void keepDatabase();
console.log(`\nOpen http://${host.includes(':') ? `[${host}]` : host}:${port}/   (Ctrl-C stops everything)`);
