import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { writeExr } from '@june-haze/core';
import { jobSourceSchema } from '@june-haze/contract';
import { zlibCodec } from '@june-haze/files';
import { memorySink } from '../../core/test/exr/surroundings.ts';
import { findJobSource, jobPlanSource, openJobPart } from '../src/job/jobFiles.ts';

let folder: string;
beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'june-pacing-'));
  const window = { xMin: 0, yMin: 0, xMax: 0, yMax: 0 };
  const channels = ['B', 'G', 'R'].map((name) => ({ name, type: 'float' as const }));
  // Each frame holds its own number.
  for (const frame of [11, 12, 13, 14]) {
    const sink = memorySink();
    const part = { compression: 'none' as const, dataWindow: window, displayWindow: window, channels };
    await writeExr(sink, [part], () => channels.map(() => Float32Array.of(frame)), zlibCodec);
    writeFileSync(join(folder, `plate.${frame}.exr`), sink.bytes());
  }
});
afterAll(() => rmSync(folder, { recursive: true }));

/** The numbers that a source of a job gives over frames of the shot; a sentence where it gives none. */
async function given(settings: object, frames: readonly number[]): Promise<(number | string)[]> {
  const parsed = jobSourceSchema.parse({ pattern: 'plate.##.exr', space: 'ACEScg', offset: -990, ...settings });
  const source = await findJobSource(folder, 'plate', parsed);
  const one = async (frame: number) => {
    const part = await openJobPart(source, 0, frame);
    const { planes } = await part.read(['R'], 0, 1);
    await part.close();
    return planes[0]![0]!;
  };
  return Promise.all(frames.map((f) => one(f).catch((e: Error) => e.message)));
}
const around = [1000, 1001, 1002, 1003, 1004, 1005, 1006];

test('a job’s source runs as it is numbered, is held, comes again, turns round, rests, runs slower and backwards', async () => {
  const missing = (n: number) => `sources.plate: plate.${n}.exr is missing.`;
  expect(await given({}, around)).toEqual([missing(10), 11, 12, 13, 14, missing(15), missing(16)]);
  expect(await given({ beyond: 'hold' }, around)).toEqual([11, 11, 12, 13, 14, 14, 14]);
  expect(await given({ beyond: 'loop' }, around)).toEqual([14, 11, 12, 13, 14, 11, 12]);
  expect(await given({ beyond: 'thereAndBack' }, around)).toEqual([12, 11, 12, 13, 14, 13, 12]);
  expect(await given({ beyond: 'nothing' }, around)).toEqual([0, 11, 12, 13, 14, 0, 0]);
  expect(await given({ speed: 0.5, beyond: 'hold' }, around)).toEqual([11, 11, 11, 12, 12, 13, 13]);
  expect(await given({ speed: -1, beyond: 'hold' }, around)).toEqual([14, 14, 13, 12, 11, 11, 11]);
});

test('where its rows rest is told to the compiler in frames of the shot', async () => {
  const lasts = async (settings: object) => {
    const parsed = jobSourceSchema.parse({ pattern: 'plate.##.exr', space: 'ACEScg', offset: -990, ...settings });
    return jobPlanSource(await findJobSource(folder, 'plate', parsed)).lasts;
  };
  expect(await lasts({})).toBeUndefined();
  expect(await lasts({ beyond: 'nothing' })).toEqual([1001, 1004]);
  expect(await lasts({ beyond: 'nothing', speed: 0.5 })).toEqual([1001, 1008]);
});
