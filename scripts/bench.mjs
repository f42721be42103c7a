// npm run bench: each benchmark against its reference library, as a ratio in one run.
import { spawnSync } from 'node:child_process';
import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { build } from 'esbuild';
import { buildAll, packagesStayOutside } from './build.mjs';
import { root } from './paths.mjs';

/** Builds a benchmark; returns where it lies. */
export async function buildBench(file) {
  const outfile = join(root, 'dist/bench', file.replace(/\.ts$/, '.mjs'));
  await build({
    entryPoints: [join(root, 'bench', file)],
    outfile,
    bundle: true,
    // The one for browsers: the other asks for Node's own modules in a way that a bundle of modules cannot.
    alias: { yaml: join(root, 'node_modules/yaml/browser/index.js') },
    plugins: [packagesStayOutside],
    platform: 'node',
    format: 'esm',
    logLevel: 'error',
  });
  return outfile;
}

if (process.argv[1]?.endsWith('scripts/bench.mjs')) {
  await buildAll();
  const only = process.argv.slice(2);
  for (const file of readdirSync(join(root, 'bench')).filter(
    (f) => f.endsWith('.ts') && (!only.length || only.includes(f.slice(0, -3))),
  )) {
    const { status } = spawnSync(process.execPath, [await buildBench(file)], { cwd: root, stdio: 'inherit' });
    if (status !== 0) process.exitCode = 1;
  }
}
