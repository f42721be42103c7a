import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, rmSync, writeFileSync, existsSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, test } from '@jest/globals';
import {
  betweenCodes,
  ciede2000,
  codeOfLight,
  displayCodes,
  labOfCodes,
  largestBlockDifference,
  lightOfCode,
} from '@june-haze/core';
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

test.each([
  ['srgb', 'cICP', [1, 13, 0, 1]],
  ['bt1886', 'cICP', [1, 1, 0, 1]],
  ['displayP3', 'cICP', [12, 13, 0, 1]],
  ['pq', 'cICP', [9, 16, 0, 1]],
  ['hlg', 'cICP', [9, 18, 0, 1]],
  ['p3Cinema', 'iCCP', undefined],
] as const)('a PNG keeps its codes and says %s by %s', async (encoding, chunk, points) => {
  const png = await encodePng(rgba, 32, 16, encoding);
  const back = await decodePicture(png);
  expect([back.encoding, Buffer.compare(back.rgba, rgba)]).toEqual([encoding, 0]);
  // PNG third edition 11.3.2.6: primaries and transfer of ITU-T H.273, matrix 0, full range.
  const at = png.indexOf(chunk);
  if (points) expect([...png.subarray(at + 4, at + 8)]).toEqual(points);
  else expect(at).toBeGreaterThan(0);
  // 11.3.2.2: cHRM is white, red, green, blue, in hundred thousandths.
  const { white, red } = displayCodes[encoding].primaries;
  const chrm = png.indexOf('cHRM') + 4;
  expect([0, 4, 8, 12].map((i) => png.readUInt32BE(chrm + i) / 1e5)).toEqual([...white, ...red]);
  // The reference image library reads the file whole.
  const path = join(folder, `${encoding}.png`);
  writeFileSync(path, png);
  expect(execFileSync('oiiotool', ['--info', path], { encoding: 'utf8' })).toContain('32 x   16, 3 channel');
});

test.each(['srgb', 'bt1886', 'displayP3', 'p3Cinema'] as const)(
  'the profile of %s: a general colour engine shows the colours of our own way to sRGB, within CIEDE2000 0.5',
  async (encoding) => {
    // Colours that sRGB shows, so that nothing is cut off, and bright enough for a code to be small.
    const steps = [90, 130, 170, 210];
    const seen = Uint8Array.from(steps.flatMap((r) => steps.flatMap((g) => steps.flatMap((b) => [r, g, b, 255]))));
    const m = betweenCodes('srgb', encoding);
    const deep = new Uint16Array(64 * 3);
    for (let i = 0; i < 64; i++) {
      const light = [0, 1, 2].map((c) => lightOfCode(seen[i * 4 + c]! / 255, 'srgb'));
      for (let c = 0; c < 3; c++) {
        const l = m[3 * c]! * light[0]! + m[3 * c + 1]! * light[1]! + m[3 * c + 2]! * light[2]!;
        deep[i * 3 + c] = Math.round(65535 * codeOfLight(l, encoding));
      }
    }
    const tiff = await encodeTiff(deep, { width: 8, height: 8 }, encoding);
    // In 16 bits, for it cuts to 8 without rounding; by way of its own sRGB profile, for without one it does not go by the engine.
    const raw = await sharp(tiff).withIccProfile('srgb').toColourspace('rgb16').raw({ depth: 'ushort' }).toBuffer();
    const shown = Uint8Array.from(new Uint16Array(new Uint8Array(raw).buffer), (v) => Math.round(v / 257));
    for (let i = 0; i < 64; i++) {
      const lab = (from: Uint8Array, at: number) => labOfCodes(from[at]!, from[at + 1]!, from[at + 2]!, 'srgb');
      expect(ciede2000(lab(shown, i * 3), lab(seen, i * 4))).toBeLessThan(0.5);
    }
  },
);

test('the columns of the sRGB profile are those of the published v4 profile (values from memory)', async () => {
  const { icc } = await sharp(await encodeJpeg(rgba, { width: 32, height: 16, channels: 4 }, 'srgb', 90)).metadata();
  const at = icc!.indexOf('XYZ ', icc!.indexOf('XYZ ', 128) + 4);
  const red = [8, 12, 16].map((i) => icc!.readInt32BE(at + i) / 65536);
  [0.43607, 0.22249, 0.01392].forEach((x, i) => expect(red[i]).toBeCloseTo(x, 3));
});

test.each(['srgb', 'bt1886'] as const)(
  'a JPEG carries a profile that colour management understands (%s)',
  async (encoding) => {
    const jpeg = await encodeJpeg(rgba, { width: 32, height: 16, channels: 4 }, encoding, 95);
    expect((await decodePicture(jpeg)).encoding).toBe(encoding);
    const { icc } = await sharp(jpeg).metadata();
    expect(icc?.subarray(36, 40).toString('latin1')).toBe('acsp');
    // Mid grey through the profile into sRGB by an independent colour engine: gamma 2.4 code 128 shows as sRGB code 121
    // (computed from the two curves), sRGB code 128 stays.
    const grey = await encodeJpeg(
      new Uint8Array(64 * 64 * 4).fill(128),
      { width: 64, height: 64, channels: 4 },
      encoding,
      100,
    );
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
  const { rgba: back } = await decodePicture(
    await encodeJpeg(noise, { width: 96, height: 64, channels: 4 }, 'srgb', 95),
  );
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
      expect(said).toContain(`ICCProfile:profile_description: "${displayCodes[encoding].name}"`);
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
