import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, test } from '@jest/globals';
import { build } from 'esbuild';
import { cubeSearch } from '../../src/transform/inverseCube.ts';
import { run, type Rgb } from '../colour/run.ts';

// Which place of several answers is held against the reference colour library in lutFiles.test.ts; here, that a place found gives the colour
// back when it goes forward through the cube, and how long the search takes.

/** An invented film look over a log of -10 … +6.5 stops: a washed-out top that is cut off at white. */
function film(size: number): Float32Array {
  const light = (v: number) => 2 ** (-10 + (v / (size - 1)) * 16.5);
  const code = (x: number) => Math.min(1, 1.1 * (x / (x + 0.6)) ** 0.55);
  const values: number[] = [];
  for (let b = 0; b < size; b++)
    for (let g = 0; g < size; g++)
      for (let r = 0; r < size; r++) {
        const rgb = [light(r), light(g), light(b)];
        const y = 0.2126 * rgb[0]! + 0.7152 * rgb[1]! + 0.0722 * rgb[2]!;
        const wash = y / (y + 3);
        values.push(...rgb.map((x) => code(x + (y - x) * wash)));
      }
  return Float32Array.from(values);
}

let state = 20261127;
const next = () => (state = (Math.imul(state, 1103515245) + 12345) & 0x7fffffff) / 0x7fffffff;
const size = 33;
const values = film(size);
const forward = (places: Rgb[]) => run([{ kind: 'cube', size, values, interpolation: 'tetrahedral' }], places);
const inverse = cubeSearch(size, values);
const undone = (colour: Rgb): Rgb => {
  const p: Rgb = [...colour];
  inverse(p);
  return p;
};

describe('the inverse of a cube', () => {
  test('gives places that come back as the colours', () => {
    const colours = forward(Array.from({ length: 3000 }, (): Rgb => [next(), next(), next()]));
    const back = forward(colours.map(undone));
    const errors = back.map((b, i) => Math.max(...b.map((x, c) => Math.abs(x - colours[i]![c]!))));
    // Where the cube is folded at its ends the first answer is the reference’s, and lies beside the colour.
    expect(errors.filter((e) => e > 2e-6).length).toBeLessThan(60);
    expect(Math.max(...errors)).toBeLessThan(1e-3);
    // A tenth of them lie where the cube is cut off.
    expect(colours.filter((c) => c.includes(1)).length).toBeGreaterThan(200);
  });

  test('gives the same place from memory', () => {
    const colours: Rgb[] = Array.from({ length: 50 }, () => [next(), next(), next()]);
    expect(colours.map(undone)).toEqual(colours.map(undone));
    expect(undone([2, 3, 1])).toEqual(undone([1, 1, 1]));
  });

  test('a colour that is none is black', () => {
    expect(undone([NaN, 0.5, 0.5])).toEqual([0, 0, 0]);
  });

  test('takes microseconds: for white, which a picture holds by the thousand, and for half of the colours of a film', async () => {
    const picture = forward(Array.from({ length: 1000 }, (): Rgb => [next() * 0.7, next() * 0.7, next() * 0.7]));
    // In a process of its own: Jest's modules run many times slower than the application's.
    const program = `
      import { readFileSync } from 'node:fs';
      import { cubeSearch } from './src/transform/inverseCube.ts';
      const { size, values, kinds } = JSON.parse(readFileSync(process.argv[2], 'utf8'));
      const find = cubeSearch(size, Float32Array.from(values));
      const timed = (c) => {
        const started = performance.now();
        find([...c]);
        return (performance.now() - started) * 1000;
      };
      const median = (colours) => colours.map(timed).sort((a, b) => a - b)[colours.length >> 1];
      console.log(JSON.stringify(kinds.map(median)));`;
    const { outputFiles } = await build({
      stdin: { contents: program, resolveDir: join(process.cwd(), 'packages/core') },
      bundle: true,
      platform: 'node',
      format: 'esm',
      write: false,
    });
    const folder = mkdtempSync(join(tmpdir(), 'june-cube-'));
    writeFileSync(join(folder, 'time.mjs'), outputFiles[0]!.contents);
    const kinds = [Array.from({ length: 1000 }, () => [1, 1, 1]), picture];
    writeFileSync(join(folder, 'cube.json'), JSON.stringify({ size, values: [...values], kinds }));
    const said = execFileSync(process.execPath, [join(folder, 'time.mjs'), join(folder, 'cube.json')], {
      encoding: 'utf8',
    });
    rmSync(folder, { recursive: true });
    const [white, seen] = JSON.parse(said) as [number, number];
    expect(white).toBeLessThan(20);
    // About 10 µs where nothing else runs; colours beside the cut-off end take longer, up to a millisecond.
    expect(seen).toBeLessThan(60);
  });
});
