import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { mkdirSync, mkdtempSync, realpathSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { MediaFolders } from '../src/media/mediaFolders.ts';

let base: string;
let media: MediaFolders;
beforeAll(() => {
  base = realpathSync(mkdtempSync(join(tmpdir(), 'june-media-')));
  mkdirSync(join(base, 'renders/landing'), { recursive: true });
  mkdirSync(join(base, 'private'));
  mkdirSync(join(base, 'renders-old'));
  mkdirSync(join(base, 'more/renders'), { recursive: true });
  for (const name of [
    'landing.1001.exr',
    'landing.1002.exr',
    'landing.1004.exr',
    'notes.txt',
    '.hidden.1001.exr',
    'sky [dawn] ø.exr',
  ])
    writeFileSync(join(base, 'renders/landing', name), '');
  writeFileSync(join(base, 'private/key.exr'), 'secret');
  symlinkSync(join(base, 'private'), join(base, 'renders/out'));
  symlinkSync(join(base, 'renders/landing'), join(base, 'renders/again'));
  symlinkSync(join(base, 'renders-old'), join(base, 'renders/neighbour'));
  media = new MediaFolders([join(base, 'renders'), join(base, 'more/renders')]);
});
afterAll(() => rmSync(base, { recursive: true }));

describe('places in the media folders', () => {
  test('roots with the same last part stay apart', async () => {
    expect((await media.list('')).folders).toEqual(['renders', 'renders_']);
    expect(await media.locate('renders_')).toBe(join(base, 'more/renders'));
  });

  test('sequences, folders and the way up; hidden files and other kinds are left out', async () => {
    const { parent, sequences } = await media.list('renders/landing');
    expect(parent).toBe('renders');
    expect(sequences.map((s) => [s.pattern, s.count, s.missing])).toEqual([
      ['landing.####.exr', 3, 1],
      ['sky [dawn] ø.exr', 1, 0],
    ]);
    expect((await media.list('renders')).parent).toBe('');
  });

  test('a link inside leads inside', async () => {
    expect(await media.locate('renders/again/landing.1001.exr')).toBe(join(base, 'renders/landing/landing.1001.exr'));
  });

  test.each([
    'renders/../private/key.exr',
    'renders/landing/../../private',
    '../private',
    'private',
    '/etc/passwd',
    'renders/out/key.exr',
    'renders/neighbour',
    'renders/landing\0.exr',
  ])('%j is refused', async (place) => {
    await expect(media.locate(place)).rejects.toMatchObject({ status: 400 });
  });

  test('what is gone is said to be gone', async () => {
    await expect(media.locate('renders/landing/landing.1003.exr')).rejects.toMatchObject({ status: 404 });
    await expect(media.material('renders/landing', 'nothing.####.exr')).rejects.toThrow('nothing.####.exr is not in');
  });

  test.each(['../key.exr', 'a/../../b.exr', '/b.exr', 'a\\b.exr', '..'])(
    'the pattern %j is no file name',
    async (pattern) => {
      await expect(media.frameFile('renders/landing', pattern, 1)).rejects.toMatchObject({ status: 400 });
    },
  );
});
