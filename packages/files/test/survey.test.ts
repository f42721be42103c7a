import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { copyFileSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ExrError, openExr, writeExr } from '@june-haze/core';
import { memorySink, memorySource } from '../../core/test/exr/surroundings.ts';
import { findRepeats, lookAtFiles, measureSource, surveyFolder, zlibCodec } from '../src/index.ts';

const folder = mkdtempSync(join(tmpdir(), 'june-survey-'));
const [width, height] = [24, 40];
const window = { xMin: 0, yMin: 0, xMax: width - 1, yMax: height - 1 };
const channels = ['B', 'G', 'R'].map((name) => ({ name, type: 'half' as const }));

/** A frame whose lower half is the same in all, and whose upper half tells it from others. */
async function frame(shade: number): Promise<Uint8Array> {
  const sink = memorySink();
  const plane = Uint16Array.from({ length: width * height }, (_, i) => (i < width ? 0x3000 + shade : 0x3800 + (i % 7)));
  const part = { compression: 'none' as const, dataWindow: window, displayWindow: window, channels };
  const rows = (top: number, bottom: number) => channels.map(() => plane.subarray(top * width, (bottom + 1) * width));
  await writeExr(sink, [part], (_, top, bottom) => rows(top, bottom), zlibCodec);
  return sink.bytes();
}
const nameOf = (n: number) => `pier.${1001 + n}.exr`;

beforeAll(async () => {
  for (let n = 0; n < 60; n++) writeFileSync(join(folder, nameOf(n)), await frame(n));
  for (const [n, of] of [
    [40, 3],
    [41, 3],
  ] as const)
    copyFileSync(join(folder, nameOf(of)), join(folder, nameOf(n)));
});
afterAll(() => rmSync(folder, { recursive: true }));

describe('a survey', () => {
  test('says the same whether other threads look or not, and asks them for all', async () => {
    const asked = { looked: 0, measured: [] as number[] };
    const beside = await surveyFolder(folder, {
      beside: {
        look: (files) => {
          asked.looked += files.length;
          return lookAtFiles(files);
        },
        // What is sent to a thread is plain data.
        measure: (source, number, below) => {
          asked.measured.push(number);
          return measureSource(structuredClone(source), number, (file) => Promise.resolve(join(below, file)));
        },
      },
    });
    expect(beside).toEqual(await surveyFolder(folder));
    expect(asked).toEqual({ looked: 60, measured: [1001, 1016, 1031, 1045, 1060] });
  });

  test('frames of one size that end alike are told apart by what is in them; those of the same bytes are found', async () => {
    const files = Array.from({ length: 60 }, (_, n) => ({ file: nameOf(n), frame: 1001 + n, bytes: 100_000 }));
    const sizes = await lookAtFiles(files.map((f) => ({ ...f, path: join(folder, f.file) })));
    const known = sizes.map((l, i) => ({ ...files[i]!, bytes: 'facts' in l ? l.facts.bytes : 0 }));
    expect(new Set(known.map((k) => k.bytes)).size).toBe(1);
    const others = known.map((k) => ({ ...k, file: k.file === nameOf(7) ? 'gone.exr' : k.file }));
    // Most of these end alike: a pass that stands still repeats nothing.
    expect(await findRepeats(others, (file) => Promise.resolve(join(folder, file)))).toEqual([]);
    for (const [i, { file }] of known.entries()) {
      const bytes = await frame(i === 40 || i === 41 ? 3 : i);
      bytes.set([i === 40 || i === 41 ? 3 : i], bytes.length - 1);
      writeFileSync(join(folder, file), bytes);
    }
    expect(await findRepeats(others, (file) => Promise.resolve(join(folder, file)))).toEqual([
      [1041, 1004],
      [1042, 1004],
    ]);
  });
});

describe('names in a header', () => {
  const open = (name: Uint8Array) =>
    openExr(memorySource(Uint8Array.of(0x76, 0x2f, 0x31, 1, 2, 0, 0, 0, ...name), 'long.exr'));
  test('of 255 bytes are read, longer ones and those that do not end are refused', async () => {
    const letters = (n: number) => new Array<number>(n).fill(97);
    await expect(open(Uint8Array.from(letters(256)))).rejects.toThrow('a name longer than 255 bytes');
    await expect(open(Uint8Array.from([...letters(300), 0]))).rejects.toThrow('a name longer than 255 bytes');
    await expect(open(Uint8Array.from(letters(20)))).rejects.toThrow('ends inside its header');
    await expect(open(new Uint8Array(0))).rejects.toBeInstanceOf(ExrError);
    // A name of 255, its type, and a size that the file does not have.
    const far = [...letters(255), 0, 105, 110, 116, 0, 255, 0, 0, 0];
    await expect(open(Uint8Array.from(far))).rejects.toThrow(/"a{255}" claims 255 bytes/);
  });
});
