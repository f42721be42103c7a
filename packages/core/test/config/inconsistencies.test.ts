import { describe, expect, test } from '@jest/globals';
import { open, write } from './compare.ts';
import { landingConfig, landingFiles } from './configs.ts';

const config = (text: string) => open(write(text));
const base = `ocio_profile_version: 2
roles: {default: a, scene_linear: a}
colorspaces:
  - !<ColorSpace> {name: a, aliases: [first]}
  - !<ColorSpace> {name: b, from_scene_reference: !<MatrixTransform> {offset: [0.1, 0, 0, 0]}}
`;

describe('a config that is not whole', () => {
  test.each([
    ['a role', 'roles: {default: a, scene_linear: a, data: gone}', /role "data" points at the space "gone"/],
    ['a role given twice', 'roles: {default: a, scene_linear: a, default: b}', /"roles": "default" stands twice/],
    ['a view', 'displays: {wall: [!<View> {name: v, colorspace: gone}]}', /view "v" of display "wall".*"gone"/],
    [
      'a view given twice',
      'displays: {wall: [!<View> {name: v, colorspace: a}, !<View> {name: V, colorspace: b}]}',
      /view of display "wall" "V" stands twice/,
    ],
    [
      'a look of a view',
      'displays: {wall: [!<View> {name: v, colorspace: a, looks: gone}]}',
      /uses the look "gone"|"gone"/,
    ],
    ['a viewing rule', 'displays: {wall: [!<View> {name: v, colorspace: a, rule: gone}]}', /viewing rule "gone"/],
    [
      'a file rule',
      'file_rules: [!<Rule> {name: x, extension: exr, pattern: "*", colorspace: gone}, !<Rule> {name: Default, colorspace: default}]',
      /file rule "x" leads to the space "gone"/,
    ],
    ['an active view', 'active_views: [gone]', /active_views names the view "gone"/],
    ['an active display', 'active_displays: [gone]', /active_displays names the display "gone"/],
    ['an inactive space', 'inactive_colorspaces: [gone]', /inactive_colorspaces names "gone"/],
  ])('%s that leads nowhere or stands twice is told, and the rest still works', (_what, line, wanted) => {
    const key = line.slice(0, line.indexOf(':'));
    const text = key === 'roles' ? base.replace(/^roles:.*$/m, line) : `${base}${line}\n`;
    const opened = config(text);
    expect(
      opened
        .problems()
        .map((p) => p.message)
        .join('\n'),
    ).toMatch(wanted);
    expect(opened.activeSpaces().map((s) => s.name)).toEqual(['a', 'b']);
    expect(opened.conversion('a', 'b')).toHaveLength(1);
  });

  test('an id that stands twice in a correction file is told with its place', () => {
    const one = '<ColorCorrection id="dusk"><SOPNode><Slope>2 2 2</Slope></SOPNode></ColorCorrection>';
    const folder = write(
      `${base}looks: [!<Look> {name: l, process_space: a, transform: !<FileTransform> {src: x.ccc, cccid: dusk}}]\n`,
      { 'x.ccc': `<ColorCorrectionCollection>\n${one}\n${one}\n</ColorCorrectionCollection>` },
    );
    const messages = open(folder)
      .problems()
      .map((p) => p.message);
    expect(messages).toEqual([expect.stringMatching(/x\.ccc.*line 3.*the id "dusk" stands twice/)]);
  });

  test('spaces and aliases that stand twice are told with their lines', () => {
    const text = `${base}  - !<ColorSpace> {name: c, aliases: [First]}\n  - !<ColorSpace> {name: B}\n`;
    const messages = config(text)
      .problems()
      .map((p) => p.message);
    expect(messages).toEqual([
      expect.stringMatching(
        /line 6: colour space "c": its alias "First" stands twice: it is an alias of the colour space "a" too/,
      ),
      expect.stringMatching(/line 7: colour space "B" stands twice: it is a colour space too; the first is taken/),
    ]);
  });

  test('nothing is told of a config that is whole', () => {
    // Its look "absent" lacks its file on purpose.
    const messages = open(write(landingConfig, landingFiles))
      .problems()
      .map((p) => p.message);
    expect(messages).toEqual([expect.stringContaining('look "absent"')]);
  });
});
