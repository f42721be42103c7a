import { describe, expect, test } from '@jest/globals';
import { readJpegCoding, type MatchResult } from '@june-haze/core';
import sharp from 'sharp';
import { codedAsJpeg } from '../../core/src/match/jpegModel.ts';
import { found } from '../../core/test/match/find.ts';
import { drawTruth, frame, isFound, planesOf, saveAs, wordsOf, plainTruth } from '../../core/test/match/cases.ts';
import { randomFrom } from '../../core/test/operations/surroundings.ts';

/** Codes through a JPEG of the picture library, and what tells how it was coded. */
async function throughJpeg(
  rgba: Uint8Array,
  width: number,
  height: number,
  quality: number,
  chromaSubsampling: string,
) {
  const bytes = await sharp(rgba, { raw: { width, height, channels: 4 } })
    .removeAlpha()
    .jpeg({ quality, chromaSubsampling })
    .toBuffer();
  const decoded = await sharp(bytes).ensureAlpha().raw().toBuffer();
  return { codes: new Uint8Array(decoded), jpeg: readJpegCoding(bytes, 'test.jpg') };
}

describe('a JPEG’s coding', () => {
  // ITU-T T.81, table K.1, first row: at quality 50 libraries write the table as it is (common practice, no source).
  const luma = [16, 11, 10, 16, 24, 40, 51, 61];
  test.each([
    ['4:2:0', 2],
    ['4:4:4', 1],
  ])('its tables and sampling are read: %s', async (sampling, across) => {
    const { jpeg } = await throughJpeg(new Uint8Array(4 * 64 * 64).fill(90), 64, 64, 50, sampling);
    expect(jpeg.yCbCr).toBe(true);
    expect(jpeg.components.map((c) => [c.across, c.down])).toEqual([
      [across, across],
      [1, 1],
      [1, 1],
    ]);
    expect(jpeg.components[0]!.table.slice(0, 8)).toEqual(luma);
  });

  test('a file that is cut off or none is refused', () => {
    expect(() => readJpegCoding(Uint8Array.of(0xff, 0xd8, 0xff, 0xd9), 'short.jpg')).toThrow('frame header');
    expect(() => readJpegCoding(Uint8Array.of(1, 2, 3, 4), 'none.jpg')).toThrow('not a JPEG');
  });

  test.each([
    ['4:4:4', 90],
    ['4:4:4', 60],
    ['4:2:0', 80],
  ])('what it does to codes is what the picture library’s own coder does: %s at %d', async (sampling, quality) => {
    const light = frame(3);
    const rgba = saveAs({ ...drawTruth(randomFrom(3)), exposure: 0, gamma: 1, mistake: null }, light);
    const { codes, jpeg } = await throughJpeg(rgba, light.width, light.height, quality, sampling);
    const model = codedAsJpeg(new Uint8ClampedArray(rgba), light.width, light.height, jpeg);
    const far = (a: Uint8Array | Uint8ClampedArray) =>
      codes.reduce((n, c, i) => n + Math.abs(c - a[i]!), 0) / codes.length;
    // The coding itself moves these grainy codes by one to three on average; the model leaves a seventh of that (measured 0.23 and 0.46).
    expect(far(rgba)).toBeGreaterThan(0.7);
    expect(far(model)).toBeLessThan(0.2 * far(rgba));
  });
});

describe('the finder, on JPEGs', () => {
  test('finds what made them, in at least 98 of 100 drawn cases', async () => {
    const random = randomFrom(11);
    const frames = Array.from({ length: 5 }, (_, i) => frame(20 + i));
    const wrong: string[] = [];
    let cannot = 0;
    const count = 50;
    for (let i = 0; i < count; i++) {
      const light = frames[i % frames.length]!;
      const truth = drawTruth(random);
      const [quality, sampling] = [60 + Math.floor(36 * random()), random() < 0.5 ? '4:2:0' : '4:4:4'];
      const { codes, jpeg } = await throughJpeg(saveAs(truth, light), light.width, light.height, quality, sampling);
      const result: MatchResult = found(light, { ...light, planes: planesOf(codes), jpeg });
      if (result.verdict === 'cannot-tell') cannot++;
      else if (!isFound(result, truth))
        wrong.push(
          `${wordsOf(truth)} at ${quality} ${sampling} was taken for ${result.verdict} ${wordsOf(result.best!)} ${result.best!.meanCode} equal ${result.best!.equal}`,
        );
    }
    expect(wrong.length > 0.02 * count ? wrong : []).toEqual([]);
    expect(cannot).toBeLessThanOrEqual(0.04 * count);
  }, 240_000);

  test('a curve that somebody put on a JPEG is not explained', async () => {
    const light = frame(31);
    // An S about the middle, as a person draws it to add contrast.
    const curved = saveAs(plainTruth, light).map(
      (c) => 255 * (c / 255 + 0.06 * Math.sin((2 * Math.PI * (c - 128)) / 255)),
    );
    const { codes, jpeg } = await throughJpeg(curved, light.width, light.height, 92, '4:4:4');
    const result = found(light, { ...light, planes: planesOf(codes), jpeg });
    expect(['identical', 'equal']).not.toContain(result.verdict);
    expect([result.explained, result.reason]).toEqual([false, expect.stringMatching(/^Not explained/)]);
  });
});
