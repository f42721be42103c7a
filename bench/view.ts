// Colour over a picture of floats in memory, 1920x1080: `june bench view` against the reference colour library (Debian's
// python3-pyopencolorio), one thread each, in one run. The library works on RGBA in place; ours copies three planes into the kernels' memory.
import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** A config with a log shaper before a cube of 65³, and a CDL look in ACEScct before the ACES view; made up for the purpose. */
function writeConfig(): string {
  const folder = mkdtempSync(join(tmpdir(), 'june-bench-'));
  const rows: string[] = [];
  const bend = (x: number) => (x * x * (3 - 2 * x)).toFixed(6);
  for (let i = 0; i < 65 ** 3; i++)
    rows.push([i % 65, Math.floor(i / 65) % 65, Math.floor(i / 4225)].map((k) => bend(k / 64)).join(' '));
  writeFileSync(join(folder, 'film.cube'), `LUT_3D_SIZE 65\n${rows.join('\n')}\n`);
  writeFileSync(
    join(folder, 'config.ocio'),
    `ocio_profile_version: 2
roles: {default: ACES2065-1}
displays:
  sRGB:
    - !<View> {name: film, colorspace: film}
    - !<View> {name: ACES, view_transform: aces, display_colorspace: sRGB}
colorspaces:
  - !<ColorSpace> {name: ACES2065-1}
  - !<ColorSpace> {name: ACEScg, to_scene_reference: !<BuiltinTransform> {style: ACEScg_to_ACES2065-1}}
  - !<ColorSpace> {name: ACEScct, to_scene_reference: !<BuiltinTransform> {style: ACEScct_to_ACES2065-1}}
  - !<ColorSpace>
    name: film
    from_scene_reference: !<GroupTransform>
      children:
        - !<ColorSpaceTransform> {src: ACES2065-1, dst: ACEScg}
        - !<AllocationTransform> {allocation: lg2, vars: [-10, 6.5]}
        - !<FileTransform> {src: film.cube, interpolation: tetrahedral}
display_colorspaces:
  - !<ColorSpace> {name: sRGB, from_display_reference: !<BuiltinTransform> {style: DISPLAY - CIE-XYZ-D65_to_sRGB}}
view_transforms:
  - !<ViewTransform>
    name: aces
    from_scene_reference: !<BuiltinTransform> {style: ACES-OUTPUT - ACES2065-1_to_CIE-XYZ-D65 - SDR-VIDEO_1.0}
looks:
  - !<Look>
    name: dusk
    process_space: ACEScct
    transform: !<CDLTransform> {slope: [1.1, 1, 0.9], offset: [0.01, 0, -0.01], power: [1.1, 1, 0.95], sat: 0.9}
`,
  );
  return join(folder, 'config.ocio');
}

const config = writeConfig();
const rows = [
  {
    name: 'matrix: ACEScg to ACES2065-1',
    ours: ['--from', 'ACEScg', '--to', 'ACES2065-1'],
    theirs: ['ACEScg_to_ACES2065-1'],
  },
  {
    name: 'ACEScg to sRGB',
    ours: ['--from', 'ACEScg', '--to', 'sRGB'],
    theirs: ['UTILITY - ACES-AP1_to_CIE-XYZ-D65_BFD', 'DISPLAY - CIE-XYZ-D65_to_sRGB'],
  },
  {
    name: 'ACES SDR view, sRGB',
    ours: ['--from', 'ACEScg', '--display', 'sRGB', '--view', 'ACES SDR'],
    theirs: [
      'ACEScg_to_ACES2065-1',
      'ACES-OUTPUT - ACES2065-1_to_CIE-XYZ-D65 - SDR-VIDEO_1.0',
      'DISPLAY - CIE-XYZ-D65_to_sRGB',
    ],
  },
  {
    name: 'camera log (V-Log) to ACEScg',
    ours: ['--from', 'V-Log', '--to', 'ACEScg'],
    theirs: ['PANASONIC_VLOG-VGAMUT_to_ACES2065-1', '-ACEScg_to_ACES2065-1'],
  },
  {
    name: 'log shaper and cube of 65³, tetrahedral',
    ours: ['--config', config, '--from', 'ACEScg', '--display', 'sRGB', '--view', 'film'],
    theirs: { config, display: 'sRGB', view: 'film', looks: '' },
  },
  {
    name: 'CDL look in ACEScct and ACES SDR view',
    ours: ['--config', config, '--from', 'ACEScg', '--display', 'sRGB', '--view', 'ACES', '--look', 'dusk'],
    theirs: { config, display: 'sRGB', view: 'ACES', looks: 'dusk' },
  },
  {
    name: 'CDL look and cube of 65³',
    ours: ['--config', config, '--from', 'ACEScg', '--display', 'sRGB', '--view', 'film', '--look', 'dusk'],
    theirs: { config, display: 'sRGB', view: 'film', looks: 'dusk' },
  },
];
const script = join(process.cwd(), 'bench/view.py');
const reference = JSON.parse(
  execFileSync('/usr/bin/python3', [script, JSON.stringify(rows.map((r) => r.theirs))], { encoding: 'utf8' }),
) as number[][];
rows.forEach(({ name, ours }, i) => {
  const answer = execFileSync(join(process.cwd(), 'june'), ['bench', 'view', ...ours, '--json'], { encoding: 'utf8' });
  const mine = Math.min(...(JSON.parse(answer) as { runs: number[] }).runs);
  const theirs = Math.min(...reference[i]!);
  console.log(JSON.stringify({ bench: name, ours: mine, reference: theirs, ratio: mine / theirs }));
});
