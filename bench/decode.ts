// Reading 24 half channels of 1920x1080 and three of them: `june bench decode` against the OpenEXR library (Debian's build of it,
// through bench/decode.cpp), same file, same number of threads, in one run; the second layer of a frame from the cache; and four
// channels against a JavaScript loader of the npm registry. Prints the table that stands in docs/exr.md.
import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { EXRLoader } from 'three/examples/jsm/loaders/EXRLoader.js';
import { HalfFloatType } from 'three';
import { exrFile } from '@june-haze/server';
import { ComputePool, PartCache } from '@june-haze/server/compute';

const codecs = ['none', 'rle', 'zips', 'zip', 'piz', 'pxr24', 'b44', 'b44a', 'dwaa', 'dwab'];
const onlyRatios = process.argv[2] === 'ratios';
const runs = onlyRatios ? '3' : '5';
// Two goes each, one after the other in turn: the machine is shared, and the least of both counts.
const goes = 2;
const folder = mkdtempSync(join(tmpdir(), 'june-bench-'));
const tool = join(folder, 'decode');
const flags = execFileSync('pkg-config', ['--cflags', '--libs', 'OpenEXR'], { encoding: 'utf8' }).trim().split(/\s+/);
execFileSync('g++', ['-O2', '-o', tool, join(process.cwd(), 'bench/decode.cpp'), ...flags]);
for (const kind of onlyRatios ? ['all'] : ['all', 'rgba']) {
  mkdirSync(join(folder, kind));
  execFileSync(tool, ['make', join(folder, kind), kind]);
}
const least = (values: readonly number[]) => Math.min(...values);
const reference = (file: string, threads: number, channels: readonly string[] = []) =>
  least(
    execFileSync(tool, ['read', String(threads), runs, file, ...channels], { encoding: 'utf8' })
      .trim()
      .split(' ')
      .map(Number),
  );
const ours = (file: string, threads: number, channels: readonly string[] = []) => {
  const wanted = channels.length ? ['--channels', channels.join()] : [];
  const answer = execFileSync(
    join(process.cwd(), 'june'),
    ['bench', 'decode', file, '--threads', String(threads), '--runs', runs, '--json', ...wanted],
    { encoding: 'utf8' },
  );
  return least((JSON.parse(answer) as { runs: number[] }).runs);
};

function loader(file: string): string {
  const bytes = readFileSync(file);
  const buffer = bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length);
  const times: number[] = [];
  try {
    for (let i = 0; i < 4; i++) {
      const started = performance.now();
      new EXRLoader().setDataType(HalfFloatType).parse(buffer);
      if (i > 0) times.push(performance.now() - started);
    }
  } catch {
    return 'cannot read it';
  }
  const mine = ours(file, 1);
  return `${least(times).toFixed(0)} / ${mine.toFixed(0)} = ${(least(times) / mine).toFixed(1)}×`;
}

const some = ['pass4.R', 'pass4.G', 'pass4.B'];
function cell(file: string, threads: number, channels: readonly string[] = []): string {
  const [mine, theirs]: [number[], number[]] = [[], []];
  for (let go = 0; go < goes; go++) {
    mine.push(ours(file, threads, channels));
    theirs.push(reference(file, threads, channels));
  }
  return `${least(mine).toFixed(0)} / ${least(theirs).toFixed(0)} = **${(least(mine) / least(theirs)).toFixed(2)}**`;
}
/** One row a codec, for scripts/held.mjs. */
function printRatios(): void {
  for (const codec of codecs) {
    const file = join(folder, 'all', `${codec}.exr`);
    console.log(JSON.stringify({ bench: `decode ${codec}`, ratio: ours(file, 1) / reference(file, 1) }));
  }
}

async function printTable(): Promise<void> {
  const pool = new ComputePool(join(process.cwd(), 'dist/server-worker.mjs'), 2);
  console.log(
    '| codec | 24 channels, 1 thread | 24 channels, 2 threads | 3 of 24, 1 thread | second layer | JavaScript loader, RGBA |',
  );
  console.log('| --- | --- | --- | --- | --- | --- |');
  for (const codec of codecs) {
    const file = join(folder, 'all', `${codec}.exr`);
    const cache = new PartCache(pool, 1 << 30);
    await cache.get(exrFile(file, codec), 0);
    const started = performance.now();
    const again = await cache.get(exrFile(file, codec), 0);
    await cache.planes(again, some, 0, false);
    const second = performance.now() - started;
    console.log(
      `| ${codec} | ${cell(file, 1)} | ${cell(file, 2)} | ${cell(file, 1, some)} | ${second.toFixed(1)} ms | ${loader(join(folder, 'rgba', `${codec}.exr`))} |`,
    );
  }
  await pool.close();
}

if (onlyRatios) printRatios();
else await printTable();
rmSync(folder, { recursive: true, force: true });
