import { expect, test } from '@jest/globals';
import { openBundledConfig } from '@june-haze/core';
import { run, values } from '../../core/test/colour/run.ts';
import { askReferenceJobs, write } from '../../core/test/config/compare.ts';
import { ternConfig } from '../src/tern/config.ts';

const files = ternConfig();
const bundle = new Map([...files].map(([path, text]) => [path, new TextEncoder().encode(text)]));
const written = write(files.get('config.ocio')!, Object.fromEntries(files));
const config = openBundledConfig(bundle, 'Tern');

test('nothing in the renderer’s config is broken', () => {
  expect(config.problems()).toEqual([]);
});

test('its view, with every look, is within one 8-bit code of the reference colour library on every colour', () => {
  const all = values(true);
  const looks = [undefined, '', 'dusk', '-dusk', 'clear', 'copper', '+dusk, copper'];
  const jobs = looks.map((l) => ({
    config: written.path,
    from: 'ACEScg',
    display: 'sRGB',
    view: 'Haze',
    values: all,
    ...(l === undefined ? {} : { looks: l }),
  }));
  const answers = askReferenceJobs(jobs) as [number, number, number][][];
  looks.forEach((l, k) => {
    const ours = run(config.view('ACEScg', { display: 'sRGB', view: 'Haze', looks: l }), all);
    const code = (x: number) => Math.round(Math.min(Math.max(x, 0), 1) * 255);
    const worst = ours.reduce(
      (w, v, i) => Math.max(w, ...v.map((x, c) => Math.abs(code(x) - code(answers[k]![i]![c]!)))),
      0,
    );
    expect({ look: l, worst: worst <= 1 ? 'within one code' : worst }).toEqual({ look: l, worst: 'within one code' });
  });
});
