/** @jest-environment jsdom */
import { describe, expect, test } from '@jest/globals';
import { drawInspected, Heap, prepareSteps, ShotColour, shownSteps } from '@june-haze/core';
import { sourceOfRun, type Shot } from '@june-haze/contract';
import { renderHook } from '@testing-library/react';
import { createTwinKernels } from '../../core/src/kernel/load.ts';
import { evaluated, inputsOf } from '../../core/test/operations/surroundings.ts';
import { quickComparisons, referenceOf } from '../src/viewer/compare/quick.ts';
import { sightChoices } from '../src/viewer/sightChoices.tsx';
import { nameOf, sightOf, type Sight, type SightChoice, type SightPlace } from '../src/viewer/sights.ts';
import { useSights } from '../src/viewer/useSights.ts';
import { standInRun, standInShot, standInSource } from './standInShot.ts';

const colour = new ShotColour();
const size = { width: 8, height: 4 };
const nothing: SightPlace['off'] = [];
const placeOf = (shot: Shot, more: Partial<SightPlace> = {}): SightPlace => ({
  shot,
  document: shot.ledger.document,
  colour,
  size,
  frame: 1001,
  off: nothing,
  plain: false,
  ...more,
});
const sight = (choice: SightChoice, shot = standInShot(), more: Partial<SightPlace> = {}) =>
  sightOf(choice, placeOf(shot, more));

/** sun is 0.2, haze and all else 0.1: what is read of a channel. */
const samples = (channel: string) => new Float32Array(32).fill(channel.startsWith('sun') ? 0.2 : 0.1);
function total({ plans }: Sight): Float32Array[] {
  const plan = plans.at(1001);
  return evaluated(plan, inputsOf(plan, samples), size);
}
const red = (of: Sight) => total(of)[0]![0]!;
/** The red code that a sight is drawn as. */
function code(of: Sight): number {
  const heap = new Heap(createTwinKernels());
  const planes = total(of).map((p) => heap.placeFloats(p)) as unknown as Parameters<typeof drawInspected>[0];
  const view = prepareSteps(shownSteps(colour, 'ACEScg', of.showing), heap);
  const rgba = new Uint8Array(4 * 32);
  const luminance = colour.luminance('ACEScg');
  drawInspected(planes, 32, rgba, { inspection: { kind: 'colour' }, view, luminance, heap });
  return rgba[0]!;
}
/** The piecewise curve of IEC 61966-2-1, clause 5.2. */
const encoded = (v: number) => (v <= 0.0031308 ? 12.92 * v : 1.055 * v ** (1 / 2.4) - 0.055);

describe('what is looked at', () => {
  test('the total is light, through the shot’s viewing', () => {
    const of = sight({ of: { kind: 'total' } });
    expect([of.name, of.light, of.notes]).toEqual(['Total', true, []]);
    // 0.2 a stop up, and 0.1.
    expect(red(of)).toBeCloseTo(0.5, 6);
    expect(code(of)).toBe(Math.round(255 * encoded(0.5)));
  });

  test('the reference is shown untouched, whatever it is declared and the viewing is', () => {
    const choice: SightChoice = { of: { kind: 'reference', sourceId: 'approved' } };
    const of = sight(choice, standInShot(), { off: ['view'], plain: true });
    expect([of.light, of.notes]).toEqual([false, ['shown untouched']]);
    expect(red(of)).toBe(Math.fround(0.1));
    expect(code(of)).toBe(Math.round(25.5));
    expect(() => sight({ of: { kind: 'reference', sourceId: 'gone' } })).toThrow('no longer in the shot');
  });

  test('a reference of another size is fitted, and says how', () => {
    const shot = standInShot();
    const large = standInSource('approved', { ...shot.sources[1], width: 16, height: 8 });
    const of = sight(
      { of: { kind: 'reference', sourceId: 'approved' } },
      { ...shot, sources: [shot.sources[0]!, large] },
    );
    expect(of.notes).toEqual(['shown untouched', '16×8 resampled to 8×4 (Mitchell)']);
    const placed = standInSource('approved', {
      ...large,
      reading: { use: 'reference', placement: { scale: 1, shift: [0, 0] } },
    });
    const own = sight(
      { of: { kind: 'reference', sourceId: 'approved' } },
      { ...shot, sources: [shot.sources[0]!, placed] },
    );
    expect(own.plans.at(1001)).not.toEqual(of.plans.at(1001));
  });

  test('a source as it is, or declared otherwise: its numbers are read so', () => {
    const shot = standInShot({ sources: [standInSource('render', { declaredSpace: 'sRGB' })] });
    const beauty: SightChoice = { of: { kind: 'pass', sourceId: 'render', pass: 'haze' } };
    const linear = (v: number) => ((v + 0.055) / 1.055) ** 2.4;
    expect(red(sight(beauty, shot))).toBeCloseTo(linear(0.1), 5);
    expect(red(sight({ ...beauty, asItIs: true }, shot))).toBe(Math.fround(0.1));
    expect(red(sight({ ...beauty, spaces: { render: null } }, shot))).toBe(Math.fround(0.1));
    expect(red(sight({ ...beauty, spaces: { render: 'ACEScg' } }, shot))).toBe(Math.fround(0.1));
    expect(red(sight({ ...beauty, spaces: { another: 'ACEScg' } }, shot))).toBeCloseTo(linear(0.1), 5);
  });

  test('another frame, viewing, parts switched off', () => {
    const of = sight({ of: { kind: 'total' }, later: -10, viewing: { view: 'ACES SDR' }, off: ['look'] }, undefined, {
      off: ['exposure'],
    });
    expect([of.later, of.showing.viewing.view, of.showing.off]).toEqual([-10, 'ACES SDR', ['exposure', 'look']]);
  });

  test('other orders: codes are summed, not light; a change comes on the codes', () => {
    const summed = sight({ of: { kind: 'total' }, order: 'encoded sum' });
    expect(red(summed)).toBeCloseTo(encoded(0.4) + encoded(0.1), 4);
    expect(code(summed)).toBe(Math.round(255 * Math.min(1, encoded(0.4) + encoded(0.1))));
    const first = sight({ of: { kind: 'total' }, order: 'view first' });
    expect(red(first)).toBeCloseTo(encoded(0.4) + encoded(0.1), 4);
    const after = sight({ of: { kind: 'unchanged', entry: 'sun' }, order: 'change after view', entry: 'sun' });
    // A stop on the code of 0.2 + 0.1.
    expect(code(after)).toBe(Math.round(255 * Math.min(1, 2 * encoded(0.3))));
    expect(summed.notes.concat(first.notes, after.notes)).toHaveLength(3);
    const gone: SightChoice = { of: { kind: 'total' }, order: 'change after view', entry: 'gone' };
    expect(() => sight(gone)).toThrow('no longer in the ledger');
  });

  test('files of an output: numbers in the space that they were written in, codes of a picture untouched', () => {
    const choice = (outputId: string): SightChoice => ({ of: { kind: 'output', outputId } });
    expect(() => sight(choice('master'))).toThrow('has not been written');
    const shot = standInShot({
      runs: [
        standInRun('review', { changedSince: ['the ledger'] }),
        standInRun('master', { frames: [] }),
        standInRun('master'),
      ],
    });
    const master = sight(choice('master'), shot);
    expect([master.light, master.notes]).toEqual([true, ['numbers of the file, read as ACES2065-1']]);
    expect(Object.keys(master.stamps)).toEqual([sourceOfRun('run of master')]);
    // Grey is grey in both spaces.
    expect(red(master)).toBeCloseTo(0.1, 6);
    const review = sight(choice('review'), shot);
    expect(review.notes).toEqual(['what they were made of has changed since', 'codes of the file, untouched']);
    expect([review.light, code(review)]).toEqual([false, Math.round(25.5)]);
    const more = standInShot({
      runs: [standInRun('master', { frames: [1, 2].map((frame) => ({ frame, state: 'done' })) as never })],
    });
    expect(sight(choice('master'), more).stamps).not.toEqual(master.stamps);
    // A part of the picture lies in the middle of it, and another display's codes say that they are not this one's.
    const [, other] = shot.outputs;
    const part = { ...other!, crop: { x: 0, y: 0, width: 4, height: 2 }, codes: 'bt1886' as const };
    const seen = sight(choice('review'), { ...shot, outputs: [shot.outputs[0]!, part] });
    expect(seen.notes.join()).toMatch(/codes of the file, untouched: Rec\.709, gamma 2\.4, not this display’s own/);
  });

  test('names say what is other than usual', () => {
    const of = (choice: SightChoice) =>
      nameOf(choice, { shot: standInShot(), document: placeOf(standInShot()).document });
    expect(of({ of: { kind: 'pass', sourceId: 'render', pass: 'haze' }, later: -1 })).toBe(
      'haze of render, 1 frame before',
    );
    expect(of({ of: { kind: 'row', entry: 'sun' }, off: ['look', 'view'] })).toBe('sun alone, look, view off');
    expect(of({ of: { kind: 'without', entry: 'sun', adjustment: 0 } })).toBe('Without sun’s adjustment 1');
    expect(of({ of: { kind: 'total' }, viewing: { view: 'ACES SDR' }, plain: true })).toBe(
      'Total, sRGB / ACES SDR, plain view',
    );
    expect(of({ of: { kind: 'row', entry: 'gone' } })).toBe('a row that is gone alone');
  });
});

describe('sights', () => {
  const inputs = (shot: Shot, frame = 1001) => ({ ...placeOf(shot), frame, colourKey: undefined as never });

  test('are the same object for as long as they are made of the same, so that finished pictures are found again', () => {
    const shot = standInShot();
    const { result, rerender } = renderHook(useSights, { initialProps: inputs(shot) });
    const choice: SightChoice = { of: { kind: 'total' } };
    const first = result.current(choice);
    // Another frame, and an answer of the server that changes nothing of what is seen.
    rerender(inputs({ ...shot, name: 'Another' }, 1002));
    expect(result.current({ ...choice })).toBe(first);
    rerender(inputs({ ...shot, viewing: { ...shot.viewing, exposure: 1 } }));
    expect(result.current(choice)).not.toBe(first);
  });

  test('of files are others when the run has gone on; what cannot be made is an error with a sentence', () => {
    const shot = standInShot();
    const { result, rerender } = renderHook(useSights, { initialProps: inputs(shot) });
    const choice: SightChoice = { of: { kind: 'output', outputId: 'master' } };
    expect(result.current(choice)).toEqual(new Error('This output has not been written.'));
    rerender(inputs({ ...shot, runs: [standInRun('master')] }));
    const first = result.current(choice);
    expect(first).not.toBeInstanceOf(Error);
    rerender(inputs({ ...shot, runs: [standInRun('master', { changedSince: ['the ledger'] })] }));
    expect(result.current(choice)).not.toBe(first);
  });
});

describe('the list of what can be looked at', () => {
  const shot = standInShot({ runs: [standInRun('master')] });
  const list = sightChoices({
    shot,
    document: shot.ledger.document,
    colour,
    frame: 1001,
    first: { of: { kind: 'total' } },
  });

  test('every line is another thing, and each can be made', () => {
    expect(new Set(list.map((c) => c.key)).size).toBe(list.length);
    for (const { key } of list) {
      const made = sight(JSON.parse(key) as SightChoice, shot);
      expect(() => made.plans.at(1001)).not.toThrow();
      expect(made.name).not.toBe('');
    }
  });

  test('has the ledger, its rows, passes, the reference, written outputs, frames, views and spaces', () => {
    expect([...new Set(list.map((c) => c.group))]).toEqual([
      'The ledger',
      'References',
      'Files of outputs',
      'Rows of the ledger',
      'Passes of render',
      'The same of another frame',
      'The same through another view',
      'render declared otherwise',
    ]);
    const of = (group: string) => list.filter((c) => c.group === group).map((c) => c.label);
    // An output that is not written has no files; the present view and space are no others.
    expect(of('Files of outputs')).toEqual(['Files of master']);
    expect(of('The same through another view').length).toBeGreaterThan(3);
    expect(list.some((c) => c.note === 'sRGB' && c.label === 'Untoned')).toBe(false);
    expect(of('render declared otherwise')).not.toContain('ACEScg');
    expect(of('Rows of the ledger')).toContain('Matte of sun');
    expect(of('Rows of the ledger')).not.toContain('Matte of haze');
  });
});

describe('the comparisons that have a key', () => {
  const shot = standInShot();
  const quick = (row?: string, first: SightChoice = { of: { kind: 'total' } }) =>
    quickComparisons({ shot, document: shot.ledger.document, first, row, adjustment: undefined });
  const of = (id: string, row?: string) => quick(row).find((q) => q.id === id)!;

  test('have a key each', () => {
    const keys = quick('sun').map((q) => q.keys);
    expect(new Set(keys).size).toBe(keys.length);
  });

  test('with a row open each shows something; without one, those of a row say what to do', () => {
    for (const { choice } of quick('sun')) expect(() => sight(choice!).plans.at(1001)).not.toThrow();
    expect(of('row off').why).toBe('Open a row of the ledger first.');
    expect(of('matte', 'haze')).toMatchObject({ choice: undefined, why: 'This row has no matte.' });
    expect(of('change after view', 'haze').why).toBe('This row has no adjustments.');
  });

  test('show what they say', () => {
    const shown = (id: string) => red(sight(of(id, 'sun').choice!));
    expect(shown('row off')).toBeCloseTo(0.1, 6);
    expect(shown('row alone')).toBeCloseTo(0.4, 6);
    expect(shown('above')).toBe(0);
    // Brighter than 0.1: the matte acts in whole.
    expect(shown('matte')).toBe(1);
    expect(shown('start')).toBeCloseTo(0.3, 6);
    expect(sight(of('view off').choice!).showing.off).toEqual(['view', 'look']);
    expect(referenceOf(shot)).toBe('approved');
  });

  test('a shot without a reference says how to get one', () => {
    const bare = { ...shot, sources: [shot.sources[0]!] };
    const all = quickComparisons({
      shot: bare,
      document: shot.ledger.document,
      first: { of: { kind: 'total' } },
      row: undefined,
      adjustment: undefined,
    });
    expect(all.find((q) => q.id === 'reference')).toMatchObject({
      choice: undefined,
      why: expect.stringContaining('Intake'),
    });
  });
});
