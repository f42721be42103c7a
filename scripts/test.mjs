// npm test: sets up what it needs (its own database, port and media under var/test), runs every check, and ends with one line.
import { spawnSync, fork } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { root } from './paths.mjs';
import { startPostgres } from './postgres.mjs';
import { step } from './steps.mjs';
import { installDebian, installPackages } from './system.mjs';

const folder = join(root, 'var/test');
// `npm test jest` runs one check, `npm test playwright road` one file of it.
const [only, files] = [process.argv.slice(2, 3), process.argv.slice(3)];
let [passed, failed] = [0, 0];

await step('system packages', () =>
  installDebian({
    postgresql: '/usr/lib/postgresql',
    chromium: '/usr/bin/chromium',
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
function check(name, command, args, env = {}) {
  if (only.length && !only.includes(name)) return;
  console.log(`\n— ${name}`);
  const started = performance.now();
  const { status } = spawnSync(command, args, { cwd: root, stdio: 'inherit', env: { ...process.env, ...env } });
  console.log(`  ${status === 0 ? 'passed' : 'failed'} (${((performance.now() - started) / 1000).toFixed(1)} s)`);
  return status === 0;
}
/** A check that counts as one. */
function single(name, command, args) {
  const ok = check(name, command, args);
  if (ok === true) passed++;
  if (ok === false) failed++;
}
/** A runner that reports its own counts as JSON. */
function counted(name, command, args, env, read) {
  const ok = check(name, command, args, env);
  if (ok === undefined) return;
  try {
    const [good, bad] = read();
    passed += good;
    failed += bad;
    if (!ok && bad === 0) failed++;
  } catch {
    failed++;
  }
}

rmSync(folder, { recursive: true, force: true });
mkdirSync(folder, { recursive: true });
for (const [name, project] of [
  ['types of core', 'packages/core'],
  ['types', '.'],
  ['types of web', 'packages/web'],
])
  single(name, bin('tsc'), ['-p', project]);
single('lint', bin('eslint'), ['--max-warnings', '0', '.']);
single('format', bin('prettier'), ['--check', '--log-level', 'warn', '.']);
single('arrows', bin('depcruise'), ['--config', '.dependency-cruiser.cjs', 'packages', 'e2e', 'bench']);

const needsDatabase = !only.length || only.includes('jest') || only.includes('playwright');
const database = needsDatabase ? await startPostgres(join(folder, 'postgres')) : undefined;
const jestReport = join(folder, 'jest.json');
counted(
  'jest',
  process.execPath,
  [
    '--experimental-vm-modules',
    '--disable-warning=ExperimentalWarning',
    'node_modules/jest/bin/jest.js',
    '--json',
    `--outputFile=${jestReport}`,
    ...files,
  ],
  { JUNE_TEST_CLUSTER: database?.url ?? '', NODE_ENV: 'test' },
  () => {
    const { numPassedTests, numFailedTests, numRuntimeErrorTestSuites } = JSON.parse(readFileSync(jestReport, 'utf8'));
    return [numPassedTests, numFailedTests + numRuntimeErrorTestSuites];
  },
);

if (!only.length || only.includes('playwright')) {
  const env = {
    JUNE_DATABASE: database.url,
    JUNE_MEDIA: join(folder, 'media'),
    JUNE_OUTPUT: join(folder, 'output'),
    JUNE_DATA: join(folder, 'data'),
    JUNE_DEMO_FRAMES: '4',
    JUNE_DEMO_WIDTH: '320',
    JUNE_DEMO_HEIGHT: '180',
  };
  const server = fork(join(root, 'dist/server.mjs'), {
    env: { ...process.env, ...env, JUNE_PORT: '0' },
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
  });
  try {
    const { ready } = await new Promise((resolve, reject) => {
      server.once('message', resolve);
      server.once('exit', () => reject(new Error('the server of the tests did not start')));
    });
    const report = join(folder, 'playwright.json');
    counted(
      'playwright',
      bin('playwright'),
      ['test', ...files],
      { ...env, JUNE_URL: `http://127.0.0.1:${ready}`, PLAYWRIGHT_JSON_OUTPUT_NAME: report },
      () => {
        const { stats } = JSON.parse(readFileSync(report, 'utf8'));
        return [stats.expected + stats.flaky, stats.unexpected];
      },
    );
  } catch (error) {
    console.error(error.message);
    failed++;
  } finally {
    if (server.exitCode === null) {
      const gone = new Promise((done) => server.once('exit', done));
      server.kill('SIGTERM');
      await gone;
    }
  }
}
database?.stop();

if (existsSync(join(folder, 'postgres')) && !process.env.JUNE_KEEP)
  rmSync(join(folder, 'postgres'), { recursive: true, force: true });
console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed ? 1 : 0);
