// Writing 24 half channels of 1920x1080 with every codec, planes in memory to a file on disk, against the OpenEXR library (Debian's build of it,
// through bench/encode.cpp): same planes, same codec, same number of threads, in one run. Prints the table that stands in docs/exr.md.
import { execFileSync } from 'node:child_process';
import { open } from 'node:fs/promises';
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { compressions, openExr, readChannels, writeExr, type BandToPack, type Plane } from '@june-haze/core';
import { openSource, zlibCodec } from '@june-haze/files';
import { ComputePool } from '@june-haze/server/compute';

const runs = 3;
const folder = mkdtempSync(join(tmpdir(), 'june-bench-'));
const flags = execFileSync('pkg-config', ['--cflags', '--libs', 'OpenEXR'], { encoding: 'utf8' }).trim().split(/\s+/);
const build = (name: string) => {
  const tool = join(folder, name);
  execFileSync('g++', ['-O2', '-o', tool, join(process.cwd(), `bench/${name}.cpp`), ...flags]);
  return tool;
};
const encode = build('encode');
const made = join(folder, 'made');
mkdirSync(made);
execFileSync(build('decode'), ['make', made, 'all']);
const from = join(made, 'none.exr');
const to = join(folder, 'out.exr');

const source = await openSource(from);
const file = await openExr(source);
const { dataWindow, displayWindow, channels } = file.parts[0]!;
const read = await readChannels(
  file,
  0,
  channels.map((c) => c.name),
  zlibCodec,
);
// In memory that threads share: what goes to another thread is not copied.
const planes = read.planes.map((plane) => {
  const shared = new (plane.constructor as Uint16ArrayConstructor)(new SharedArrayBuffer(plane.byteLength));
  shared.set(plane as Uint16Array);
  return shared as unknown as Plane;
});
const width = dataWindow.xMax - dataWindow.xMin + 1;
const rows = (_: number, top: number, bottom: number) =>
  planes.map((p) => p.subarray(top * width, (bottom + 1) * width) as Plane);

const pool = new ComputePool(join(process.cwd(), 'dist/server-worker.mjs'), 2);
const least = (values: readonly number[]) => Math.min(...values);
async function ours(compression: (typeof compressions)[number], threads: number): Promise<number> {
  const times: number[] = [];
  const options =
    threads > 1
      ? {
          pack: (band: BandToPack) => pool.run('packElsewhere', band),
          ahead: 2 * threads,
        }
      : {};
  for (let i = 0; i <= runs; i++) {
    const started = performance.now();
    const part = { compression, dataWindow, displayWindow, channels };
    // As the library does it: into the file, without waiting for the disk.
    const handle = await open(to, 'w');
    const sink = {
      write: async (at: number, bytes: Uint8Array) => void (await handle.write(bytes, 0, bytes.length, at)),
    };
    await writeExr(sink, [part], rows, zlibCodec, options);
    await handle.close();
    if (i > 0) times.push(performance.now() - started);
  }
  return least(times);
}
const theirs = (codec: number, threads: number) =>
  least(
    execFileSync(encode, [String(threads), String(runs), String(codec), from, to], { encoding: 'utf8' })
      .trim()
      .split(' ')
      .map(Number),
  );
const cell = (mine: number, reference: number) =>
  `${mine.toFixed(0)} / ${reference.toFixed(0)} = **${(mine / reference).toFixed(2)}**`;

console.log('| codec | written, 1 thread | written, 2 threads |');
console.log('| --- | --- | --- |');
const only = process.argv.slice(2);
for (const [i, codec] of compressions.entries())
  if (!only.length || only.includes(codec))
    console.log(
      `| ${codec} | ${cell(await ours(codec, 1), theirs(i, 1))} | ${cell(await ours(codec, 2), theirs(i, 2))} |`,
    );
await pool.close();
await source.close();
rmSync(folder, { recursive: true, force: true });
