import { describe, expect, test } from '@jest/globals';
import { outputLikeSource, outputSettingsSchema, type Source } from '@june-haze/contract';

const shot = { workingSpace: 'ACEScg', firstFrame: 1001, lastFrame: 1024, width: 960, rate: 24 };
const source = (change: Partial<Source>): Source =>
  ({
    ...{ id: 's', name: 'plate', pattern: 'plate_v02.#####.exr', fileKind: 'exr', declaredSpace: 'ACEScg' },
    ...{ sampleType: 'half', compression: 'piz', firstFrame: 1005, lastFrame: 1100, still: false, step: 1 },
    ...{ width: 960, height: 540, rate: 24, offset: 1000 },
    ...change,
  }) as Source;

describe('back to where a source came from', () => {
  test('an EXR: its samples, packing, numbers and names, over the frames that the shot has of it', () => {
    expect(outputLikeSource(source({}), shot)).toMatchObject({
      kind: 'exr',
      space: null,
      sampleType: 'half',
      compression: 'piz',
      firstFrame: 1005,
      lastFrame: 1024,
      // Frame 1005 is its file 00005.
      offset: -1000,
      fileName: 'plate_v02_{output}.#####',
      width: null,
      rate: null,
    });
  });

  test.each([
    [
      { fileKind: 'exr', declaredSpace: 'ACEScct', sampleType: 'float' },
      { kind: 'exr', sampleType: 'float' },
    ],
    [{ fileKind: 'dpx', declaredSpace: 'ACEScct' }, { kind: 'dpx' }],
    [
      { fileKind: 'png', declaredSpace: 'sRGB', sampleType: 'uint16' },
      { kind: 'png', bits: 16, space: 'sRGB' },
    ],
    [
      { fileKind: 'tiff', declaredSpace: 'Display P3', sampleType: 'uint8' },
      { kind: 'tiff', bits: 8 },
    ],
    [
      { fileKind: 'jpeg', declaredSpace: 'sRGB', width: 1920 },
      { kind: 'jpeg', width: 1920, space: 'sRGB' },
    ],
  ] as [Partial<Source>, object][])('%j goes back as %j', (change, wanted) => {
    const like = outputLikeSource(source(change), shot);
    expect(like).toMatchObject(wanted);
    const name = 'back';
    const whole = outputSettingsSchema.safeParse({ name, sampleType: 'half', compression: 'zip', ...like });
    expect(whole.error).toBeUndefined();
  });

  test.each([
    { declaredSpace: null },
    { fileKind: 'movie', declaredSpace: 'Rec.709' },
    { fileKind: 'hdr', declaredSpace: 'Linear Rec.709' },
    { fileKind: 'dpx', declaredSpace: 'sRGB' },
    { fileKind: 'png', declaredSpace: 'ACEScg' },
    // A camera's curve is no display's codes.
    { fileKind: 'jpeg', declaredSpace: 'nothing known' },
  ] as Partial<Source>[])('%j cannot be written that way', (change) => {
    expect(outputLikeSource(source(change), shot)).toBeUndefined();
  });

  test('a still, and a name that no file here can have', () => {
    expect(outputLikeSource(source({ still: true, pattern: 'kai (1).png', fileKind: 'exr' }), shot)).toMatchObject({
      firstFrame: 1001,
      lastFrame: 1001,
      offset: 0,
      fileName: '{shot}_{output}_{space}.####',
    });
  });
});
