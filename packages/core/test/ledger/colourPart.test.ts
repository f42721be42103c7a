import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, test } from '@jest/globals';
import { ShotColour } from '../../src/config/shotColour.ts';
import { cdlOf, colourPart, colourPartSteps } from '../../src/ledger/colourPart.ts';
import type { Entry } from '../../src/ledger/document.ts';
import { readCorrections } from '../../src/lut/cdl.ts';
import { writeCdl } from '../../src/lut/writeCdl.ts';
import { adjusted, entry, finish } from '../operations/surroundings.ts';

const colour = new ShotColour();
const grade = (name: string, adjustments: readonly object[], more: object = {}): Entry =>
  finish('grade', { name, adjustments: adjustments.map((a) => ({ enabled: true, ...a })), ...more });
const partOf = (entries: readonly Entry[]) => colourPart({ entries }, 1001);
const cdlOfAll = (entries: readonly Entry[]) => {
  const part = partOf(entries);
  return cdlOf(part, colourPartSteps(part, colour, 'ACEScg', 1001), 'ACEScg');
};

test('grades of the whole total are colour alone; all else is named, with why', () => {
  const part = partOf([
    entry('beauty'),
    grade('balance', [{ kind: 'gain', red: 1.1 }]),
    grade('far', [{ kind: 'saturation', amount: 0.5 }], { matte: 'far' }),
    grade('half', [{ kind: 'gain', red: 1.1 }], { mix: 0.5 }),
    grade('moving', [
      {
        kind: 'exposure',
        stops: {
          keys: [
            [1001, 0],
            [1010, 1],
          ],
        },
      },
    ]),
    grade('patch', [{ kind: 'gain', red: 1.1, matte: 'box' }]),
    finish('glow', { amount: 0.2 }),
    grade('off', [{ kind: 'gain', red: 2 }], { enabled: false }),
  ]);
  expect(part.grades.map((e) => e.name)).toEqual(['balance']);
  expect(part.leftOut).toEqual([
    { name: 'beauty', why: 'it brings a picture of its own' },
    { name: 'far', why: 'it acts only where the matte far is' },
    { name: 'half', why: 'it is mixed in by a part' },
    { name: 'moving', why: 'it changes over frames' },
    { name: 'patch', why: 'its gain acts only where the matte box is' },
    { name: 'glow', why: 'it looks at places or at neighbours' },
  ]);
});

describe('as a CDL', () => {
  test('exposures, gains and offsets in a row are one slope and one offset', () => {
    const made = cdlOfAll([
      grade('a', [
        { kind: 'exposure', stops: 1 },
        { kind: 'gain', red: 1.5 },
      ]),
      grade('b', [{ kind: 'offset', master: 0.01 }]),
    ])!;
    [3, 2, 2].forEach((s, c) => expect(made.slope[c]).toBeCloseTo(s, 6));
    made.offset.forEach((o) => expect(o).toBeCloseTo(0.01, 7));
    expect([made.power, made.saturation]).toEqual([[1, 1, 1], 1]);
  });
  test('what is more than that is none', () => {
    expect(cdlOfAll([grade('a', [{ kind: 'saturation', amount: 0.5 }])])).toBeUndefined();
    expect(cdlOfAll([grade('a', [{ kind: 'gamma', master: 1.2 }])])).toBeUndefined();
    expect(cdlOfAll([entry('beauty')])).toBeUndefined();
  });

  const numbers = { slope: [1.2, 0.9, 1.05], offset: [0.01, -0.02, 0], power: [1.1, 1, 0.9], saturation: 0.8 };
  const file = () => writeCdl('Landing & "quay"', cdlOfAll([grade('a', [{ kind: 'cdl', ...numbers }])])!, 'ACEScg');
  test('an own CDL goes out as it is, and reads back', () => {
    const [found] = readCorrections(new TextEncoder().encode(file()), 'a.cc');
    expect(found!.id).toBe('Landing & "quay"');
    expect(found!.transform).toMatchObject(numbers);
  });
  // The reference colour library reads the file and does to a colour what the ledger does (ASC CDL 1.2, no clamp).
  test('the reference library makes of a colour what the ledger makes', () => {
    const folder = mkdtempSync(join(tmpdir(), 'june-cdl-'));
    try {
      const path = join(folder, 'ledger.cc');
      writeFileSync(path, file());
      const program = [
        'import sys, PyOpenColorIO as o',
        't = o.CDLTransform.CreateFromFile(sys.argv[1], "")',
        't.setStyle(o.CDL_NO_CLAMP)',
        'p = o.Config.CreateRaw().getProcessor(t).getDefaultCPUProcessor()',
        'print(*p.applyRGB([0.4, 0.25, 0.1]))',
      ].join('\n');
      const theirs = execFileSync('/usr/bin/python3', ['-c', program, path], { encoding: 'utf8' })
        .split(' ')
        .map(Number);
      const [ours] = adjusted({ kind: 'cdl', ...numbers }, [[0.4, 0.25, 0.1]]);
      theirs.forEach((v, c) => expect(ours![c]).toBeCloseTo(v, 5));
    } finally {
      rmSync(folder, { recursive: true });
    }
  });
});
