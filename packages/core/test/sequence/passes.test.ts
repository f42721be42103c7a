import { describe, expect, test } from '@jest/globals';
import type { ExrPart } from '../../src/exr/types.ts';
import { findPasses, guessRole } from '../../src/sequence/passes.ts';

// How renderers and artists name passes: common practice, no source.
describe('roles of passes by their names', () => {
  test.each([
    ...[
      'rgba_sun',
      'RGBA.key',
      'rgba-Lantern_02_warm',
      'beauty_rim',
      'Key_Beauty',
      'lanternBeauty',
      'Combined_Fill',
      'C.light_sky',
    ],
    ...['light_key', 'lgt_window', 'Window_Light', 'LightGroup_sun', 'lg_sky'],
  ])('%s is a light group', (name) => expect(guessRole(name)).toBe('light-group'));

  test.each([
    ['beauty_raw', 'other'],
    ['rgba_denoised', 'other'],
    ['beauty_v2', 'other'],
    ['rgba_2', 'other'],
    ['rgba_specular', 'specular'],
    ['beauty_sss', 'subsurface'],
    ['depth', 'depth'],
    ['TexCoord', 'uv'],
    ['texture_coordinates', 'uv'],
    ['UVPass', 'uv'],
    ['uvw', 'uv'],
    ['STMap', 'uv'],
    ['refraction', 'transmission'],
    ['refr', 'transmission'],
    ['refraction_direct', 'transmission'],
    ['velocity', 'motion'],
    ['vel', 'motion'],
    ['mvec', 'motion'],
    ['motion_blur_vector', 'motion'],
    ['RGBA', 'beauty'],
  ])('%s is %s', (name, role) => expect(guessRole(name)).toBe(role));

  const part = (...names: string[]) =>
    ({
      index: 0,
      name: '',
      attributes: new Map(),
      channels: names.flatMap((n) =>
        ['R', 'G', 'B'].map((c) => ({ name: `${n}.${c}`, type: 'half', xSampling: 1, ySampling: 1 })),
      ),
    }) as unknown as ExrPart;

  test('both eyes hold beauties of their own; one alone is nothing known', () => {
    expect(findPasses([part('left', 'right', 'depth')]).map((p) => p.role)).toEqual(['beauty', 'beauty', 'depth']);
    expect(findPasses([part('left')])[0]!.role).toBe('other');
  });
});
