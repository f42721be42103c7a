// npm test: sets up what it needs (its own database, port and media under var/test), runs every check, and ends with one line.
import { fork, spawn } from 'node:child_process';
import { cpSync, existsSync, mkdirSync, readFileSync, readdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { failedInJest, failedInPlaywright } from './failures.mjs';
import { root } from './paths.mjs';
import { startPostgres } from './postgres.mjs';
import { step } from './steps.mjs';
import { installDebian, installPackages } from './system.mjs';

const folder = join(root, 'var/test');
// `npm test jest` runs one check, `npm test playwright road` one file of it.
const [only, files] = [process.argv.slice(2, 3), process.argv.slice(3)];
let [passed, failed] = [0, 0];
/** Everything that failed, said once more at the end. */
const failures = [];

await step('system packages', () =>
  installDebian({
    postgresql: '/usr/lib/postgresql',
    'chromium-headless-shell': '/usr/bin/chromium-headless-shell',
    ffmpeg: '/usr/bin/ffmpeg',
    openexr: '/usr/bin/exrheader',
    'libopenexr-dev': '/usr/include/OpenEXR/ImfInputPart.h',
    'g++': '/usr/bin/g++',
    'pkg-config': '/usr/bin/pkg-config',
    'openimageio-tools': '/usr/bin/oiiotool',
    'python3-openimageio': '/usr/share/doc/python3-openimageio',
    'python3-pyopencolorio': '/usr/share/doc/python3-pyopencolorio',
    'python3-numpy': '/usr/share/doc/python3-numpy',
  }),
);
await step('packages', installPackages);
await step('build', async () => {
  const { buildAll } = await import('./build.mjs');
  return (await buildAll()).join(', ') || 'up to date';
});

const bin = (name) => join(root, 'node_modules/.bin', name);
const wanted = (name) => !only.length || only.some((o) => name.startsWith(o));

/** Runs a check; what it says is shown when it is done, so that checks can run beside each other. Undefined when it is not asked for. */
function check(name, command, args, env = {}) {
  if (!wanted(name)) return Promise.resolve(undefined);
  const started = performance.now();
  // One check alone is seen while it runs.
  const stdio = only.length ? 'inherit' : ['ignore', 'pipe', 'pipe'];
  const child = spawn(command, args, { cwd: root, stdio, env: { ...process.env, ...env } });
  let said = '';
  for (const stream of [child.stdout, child.stderr]) stream?.on('data', (text) => (said += text));
  return new Promise((resolve) => {
    child.once('error', (error) => (said += error.message));
    child.once('close', (status) => {
      const time = ((performance.now() - started) / 1000).toFixed(1);
      console.log(`\n— ${name}\n${said.trimEnd()}\n  ${status === 0 ? 'passed' : 'failed'} (${time} s)`);
      resolve(status === 0);
    });
  });
}
/** A check that counts as one. */
async function single(name, command, args) {
  const ok = await check(name, command, args);
  if (ok === true) passed++;
  if (ok === false) {
    failed++;
    failures.push({ name, why: 'see above' });
  }
}
/** A runner that reports its own counts and failures as JSON. */
async function counted(name, command, args, env, read) {
  const ok = await check(name, command, args, env);
  if (ok === undefined) return;
  try {
    const [good, bad, told] = read();
    passed += good;
    failed += bad;
    failures.push(...told);
    if (ok || bad > 0) return;
  } catch {
    // No report: the runner itself failed.
  }
  failed++;
  failures.push({ name, why: 'the runner failed; see above' });
}

rmSync(folder, { recursive: true, force: true });
mkdirSync(folder, { recursive: true });

// By its path: under .bin the name is that of the compiler that lint needs, which is ten times slower.
const fastTypes = join(root, 'node_modules/typescript7/bin/tsc');

/** What reads the sources only, one after the other beside the unit tests. */
async function staticChecks() {
  for (const [name, project] of [
    ['types of core', 'packages/core'],
    ['types', '.'],
    ['types of web', 'packages/web'],
    ['types of web tests', 'packages/web/tsconfig.test.json'],
  ])
    await single(name, fastTypes, ['-p', project]);
  await single('lint', bin('eslint'), ['--max-warnings', '0', '.']);
  await single('format', bin('prettier'), ['--check', '--log-level', 'warn', '.']);
  await single('arrows', bin('depcruise'), ['--config', '.dependency-cruiser.cjs', 'packages', 'e2e', 'bench']);
}

const needsDatabase = wanted('jest') || wanted('playwright');
const database = needsDatabase ? await startPostgres(join(folder, 'postgres'), { throwaway: true }) : undefined;

async function unitTests() {
  const report = join(folder, 'jest.json');
  const node = ['--experimental-vm-modules', '--disable-warning=ExperimentalWarning', 'node_modules/jest/bin/jest.js'];
  const both = ['--maxWorkers=2', '--json', `--outputFile=${report}`, ...files];
  await counted(
    'jest',
    process.execPath,
    [...node, ...both],
    { JUNE_TEST_CLUSTER: database?.url ?? '', NODE_ENV: 'test' },
    () => {
      const said = JSON.parse(readFileSync(report, 'utf8'));
      return [said.numPassedTests, said.numFailedTests + said.numRuntimeErrorTestSuites, failedInJest(said)];
    },
  );
}

/** A database of its own in the tests' cluster. */
async function makeDatabase(name) {
  const { default: pg } = await import('pg');
  const client = new pg.Client({ connectionString: database.url });
  await client.connect();
  await client.query(`create database ${name}`);
  await client.end();
  const url = new URL(database.url);
  url.pathname = `/${name}`;
  return url.href;
}

/** A server for interface tests, with a database and folders of its own. Demo frames that an earlier one traced are not traced again. */
async function startServer(lane) {
  const place = join(folder, `lane${lane}`);
  const env = {
    JUNE_DATABASE: await makeDatabase(`lane${lane}`),
    JUNE_MEDIA: join(place, 'media'),
    JUNE_OUTPUT: join(place, 'output'),
    JUNE_DATA: join(place, 'data'),
    JUNE_DEMO_FRAMES: '4',
    JUNE_DEMO_WIDTH: '320',
    JUNE_DEMO_HEIGHT: '180',
  };
  const earlier = join(folder, `lane${lane === 1 ? 2 : 1}/media`);
  for (const shot of ['landing', 'kettle', 'lastboat'])
    if (existsSync(join(earlier, shot))) cpSync(join(earlier, shot), join(env.JUNE_MEDIA, shot), { recursive: true });
  const server = fork(join(root, 'dist/server.mjs'), {
    env: { ...process.env, ...env, JUNE_PORT: '0' },
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
  });
  const { ready } = await new Promise((resolve, reject) => {
    server.once('message', resolve);
    server.once('exit', () => reject(new Error('the server of the tests did not start')));
  });
  return { server, env: { ...env, JUNE_URL: `http://127.0.0.1:${ready}` }, place };
}

// The interface tests in parts of about a minute, the longest first, each taken by the next lane that is free. A file that is not named here
// is a part of its own; files asked for on the command line are one.
const together = [
  ['road'],
  ['seeing'],
  ['begin', 'scenario'],
  ['intake'],
  ['library'],
  ['everyExr'],
  ['build', 'job'],
  ['match', 'answering'],
  ['baked', 'badInput'],
  ['runs', 'reference'],
  ['deliver'],
  ['alpha', 'sameBits'],
];
const specs = readdirSync(join(root, 'e2e')).filter((name) => name.endsWith('.spec.ts'));
const specOf = (name) => `${name}.spec.ts`;
const parts = only.length
  ? [files]
  : [
      ...specs.filter((s) => !together.flat().map(specOf).includes(s)).map((s) => [`e2e/${s}`]),
      ...together.map((names) => names.map((name) => `e2e/${specOf(name)}`)),
    ];
let part = 0;

/** Takes parts of the interface tests until none is left. */
async function interfaceTests(lane) {
  if (!wanted('playwright') || part >= parts.length) return;
  try {
    const { server, env, place } = await startServer(lane);
    try {
      while (part < parts.length) await interfacePart(++part, env, place);
    } finally {
      if (server.exitCode === null) {
        const gone = new Promise((done) => server.once('exit', done));
        server.kill('SIGTERM');
        await gone;
      }
    }
  } catch (error) {
    failed++;
    failures.push({ name: `lane ${lane}`, why: error.message });
  }
}

async function interfacePart(number, env, place) {
  const report = join(place, `playwright${number}.json`);
  await counted(
    parts.length === 1 ? 'playwright' : `playwright ${number} of ${parts.length}`,
    bin('playwright'),
    ['test', ...parts[number - 1], '--output', join(place, `pictures${number}`)],
    { ...env, PLAYWRIGHT_JSON_OUTPUT_NAME: report },
    () => {
      const said = JSON.parse(readFileSync(report, 'utf8'));
      return [said.stats.expected + said.stats.flaky, said.stats.unexpected, failedInPlaywright(said)];
    },
  );
}

// Two lanes: unit tests, which wait a good deal, beside checks of the sources; then both take interface tests.
await Promise.all([staticChecks().then(() => interfaceTests(1)), unitTests().then(() => interfaceTests(2))]);
database?.stop();
// Alone: what runs beside it would be measured too.
await single('held speeds', process.execPath, ['scripts/held.mjs']);

if (existsSync(join(folder, 'postgres')) && !process.env.JUNE_KEEP)
  rmSync(join(folder, 'postgres'), { recursive: true, force: true });
for (const { name, why } of failures) console.log(`\nFAILED ${name}\n${why}`);
console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed ? 1 : 0);
