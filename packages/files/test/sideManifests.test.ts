import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { idNames, writeExr, type ExrAttribute, type Plane } from '@june-haze/core';
import { readFacts, writeWhole, zlibCodec } from '../src/index.ts';

let folder: string;
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'june-names-'));
});
afterAll(() => rmSync(folder, { recursive: true }));

const text = (value: string): ExrAttribute => ({ type: 'string', value });
const window = { xMin: 0, yMin: 0, xMax: 1, yMax: 0 };
const part = (name: string, channel: string, attributes: Record<string, ExrAttribute>) => ({
  name,
  compression: 'none' as const,
  dataWindow: window,
  displayWindow: window,
  channels: [{ name: channel, type: 'float' as const }],
  attributes,
});
const write = (name: string, said: Record<string, ExrAttribute>) =>
  writeWhole(join(folder, name), (sink) =>
    writeExr(
      sink,
      [part('beauty', 'R', {}), part('ids', 'crypto_object00.R', said)],
      () => [new Float32Array(2) as Plane],
      zlibCodec,
    ),
  );
const key = 'cryptomatte/d593dd7';
const named = async (name: string) => [...idNames((await readFacts(join(folder, name), name)).attributes).values()];

test('names behind IDs are found in the part that holds the IDs', async () => {
  await write('inside.exr', { [`${key}/name`]: text('crypto_object'), [`${key}/manifest`]: text('{"kettle":"1"}') });
  expect(await named('inside.exr')).toEqual(['kettle']);
});

test('names are found in a file beside (Cryptomatte specification 1.2, manif_file); no other file is opened', async () => {
  writeFileSync(join(folder, 'names.json'), '{"kettle":"00000001","lamp":"00000002"}');
  await write('beside.exr', { [`${key}/manif_file`]: text('names.json') });
  expect(await named('beside.exr')).toEqual(['kettle', 'lamp']);
  for (const place of ['../names.json', join(folder, 'names.json'), 'gone.json', '']) {
    await write('away.exr', { [`${key}/manif_file`]: text(place) });
    expect(await named('away.exr')).toEqual([]);
  }
});
