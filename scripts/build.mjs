// Builds what runs: the kernels, the Node programs as bundles in dist/, the web application in packages/web/dist.
// Packages from node_modules stay outside the bundles, but for the small ones that everything loads. Nothing is built twice: a stamp over the sources decides.
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, readdirSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { buildKernels } from './build-kernels.mjs';
import { root } from './paths.mjs';

const programs = {
  server: 'packages/server/src/main.ts',
  'server-worker': 'packages/server/src/compute/worker.ts',
  june: 'packages/cli/src/main.ts',
  tern: 'packages/demo/src/main.ts',
  'tern-worker': 'packages/demo/src/tern/worker.ts',
};

/** A hash over every source file of some folders. */
function stampOf(folders) {
  const hash = createHash('sha256');
  const walk = (folder) => {
    for (const entry of readdirSync(folder, { withFileTypes: true }).sort((a, b) => (a.name < b.name ? -1 : 1))) {
      const path = join(folder, entry.name);
      if (entry.isDirectory()) {
        if (!['node_modules', 'dist', 'test'].includes(entry.name)) walk(path);
      } else if (!entry.name.includes('.generated.')) hash.update(path.slice(root.length)).update(readFileSync(path));
    }
  };
  folders.forEach((f) => walk(join(root, f)));
  hash.update(readFileSync(join(root, 'package-lock.json'))).update(readFileSync(join(root, 'scripts/build.mjs')));
  return hash.digest('hex');
}

function upToDate(file, stamp) {
  return existsSync(file) && readFileSync(file, 'utf8') === stamp;
}

// Pure JavaScript of many small files: finding and reading them took a third of a start of june. Of lru-cache a build tool brings another
// version, which is what would be found from dist/.
const inside = ['@june-haze/', 'zod', 'saxes', 'xmlchars', 'yaml', 'fflate', 'lru-cache'];

/** What comes from node_modules is not bundled; our own packages are, and those of `inside`. */
export const packagesStayOutside = {
  name: 'packages-stay-outside',
  setup(b) {
    b.onResolve({ filter: /^[^./]/ }, ({ path, kind, importer }) =>
      kind === 'entry-point' || inside.some((p) => path.startsWith(p)) || importer.includes('/node_modules/')
        ? undefined
        : { path, external: true },
    );
  },
};

async function buildPrograms() {
  const stamp = stampOf([
    'packages/core',
    'packages/contract',
    'packages/files',
    'packages/server',
    'packages/cli',
    'packages/demo',
  ]);
  const mark = join(root, 'dist/.stamp');
  if (upToDate(mark, stamp)) return false;
  const { build } = await import('esbuild');
  const entryPoints = Object.fromEntries(Object.entries(programs).map(([name, path]) => [name, join(root, path)]));
  const { metafile } = await build({
    metafile: true,
    entryPoints,
    outdir: join(root, 'dist'),
    outExtension: { '.js': '.mjs' },
    bundle: true,
    splitting: true,
    platform: 'node',
    target: 'node20',
    format: 'esm',
    logLevel: 'error',
    // The build of modules, which the page has too; Node's own is of the older kind.
    alias: { yaml: join(root, 'node_modules/yaml/browser/index.js') },
    plugins: [packagesStayOutside],
  });
  removeOld(new Set(Object.keys(metafile.outputs).map((o) => resolve(o))));
  writeFileSync(mark, stamp);
  return true;
}

/** Chunks of earlier builds; those of a day stay, as a server that runs may still load them. */
function removeOld(kept) {
  const day = Date.now() - 24 * 3600e3;
  for (const name of readdirSync(join(root, 'dist'))) {
    const path = join(root, 'dist', name);
    if (name.endsWith('.mjs') && !kept.has(path) && statSync(path).mtimeMs < day) rmSync(path);
  }
}

async function buildWeb() {
  const stamp = stampOf(['packages/core', 'packages/contract', 'packages/web']);
  const folder = join(root, 'packages/web/dist');
  if (upToDate(join(folder, '.stamp'), stamp)) return false;
  const { build } = await import('vite');
  await build({ root: join(root, 'packages/web'), logLevel: 'error' });
  mkdirSync(folder, { recursive: true });
  writeFileSync(join(folder, '.stamp'), stamp);
  return true;
}

/** Builds everything that is out of date; returns the names of what was built. */
export async function buildAll() {
  const built = [];
  if (await buildKernels()) built.push('kernels');
  if (await buildPrograms()) built.push('programs');
  if (await buildWeb()) built.push('web');
  return built;
}

if (process.argv[1]?.endsWith('scripts/build.mjs')) {
  const built = await buildAll();
  console.log(built.length ? `built ${built.join(', ')}` : 'nothing to build');
}
