import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { execFileSync, spawnSync } from 'node:child_process';
import { mkdtempSync, mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { ternConfig } from '../../demo/src/tern/config.ts';

const folder = mkdtempSync(join(tmpdir(), 'june-match-'));
const config = join(folder, 'tern/config.ocio');
afterAll(() => rmSync(folder, { recursive: true }));

interface Row {
  readonly space: string;
  readonly config: string;
  readonly display: string;
  readonly view: string;
  readonly look: string | null;
  readonly exposure: number;
  readonly gamma: number;
  readonly mistake: string | null;
  readonly maxCode: number;
}
interface Answer {
  readonly verdict: string;
  readonly best: Row;
  readonly ranking: readonly Row[];
}

const june = (...args: string[]) => spawnSync(join(process.cwd(), 'june'), args, { encoding: 'utf8' });
const matched = (picture: string, ...more: string[]) =>
  JSON.parse(june('match', join(folder, 'frame.exr'), join(folder, picture), '--json', ...more).stdout) as Answer;

// The pictures are made by the reference colour library (OpenColorIO) and written by the reference image library (OpenImageIO).
beforeAll(() => {
  for (const [path, text] of ternConfig()) {
    mkdirSync(dirname(join(folder, 'tern', path)), { recursive: true });
    writeFileSync(join(folder, 'tern', path), text);
  }
  execFileSync('/usr/bin/python3', [join(process.cwd(), 'packages/cli/test/match.py'), folder, config]);
});

describe('june match, on pictures that the reference colour library made', () => {
  test.each([
    ['haze.png', { view: 'Haze', exposure: 0, gamma: 1 }, null],
    ['dusk.png', { view: 'Haze', exposure: 0.5, gamma: 1 }, 'dusk'],
    ['gamma.png', { view: 'Haze', exposure: 0, gamma: 1.2 }, null],
  ])('%s is found, within a code', (picture, expected, look) => {
    const { verdict, best } = matched(picture, '--config', config);
    expect(verdict).toBe('identical');
    expect(best).toMatchObject({ space: 'ACEScg', config, display: 'sRGB', mistake: null, ...expected });
    expect(best.look || null).toBe(look);
    expect(best.maxCode).toBeLessThanOrEqual(1);
  });

  test('a show LUT is found as the view that made the codes, within a code', () => {
    const { verdict, best } = matched('show.png', '--view-lut', join(folder, 'show.cube'));
    expect(best).toMatchObject({ space: 'ACEScg', display: 'LUTs of the Library', view: 'show.cube', exposure: 0 });
    expect([verdict, best.maxCode <= 1]).toEqual(['identical', true]);
    expect(['identical', 'equal']).not.toContain(matched('show.png').verdict);
  });

  test('without the config that made it nothing is called identical or equal', () => {
    const { verdict, ranking } = matched('haze.png');
    expect(['identical', 'equal']).not.toContain(verdict);
    expect(ranking.every((r) => r.config === 'builtin')).toBe(true);
  });

  test('in words, and faults in one line that names the file', () => {
    const told = june('match', join(folder, 'frame.exr'), join(folder, 'haze.png'), '--config', config);
    expect(told.stdout).toMatch(/^identical: .*\n1\. ACEScg · sRGB · Haze/);
    const gone = june('match', join(folder, 'frame.exr'), join(folder, 'none.png'));
    expect([gone.status, gone.stderr.trim().split('\n').length]).toEqual([1, 1]);
    expect(gone.stderr).toContain('none.png');
    expect(june('match', join(folder, 'haze.png'), join(folder, 'haze.png')).stderr).toContain('EXR');
    expect(june('match', join(folder, 'frame.exr'), join(folder, 'haze.png'), '--layer', 'fog').stderr).toContain(
      'no layer "fog"',
    );
  });
});

describe('june wording', () => {
  test('prints rows of what words mean in a config', () => {
    const rows = (...words: string[]) =>
      (
        JSON.parse(june('wording', '--config', config, '--json', ...words).stdout) as {
          rows: Record<string, unknown>[];
        }
      ).rows;
    expect(rows('Haze', 'at', 'dusk', '(sRGB)')[0]).toMatchObject({
      display: 'sRGB',
      view: 'Haze at dusk',
      space: null,
    });
    expect(rows('exposure 0.5, haze, sRGB')[0]).toMatchObject({ view: 'Haze', exposure: 0.5 });
    expect(rows('zebra crossing')[0]).toMatchObject({ view: null });
    expect(Number(rows('zebra crossing')[0]!.score)).toBeLessThan(0.5);
    expect(june('wording', '--config', 'builtin', 'ACES SDR on sRGB').stdout).toMatch(/^1\.00 {2}sRGB · ACES SDR/);
  });
});
