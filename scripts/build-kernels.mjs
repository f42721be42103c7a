// Compiles packages/core/kernels to WebAssembly and puts it, as base64 text, beside the loader.
// Skipped when the sources have not changed.
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { root } from './paths.mjs';

const sources = join(root, 'packages/core/kernels');
const target = join(root, 'packages/core/src/kernel/module.generated.ts');

export async function buildKernels() {
  const files = readdirSync(sources)
    .filter((f) => f.endsWith('.ts'))
    .sort();
  const hash = createHash('sha256');
  for (const f of files) hash.update(f).update(readFileSync(join(sources, f)));
  const mark = `// built from kernels/ ${hash.digest('hex')}`;
  if (existsSync(target) && readFileSync(target, 'utf8').startsWith(mark)) return false;
  const asc = (await import('assemblyscript/asc')).default;
  const options = [
    'index.ts',
    '--outFile',
    'kernels.wasm',
    '-O3',
    '--noAssert',
    '--runtime',
    'stub',
    '--enable',
    'simd',
  ];
  let binary;
  const { error, stderr } = await asc.main(options, {
    readFile: (name, base) => {
      const path = join(base === '.' || !base ? sources : base, name);
      return existsSync(path) ? readFileSync(path, 'utf8') : null;
    },
    writeFile: (name, contents) => {
      if (name.endsWith('.wasm')) binary = contents;
    },
    listFiles: () => [],
  });
  if (error || !binary) throw new Error(`The kernels did not compile: ${error?.message ?? ''}\n${stderr}`);
  writeFileSync(target, `${mark}\nexport const kernelModuleBase64 = '${Buffer.from(binary).toString('base64')}';\n`);
  return true;
}

if (process.argv[1] === import.meta.filename || process.argv[1]?.endsWith('build-kernels.mjs')) await buildKernels();
