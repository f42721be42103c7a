// Compiles packages/core/kernels and packages/core/codecs to WebAssembly and puts each, as base64 text, beside the loader.
// Skipped when the sources have not changed.
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { root } from './paths.mjs';

const core = join(root, 'packages/core');
const modules = [
  { sources: join(core, 'kernels'), target: join(core, 'src/kernel/module.generated.ts'), name: 'kernelModuleBase64' },
  {
    sources: join(core, 'codecs'),
    target: join(core, 'src/kernel/codecModule.generated.ts'),
    name: 'codecModuleBase64',
  },
];

export async function buildKernels() {
  let built = false;
  for (const module of modules) built = (await buildModule(module)) || built;
  return built;
}

async function buildModule({ sources, target, name }) {
  const files = readdirSync(sources)
    .filter((f) => f.endsWith('.ts'))
    .sort();
  const hash = createHash('sha256');
  for (const f of files) hash.update(f).update(readFileSync(join(sources, f)));
  const mark = `// built from ${sources.split('/').at(-1)}/ ${hash.digest('hex')}`;
  if (existsSync(target) && readFileSync(target, 'utf8').startsWith(mark)) return false;
  const asc = (await import('assemblyscript/asc')).default;
  const options = ['index.ts', '--outFile', 'out.wasm', '-O3', '--noAssert', '--runtime', 'stub', '--enable', 'simd'];
  let binary;
  const { error, stderr } = await asc.main(options, {
    readFile: (file, base) => {
      const path = join(base === '.' || !base ? sources : base, file);
      return existsSync(path) ? readFileSync(path, 'utf8') : null;
    },
    writeFile: (file, contents) => {
      if (file.endsWith('.wasm')) binary = contents;
    },
    listFiles: () => [],
  });
  if (error || !binary) throw new Error(`The kernels did not compile: ${error?.message ?? ''}\n${stderr}`);
  writeFileSync(target, `${mark}\nexport const ${name} = '${Buffer.from(binary).toString('base64')}';\n`);
  return true;
}

if (process.argv[1] === import.meta.filename || process.argv[1]?.endsWith('build-kernels.mjs')) await buildKernels();
