import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, rmSync, writeFileSync, existsSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, test } from '@jest/globals';
import { largestBlockDifference } from '@june-haze/core';
import sharp from 'sharp';
import {
  decodePicture,
  encodeJpeg,
  encodePng,
  encodePngSamples,
  encodeTiff,
  openSource,
  writeWhole,
  zlibCodec,
} from '../src/index.ts';

const folder = mkdtempSync(join(tmpdir(), 'june-files-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const rgba = Uint8Array.from({ length: 32 * 16 * 4 }, (_, i) => (i % 4 === 3 ? 255 : (i * 37) & 255));

test.each(['srgb', 'bt1886'] as const)('a PNG keeps its codes and says %s by cICP and gAMA', async (encoding) => {
  const png = await encodePng(rgba, 32, 16, encoding);
  const back = await decodePicture(png);
  expect([back.encoding, Buffer.compare(back.rgba, rgba)]).toEqual([encoding, 0]);
  // PNG third edition 11.3.2.6: primaries 1 (BT.709), transfer 13 (sRGB) or 1 (BT.709), matrix 0, full range.
  const at = png.indexOf('cICP');
  expect([...png.subarray(at + 4, at + 8)]).toEqual([1, encoding === 'srgb' ? 13 : 1, 0, 1]);
  // The reference image library reads the file whole.
  const path = join(folder, `${encoding}.png`);
  writeFileSync(path, png);
  expect(execFileSync('oiiotool', ['--info', path], { encoding: 'utf8' })).toContain('32 x   16, 3 channel');
});

test.each(['srgb', 'bt1886'] as const)(
  'a JPEG carries a profile that colour management understands (%s)',
  async (encoding) => {
    const jpeg = await encodeJpeg(rgba, 32, 16, encoding, 95);
    expect((await decodePicture(jpeg)).encoding).toBe(encoding);
    const { icc } = await sharp(jpeg).metadata();
    expect(icc?.subarray(36, 40).toString('latin1')).toBe('acsp');
    // Mid grey through the profile into sRGB by an independent colour engine: gamma 2.4 code 128 shows as sRGB code 121
    // (computed from the two curves), sRGB code 128 stays.
    const grey = await encodeJpeg(new Uint8Array(64 * 64 * 4).fill(128), 64, 64, encoding, 100);
    const shown = await sharp(grey).toColourspace('srgb').raw().toBuffer();
    const linear = (128 / 255) ** 2.4;
    const expected = encoding === 'srgb' ? 128 : Math.round(255 * (1.055 * linear ** (1 / 2.4) - 0.055));
    expect(Math.abs(shown[0]! - expected)).toBeLessThanOrEqual(1);
  },
);

test('the means of a JPEG’s blocks stay within two codes of noise, and stray further when its encoding is taken wrongly', async () => {
  let state = 1;
  const noise = Uint8Array.from({ length: 96 * 64 * 4 }, (_, i) => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return i % 4 === 3 ? 255 : ((i >> 6) & 127) + 20 + (state >>> 27);
  });
  const { rgba: back } = await decodePicture(await encodeJpeg(noise, 96, 64, 'srgb', 95));
  expect(largestBlockDifference(noise, back, 96)).toBeLessThanOrEqual(2);
  const light = (v: number) => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4);
  const wrong = back.map((v, i) => (i % 4 === 3 ? v : Math.round(255 * light(v / 255) ** (1 / 2.4))));
  expect(largestBlockDifference(noise, wrong, 96)).toBeGreaterThan(2);
});

test('a file is written whole or not at all', async () => {
  const path = join(folder, 'whole.bin');
  await expect(
    writeWhole(path, async (sink) => {
      await sink.write(0, new Uint8Array(100));
      throw new Error('the disk is full');
    }),
  ).rejects.toThrow('the disk is full');
  expect([existsSync(path), readdirSync(folder).filter((f) => f.includes('whole'))]).toEqual([false, []]);
  await writeWhole(path, (sink) => sink.write(0, Uint8Array.of(1, 2, 3)));
  expect(readdirSync(folder).filter((f) => f.includes('whole'))).toEqual(['whole.bin']);
});

test.each([
  ['ENOSPC', 'the disk is full'],
  ['EROFS', 'read-only'],
])('%s reaches the person as a sentence with the file’s name', async (code, words) => {
  const failing = writeWhole(join(folder, 'landing.exr'), () =>
    Promise.reject(Object.assign(new Error(`${code}: no`), { code })),
  );
  await expect(failing).rejects.toThrow(`landing.exr: ${code === 'ENOSPC' ? '' : 'the folder is '}${words}`);
});

test('a file that is not there or not a file is named', async () => {
  await expect(openSource(join(folder, 'nowhere.exr'), 'nowhere.exr')).rejects.toThrow(
    'nowhere.exr: the file is not there.',
  );
  await expect(openSource(folder, 'a folder')).rejects.toThrow('a folder: this is a folder, not a file.');
});

test('inflating never exceeds the expected size', () => {
  const bomb = zlibCodec.deflate(new Uint8Array(1 << 20));
  expect(() => zlibCodec.inflate(bomb, 1000)).toThrow();
});

describe('pictures of 16 bits', () => {
  const size = { width: 33, height: 7 };
  const deep = Uint16Array.from({ length: 33 * 7 * 3 }, (_, i) => (i * 9973) & 65535);
  /** What the reference image library reads of a file: its description, and its samples. */
  function byReference(name: string, bytes: Buffer) {
    const path = join(folder, name);
    writeFileSync(path, bytes);
    const said = execFileSync('oiiotool', ['--info', '-v', path], { encoding: 'utf8' });
    const script =
      'import sys, OpenImageIO as oiio; i = oiio.ImageInput.open(sys.argv[1]); sys.stdout.buffer.write(i.read_image("uint16").tobytes())';
    const raw = execFileSync('/usr/bin/python3', ['-c', script, path]);
    return { said, samples: new Uint16Array(new Uint8Array(raw).buffer) };
  }

  test.each(['srgb', 'bt1886'] as const)(
    'a TIFF for %s: every sample, and a profile that colour management reads',
    async (encoding) => {
      const tiff = await encodeTiff(deep, size, encoding);
      const { said, samples } = byReference(`${encoding}.tif`, tiff);
      expect(said).toMatch(/33 x +7, 3 channel, uint16 tiff/);
      expect(said).toContain(`ICCProfile:profile_description: "${encoding === 'srgb' ? 'sRGB' : 'Rec.709 gamma 2.4'}"`);
      expect(samples).toEqual(deep);
      const back = await decodePicture(tiff);
      expect([back.encoding, back.taggedBy]).toEqual([encoding, 'ICC profile']);
      expect(back.deep).toEqual(deep);
      // A general colour engine goes by the profile: gamma 2.4 code 128 of 255 shows as sRGB code 121 (from the two curves).
      const grey = await encodeTiff(new Uint16Array(64 * 64 * 3).fill(128 * 257), { width: 64, height: 64 }, encoding);
      const [shown] = await sharp(grey).toColourspace('srgb').raw().toBuffer();
      expect(Math.abs(shown! - (encoding === 'srgb' ? 128 : 121))).toBeLessThanOrEqual(1);
    },
  );

  test('of 8 bits a TIFF holds its codes', async () => {
    const codes = Uint8Array.from({ length: 32 * 16 * 3 }, (_, i) => (i * 37) & 255);
    const back = await decodePicture(await encodeTiff(codes, { width: 32, height: 16 }, 'srgb'));
    expect(back.deep).toBeUndefined();
    expect(back.rgba.filter((_, i) => i % 4 < 3)).toEqual(codes);
  });

  test('a PNG holds every sample', async () => {
    const png = await encodePngSamples(deep, { ...size, channels: 3 }, 'srgb');
    expect(byReference('deep.png', png).samples).toEqual(deep);
    const back = await decodePicture(png);
    expect(back.deep).toEqual(deep);
    expect(back.rgba[0]).toBe(Math.round(deep[0]! / 257));
    expect(back.rgba[5]).toBe(Math.round(deep[4]! / 257));
  });
});
