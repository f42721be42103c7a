// Colour over a picture of floats in memory, 1920x1080: `june bench view` against the reference colour library (Debian's
// python3-pyopencolorio), one thread each, in one run. The library works on RGBA in place; ours copies three planes into the kernels' memory.
import { execFileSync } from 'node:child_process';
import { join } from 'node:path';

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
