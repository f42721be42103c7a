import { afterAll, beforeEach, expect, test } from '@jest/globals';
import { mkdirSync, mkdtempSync, rmSync, symlinkSync, truncateSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { foundConfigRequestSchema } from '@june-haze/contract';
import { ColourFileError, writeBundle } from '@june-haze/core';
import { describeError } from '../src/errors.ts';
import { examine } from '../src/library/examine.ts';
import { findConfigs, keepLying } from '../src/library/foundConfigs.ts';
import { contentId } from '../src/library/store.ts';

const top = mkdtempSync(join(tmpdir(), 'june-found-'));
afterAll(() => rmSync(top, { recursive: true }));
const config = `ocio_profile_version: 2
roles: {aces_interchange: ap0, default: ap0}
displays: {wall: [!<View> {name: halved, colorspace: half}]}
colorspaces:
  - !<ColorSpace> {name: ap0}
  - !<ColorSpace> {name: half, from_scene_reference: !<FileTransform> {src: luts/half.cube}}
`;
const cube = 'LUT_1D_SIZE 2\n0 0 0\n0.5 0.5 0.5\n';
const media = join(top, 'media');
const pier = join(media, 'show/pier');
beforeEach(() => {
  rmSync(media, { recursive: true, force: true });
  mkdirSync(join(pier, 'luts'), { recursive: true });
  writeFileSync(join(pier, 'config.ocio'), config);
  writeFileSync(join(pier, 'luts/half.cube'), cube);
});

test('a config is found with its LUTs, and has the id that dropping its folder would give it', async () => {
  // Renders beside it do not belong to it.
  writeFileSync(join(pier, 'beauty.1001.exr'), 'light');
  const dropped = writeBundle(
    new Map([
      ['config.ocio', new TextEncoder().encode(config)],
      ['luts/half.cube', new TextEncoder().encode(cube)],
    ]),
  );
  const id = contentId(examine('pier.zip', dropped).files);
  expect(await findConfigs(media)).toEqual([{ path: 'show/pier/config.ocio', id }]);
  const kept = await keepLying(pier, 'config.ocio', join(top, 'library'));
  expect([kept.id, kept.kind, kept.facts.files]).toEqual([id, 'config', ['config.ocio', 'luts/half.cube']]);
});

test('hidden folders, links and what lies too deep are passed over', async () => {
  const at = (...parts: string[]) => join(media, ...parts);
  for (const folder of [at('.trash'), at('a/b/c/d/e/f/g')]) {
    mkdirSync(folder, { recursive: true });
    writeFileSync(join(folder, 'config.ocio'), config);
  }
  symlinkSync(pier, at('again'));
  symlinkSync(media, at('show/round'));
  expect((await findConfigs(media)).map((f) => f.path)).toEqual(['show/pier/config.ocio']);
});

test('one whose LUTs are larger than a config can be is not offered, and is refused with a sentence', async () => {
  writeFileSync(join(pier, 'luts/huge.cube'), '');
  truncateSync(join(pier, 'luts/huge.cube'), (256 << 20) + 1);
  expect(await findConfigs(media)).toEqual([]);
  await expect(keepLying(pier, 'config.ocio', join(top, 'library'))).rejects.toThrow(
    new ColourFileError('config.ocio: its LUTs are larger than 256 MB together.'),
  );
  expect(describeError(new ColourFileError('too large'))).toEqual([422, 'too large']);
});

test('nothing but a config is brought in from a media folder', () => {
  const place = (p: string) => foundConfigRequestSchema.safeParse({ place: p }).success;
  expect([place('media/pier/config.ocio'), place('media/pier/beauty.1001.exr')]).toEqual([true, false]);
});
