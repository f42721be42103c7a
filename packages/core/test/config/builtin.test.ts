import { describe, expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { builtinStyleNames } from '../../src/transform/builtin/styles.ts';
import { rec2020, toXyz } from '../../src/colour/primaries.ts';
import { run, values, type Rgb } from '../colour/run.ts';
import { askReference, ourSteps, worst, type Question } from './compare.ts';

/** The styles that Debian 12's version of the library has; newer ones are held to 2.5.1 in newerStyles.test.ts. */
const names = JSON.parse(
  readFileSync(join(process.cwd(), 'packages/core/test/config/stylesOfDebian12.json'), 'utf8'),
) as string[];
/** Codes where a style begins in codes, light where it begins in light; what lies far outside says nothing. */
const codes = values(true).map((v) => v.map((x) => Math.min(Math.max(x, -0.1), 1.1)) as Rgb);
/** XYZ of colours within Rec.2020: what lies outside, or below 0.1 cd/m², the style limits in its own way. */
const visible = run([{ kind: 'matrix', matrix: toXyz(rec2020) }], values(false)).filter(([, y]) => y > 1e-3);
const startsInCodes = (name: string) =>
  /_to_ACES2065-1$|LOG_to_LINEAR|ST-2084_to_LINEAR/.test(name) && !/ACEScg/.test(name);

/**
 * Tolerances: 2e-4 + 2e-3 for ACES outputs and for styles that the reference computes with 4096-entry tables (PQ, HLG, ACEScc, some
 * camera curves); 2e-5 + 2e-4 elsewhere, which is float rounding through long chains.
 */
const byTable = /ACES-OUTPUT|ST-?2084|PQ|HLG|ACEScc_|CLOG|ADX/;
const tolerance = (name: string): [number, number] => (byTable.test(name) ? [2e-4, 2e-3] : [2e-5, 2e-4]);

describe('every builtin style, forward and back, against the reference library', () => {
  const forward: Question[] = names.map((name) => ({
    name,
    builtin: name,
    values: startsInCodes(name) ? codes : /HLG/.test(name) ? visible : values(!/OUTPUT.*sim/.test(name)),
  }));
  const forwardAnswers = askReference(undefined, forward);
  // Backwards from what comes out forwards, of colours that are light.
  const inverse: Question[] = names.map((name) => {
    const light = startsInCodes(name) ? codes.filter((v) => v.every((x) => x > 0.1 && x < 0.95)) : values(false);
    // Tone scales are turned round by searching: a quarter of the colours is enough.
    const inside = /ACES-OUTPUT/.test(name)
      ? light.filter((v, i) => i % 4 === 0 && v.every((x) => x > 0.002 && x < 8))
      : light;
    return {
      name,
      builtin: name,
      inverse: true,
      values: run(ourSteps(undefined, { name, builtin: name, values: [] }), inside),
    };
  });
  const inverseAnswers = askReference(undefined, inverse);

  test.each(forward.map((q, i) => [q.name, i] as const))('%s', (name, i) => {
    const result = worst(undefined, forward[i]!, forwardAnswers[i]!, ...tolerance(name));
    expect(JSON.stringify(result.excess > 0 ? result : 'within')).toBe('"within"');
  });

  test.each(inverse.map((q, i) => [q.name, i] as const))('%s, inverse', (name, i) => {
    // Near black the tone scales are nearly level and the reference turns a half-float table round: 2e-3 there.
    const [absolute, relative] = /ACES-OUTPUT/.test(name) ? [2e-3, 1e-2] : tolerance(name);
    const result = worst(undefined, inverse[i]!, inverseAnswers[i]!, absolute, relative);
    expect(JSON.stringify(result.excess > 0 ? result : 'within')).toBe('"within"');
  });
});

test('there are all 51 styles of the reference library', () => {
  expect(names.length).toBe(51);
  expect(names.filter((n) => !builtinStyleNames.includes(n))).toEqual([]);
});
