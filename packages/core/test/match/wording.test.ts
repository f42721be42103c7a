import { describe, expect, test } from '@jest/globals';
import { openBundledConfig } from '../../src/config/colourKey.ts';
import { ShotColour } from '../../src/config/shotColour.ts';
import { readNote } from '../../src/match/wording/note.ts';
import { likeness, wordsOf } from '../../src/match/wording/words.ts';
import { matchWording, wordingFits } from '../../src/match/wording/wording.ts';

const config = (text: string) =>
  new ShotColour(openBundledConfig(new Map([['config.ocio', new TextEncoder().encode(text)]]), 'test'));
const spaces = (names: readonly string[]) => names.map((n) => `  - !<ColorSpace> {name: ${n}}`).join('\n');

/** Names as the published ACES configs of the first generation had them: the display is ACES, the view names the screen. */
const first = config(`ocio_profile_version: 1
roles: {default: ACES - ACEScg, scene_linear: ACES - ACEScg}
displays:
  ACES:
    - !<View> {name: sRGB, colorspace: Output - sRGB}
    - !<View> {name: Rec.709, colorspace: Output - Rec.709}
    - !<View> {name: P3-D65, colorspace: Output - P3-D65}
    - !<View> {name: Raw, colorspace: Utility - Raw}
colorspaces:
${spaces(['ACES - ACES2065-1', 'ACES - ACEScg', 'ACES - ACEScct', 'Output - sRGB', 'Output - Rec.709', 'Output - P3-D65', 'Utility - Raw', 'Utility - Linear - Rec.709', 'Utility - Linear - sRGB', 'Utility - sRGB - Texture'])}
`);
/** Names as those of the second generation have them: displays are screens, views name the transform and its version. */
const second = config(`ocio_profile_version: 2
roles: {default: ACEScg, scene_linear: ACEScg}
displays:
  sRGB - Display:
    - !<View> {name: ACES 1.0 - SDR Video, colorspace: ACEScg}
    - !<View> {name: Un-tone-mapped, colorspace: ACEScg}
    - !<View> {name: Raw, colorspace: Raw}
  Rec.1886 Rec.709 - Display:
    - !<View> {name: ACES 1.0 - SDR Video, colorspace: ACEScg}
    - !<View> {name: Un-tone-mapped, colorspace: ACEScg}
  Rec.2100-PQ - Display:
    - !<View> {name: ACES 1.1 - HDR Video (1000 nits & Rec.2020 lim), colorspace: ACEScg}
active_displays: [sRGB - Display, Rec.1886 Rec.709 - Display]
inactive_colorspaces: [Hidden Camera Log]
looks:
  - !<Look> {name: Warm Evening, process_space: ACEScg}
  - !<Look> {name: Medium Hazy Evening, process_space: ACEScg}
colorspaces:
  - !<ColorSpace> {name: ACEScg, aliases: [lin_ap1]}
  - !<ColorSpace> {name: Linear Rec.709 (sRGB), aliases: [lin_rec709, lin_srgb]}
  - !<ColorSpace> {name: sRGB - Texture, aliases: [srgb_tx]}
${spaces(['ACES2065-1', 'ACEScct', 'Linear Rec.2020', 'Raw', 'Hidden Camera Log'])}
`);

const meaning = (text: string, colour: ShotColour) => {
  const [row] = matchWording(text, colour);
  return [row!.space, row!.display, row!.view, row!.look];
};

describe('what a renderer’s words mean', () => {
  test.each([
    // The order of words, and what joins them, says nothing.
    ['sRGB - ACES 1.0 - SDR Video', second, [null, 'sRGB - Display', 'ACES 1.0 - SDR Video', null]],
    ['ACES 1.0 SDR-video (sRGB)', second, [null, 'sRGB - Display', 'ACES 1.0 - SDR Video', null]],
    ['Display: sRGB; View: ACES 1.0', second, [null, 'sRGB - Display', 'ACES 1.0 - SDR Video', null]],
    // One generation of names in the other.
    ['sRGB (ACES)', second, [null, 'sRGB - Display', 'ACES 1.0 - SDR Video', null]],
    ['ACES / Rec.709', second, [null, 'Rec.1886 Rec.709 - Display', 'ACES 1.0 - SDR Video', null]],
    ['ACES 1.0 - SDR Video (sRGB - Display)', first, [null, 'ACES', 'sRGB', null]],
    ['RRT + ODT, P3 D65', first, [null, 'ACES', 'P3-D65', null]],
    ['display: Rec.709, output transform: ACES 1.0 SDR', first, [null, 'ACES', 'Rec.709', null]],
    // Spaces by their aliases and by other spellings.
    ['rendering space: lin_ap1', second, ['ACEScg', null, null, null]],
    ['space: ACEScg', first, ['ACES - ACEScg', null, null, null]],
    ['working space: linear rec709', first, ['Utility - Linear - Rec.709', null, null, null]],
    ['texture: srgb_tx', second, ['sRGB - Texture', null, null, null]],
    [
      'Space: Linear Rec.709 (sRGB)\nDisplay: sRGB\nView: Untonemapped',
      second,
      ['Linear Rec.709 (sRGB)', 'sRGB - Display', 'Un-tone-mapped', null],
    ],
    // Looks, in full and shortened.
    [
      'sRGB, ACES 1.0 SDR, look: med hazy evening',
      second,
      [null, 'sRGB - Display', 'ACES 1.0 - SDR Video', 'Medium Hazy Evening'],
    ],
    ['sRGB ACES SDR warm evenin', second, [null, 'sRGB - Display', 'ACES 1.0 - SDR Video', 'Warm Evening']],
    // What is not active is found all the same.
    [
      'Rec.2100 PQ, ACES 1.1 HDR 1000 nits',
      second,
      [null, 'Rec.2100-PQ - Display', 'ACES 1.1 - HDR Video (1000 nits & Rec.2020 lim)', null],
    ],
    ['space: hidden camera log', second, ['Hidden Camera Log', null, null, null]],
    ['Untoned', second, [null, null, 'Un-tone-mapped', null]],
  ] as const)('%s', (text, colour, expected) => {
    expect(meaning(text, colour)).toEqual(expected);
    expect(matchWording(text, colour)[0]!.score).toBeGreaterThanOrEqual(wordingFits);
  });

  test.each([['zebra crossing'], ['sRGB Moonlight'], [''], ['Moonlight, view Harbour']])(
    'nothing fits: "%s"',
    (text) => {
      expect(matchWording(text, second)[0]!.score).toBeLessThan(wordingFits);
    },
  );

  test('where two fit, both are told and lie close', () => {
    const [a, b] = matchWording('ACES SDR', second);
    expect([a!.view, a!.display]).toEqual(['ACES 1.0 - SDR Video', null]);
    const both = matchWording('raw', first);
    expect(
      both
        .slice(0, 2)
        .map((r) => r.view ?? r.space)
        .sort(),
    ).toEqual(['Raw', 'Utility - Raw']);
    expect(Math.abs(both[0]!.score - both[1]!.score)).toBeLessThan(0.2);
    expect(b!.score).toBeLessThan(a!.score);
  });

  test('a version that contradicts, and what is not active, say so', () => {
    expect(matchWording('sRGB ACES 2.0 SDR', second)[0]!.why).toContain('contradict');
    expect(matchWording('hidden camera log', second)[0]!.why).toContain('not active');
    expect(matchWording('sRGB, Moonlight ACES', second)[0]!.why).toContain('moonlight not found');
  });

  test('trims are numbers, with any sign and mark, and are no words', () => {
    expect(readNote('Exposure: +0.75, gamma 1,1; 23.976 fps')).toMatchObject({
      exposure: 0.75,
      gamma: 1.1,
      rate: 23.976,
      words: [],
    });
    expect(readNote('EV −2 sRGB').exposure).toBe(-2);
    expect(readNote('1.5 stops up').exposure).toBe(1.5);
    // A display's gamma is a curve's name.
    expect(readNote('Gamma 2.2 Rec.709').gamma).toBe(null);
    expect(matchWording('exposure 1', second)[0]).toMatchObject({ exposure: 1, view: null, score: 1 });
  });

  test('words are brought to one form; likeness knows beginnings and one wrong letter, and no other number', () => {
    const texts = (t: string) => wordsOf(t).map((w) => w.text);
    expect(texts('ITU-R BT.709')).toEqual(['rec709']);
    expect(texts('linRec709 vs lin_rec709')).toEqual(expect.arrayContaining(['linear', 'rec709']));
    expect(texts('MediumHazyEvening')).toEqual(['medium', 'hazy', 'evening']);
    expect([
      likeness('contrast', 'contrst'),
      likeness('rec709', 'rec708'),
      likeness('med', 'medium'),
      likeness('1.0', '1.1'),
    ]).toEqual([0.8, 0, 0.8, 0]);
  });
});
