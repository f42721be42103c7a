import { describe, expect, test } from '@jest/globals';
import { ColourConfig, parseConfig, ShotColour } from '@june-haze/core';
import { settleColour } from '../src/shots/settleColour.ts';
import { plainViewing } from './landing.ts';

const shotWith = (text: string) =>
  new ShotColour(new ColourConfig(parseConfig(text, 'config.ocio'), { read: () => undefined }));
/** A config that knows none of the built-in spaces and has no way to them. */
const alone = shotWith(`ocio_profile_version: 2
roles: {scene_linear: house light, default: house light}
displays:
  wall:
    - !<View> {name: film, colorspace: bent}
colorspaces:
  - !<ColorSpace> {name: bent, from_scene_reference: !<ExponentTransform> {value: 0.45}}
  - !<ColorSpace> {name: house light}
`);
const logOnly = shotWith(`ocio_profile_version: 2
displays: {wall: [!<View> {name: film, colorspace: log}]}
colorspaces: [!<ColorSpace> {name: log, to_scene_reference: !<LogTransform> {base: 2, direction: inverse}}]
`);

describe('a config newly chosen', () => {
  test('what it lacks gives way: working space, display and view, and the look goes', () => {
    const settled = settleColour(alone, 'ACEScg', { ...plainViewing, look: 'dusk' }, true);
    expect(settled).toMatchObject({
      workingSpace: 'house light',
      viewing: { display: 'wall', view: 'film', look: null },
    });
  });
  test('back to the built-in one the same way', () => {
    const settled = settleColour(
      new ShotColour(),
      'house light',
      { ...plainViewing, display: 'wall', view: 'film' },
      true,
    );
    expect(settled).toMatchObject({ workingSpace: 'ACEScg', viewing: { display: 'sRGB', view: 'ACES SDR' } });
  });
  test('one without linear light cannot be worked in', () => {
    expect(() => settleColour(logOnly, 'ACEScg', plainViewing, true)).toThrow(/no linear space/);
  });
});

describe('otherwise names must exist', () => {
  test.each([
    ['bent', { display: 'wall', view: 'film' }, /bent is not linear/],
    ['ACEScg', { display: 'wall', view: 'film' }, /no colour space named "ACEScg"/],
    ['house light', { display: 'sRGB', view: 'film' }, /no display named "sRGB"/],
    ['house light', { display: 'wall', view: 'print' }, /no view of display "wall" named "print"/],
    ['house light', { display: 'wall', view: 'film', look: 'dusk' }, /no look named "dusk"/],
  ])('%s through %j', (working, seen, sentence) => {
    expect(() => settleColour(alone, working, { ...plainViewing, ...seen }, false)).toThrow(sentence);
  });
});
