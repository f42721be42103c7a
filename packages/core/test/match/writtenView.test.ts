import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, test } from '@jest/globals';
import { ShotColour } from '../../src/config/shotColour.ts';
import { readLut } from '../../src/lut/read.ts';
import { throughSteps } from '../../src/match/candidates.ts';
import { lutDisplay } from '../../src/config/lutViews.ts';
import { derivedLog, derivedLut, undoingOf } from '../../src/match/derivedLut.ts';
import { compareToReference } from '../../src/match/referenceProof.ts';
import { deriveView } from '../../src/match/deriveView.ts';
import { writeLut, WritingError, type WrittenKind } from '../../src/match/writtenView.ts';
import { configs, frame, heap, planesOf, saveAs, hazeTruth } from './cases.ts';

const folder = mkdtempSync(join(tmpdir(), 'june-view-'));
afterAll(() => rmSync(folder, { recursive: true }));
const colour = new ShotColour();
const viewing = { display: 'sRGB', view: 'ACES SDR', exposure: 0 };
const written = (kind: WrittenKind, more: object = {}) =>
  writeLut(
    {
      colour,
      workingSpace: 'ACEScg',
      steps: colour.view('ACEScg', viewing),
      title: 'sRGB / ACES SDR',
      output: 'codes of sRGB',
      space: 'ACEScct',
      size: 33,
      kind,
      ...more,
    },
    heap,
  );

/** Colours through a LUT file by the reference colour library (OpenColorIO). */
function byReference(path: string, colours: readonly (readonly number[])[]): number[][] {
  const script = `
import sys, json
import PyOpenColorIO as ocio
config = ocio.Config.CreateRaw()
processor = config.getProcessor(ocio.FileTransform(sys.argv[1], interpolation=ocio.INTERP_TETRAHEDRAL)).getDefaultCPUProcessor()
print(json.dumps([processor.applyRGB(c) for c in json.loads(sys.argv[2])]))`;
  return JSON.parse(
    execFileSync('/usr/bin/python3', ['-c', script, path, JSON.stringify(colours)], { encoding: 'utf8' }),
  ) as number[][];
}

describe('a viewing written as a LUT', () => {
  test.each(['cube', 'clf'] as const)(
    'the reference colour library reads the .%s within the error that it is said to have',
    (kind) => {
      const path = join(folder, `view.${kind}`);
      const { text, error } = written(kind);
      writeFileSync(path, text);
      const light = [
        [0.18, 0.18, 0.18],
        [0.9, 0.1, 0.02],
        [4, 3, 2],
        [0.01, 0.02, 0.05],
      ];
      const log = [
        ...throughSteps(colour.conversion('ACEScg', 'ACEScct'), heap, 4, (i) => light[i] as [number, number, number]),
      ];
      const exact = throughSteps(colour.view('ACEScg', viewing), heap, 4, (i) => light[i] as [number, number, number]);
      byReference(
        path,
        light.map((_, i) => log.slice(3 * i, 3 * i + 3)),
      ).forEach((c, i) => c.forEach((v, k) => expect(255 * Math.abs(v - exact[3 * i + k]!)).toBeLessThan(error.max)));
      // At middle grey nothing bends much.
      byReference(path, [log.slice(0, 3)])[0]!.forEach((v, k) =>
        expect(255 * Math.abs(v - exact[k]!)).toBeLessThan(0.5),
      );
    },
  );

  test('says how far it lies from the exact view, and what light it holds; a larger one lies nearer', () => {
    const [small, large] = [written('cube', { size: 9 }), written('cube', { size: 33 })];
    expect(large.error.mean).toBeLessThan(small.error.mean / 4);
    expect(large.error.mean).toBeLessThan(0.6);
    // ACEScct 1.0 is 222.86 and 0 is −0.0069 of linear light: Academy S-2016-001, from its formulas.
    expect(small.holds[1]).toBeCloseTo(2 ** (17.52 - 9.72), 0);
    expect(small.holds[0]).toBeCloseTo((0 - 0.0729055341958355) / 10.5402377416545, 4);
  });

  test('a matrix file holds only what does not bend', () => {
    expect(() => written('spimtx')).toThrow(WritingError);
    const numbers = new ShotColour(configs[1]!.config.colour.config);
    const own = writeLut(
      {
        colour: numbers,
        workingSpace: 'ACEScg',
        steps: numbers.view('ACEScg', { display: 'sRGB', view: 'Numbers', exposure: 1 }),
        title: 'numbers',
        output: 'codes',
        space: 'ACEScg',
        size: 2,
        kind: 'spimtx',
      },
      heap,
    );
    expect(own.text.split('\n')[0]).toBe('2.000000000 0.000000000 0.000000000 0');
    expect(own.error.max).toBeLessThan(0.01);
  });

  test('a matrix with an offset is read by the reference colour library as it was meant', () => {
    const [matrix, offset] = [[0.9, 0.1, 0, 0.05, 1.1, -0.02, 0, 0.2, 0.7] as const, [-0.02, -0.01, 0.005] as const];
    const steps = [{ kind: 'matrix', matrix, offset }];
    const path = join(folder, 'solved.spimtx');
    writeFileSync(path, written('spimtx', { steps, space: 'ACEScg', workingSpace: 'ACEScg' }).text);
    const [got] = byReference(path, [[0.2, 0.4, 0.6]]);
    got!.forEach((v, r) => {
      const want = [0.2, 0.4, 0.6].reduce((n, x, c) => n + matrix[3 * r + c]! * x, offset[r]!);
      expect(v).toBeCloseTo(want, 5);
    });
  });
});

describe('a derived view kept as a show LUT', () => {
  test('it reproduces the picture, also of a frame that it did not see', () => {
    const light = frame(60, 192, 108);
    const pair = { light, picture: { ...light, planes: planesOf(saveAs(hazeTruth, light)) } };
    const derived = deriveView([pair], colour.conversion('ACEScg', 'ACEScct'), 'srgb', heap);
    const transform = readLut(new TextEncoder().encode(derivedLut(derived, 'derived')), 'derived.cube');
    const lut = { name: 'derived', from: derivedLog, encoding: 'srgb', transform } as const;
    const kept = new ShotColour(undefined, new Map(), [], [lut]);
    const steps = kept.view('ACEScg', { display: lutDisplay, view: 'derived', exposure: 0 });
    const unseen = frame(60, 192, 108, 9);
    const proof = compareToReference(
      unseen,
      steps,
      { ...unseen, planes: planesOf(saveAs(hazeTruth, unseen)) },
      'srgb',
      heap,
    );
    expect(proof.deltaE.p95).toBeLessThan(1);
    // Undone it gives back the light that it does not cut off.
    const undoing = undoingOf(transform, unseen, heap);
    expect(undoing.stops).toBeLessThan(0.05);
    expect(undoing.cutOff).toBeLessThan(0.5);
  });
});
