import { describe, expect, test } from '@jest/globals';
import { asCame, changesPasses } from '../../src/balance/asCame.ts';
import { faultWords, isMended, mend } from '../../src/balance/mend.ts';
import { countsOf, partsDocument, rowsAlone } from '../../src/balance/parts.ts';
import { rebuildLedger, renderOverRender } from '../../src/balance/rebuild.ts';
import { startWords } from '../../src/balance/starts.ts';
import { compilePlan } from '../../src/ledger/compile.ts';
import { walkEntries, type LedgerDocument, type PassEntry } from '../../src/ledger/document.ts';
import { entry, evaluated, finish, inputsOf, pass, source } from '../operations/surroundings.ts';

let made = 0;
const newId = () => `row ${made++}`;
const render = source({
  passes: [
    pass('beauty', 'beauty', 'RGB'),
    pass('diffuse', 'diffuse', 'RGB'),
    pass('specular', 'specular', 'RGB'),
    pass('light_sun', 'light-group', 'RGB'),
    pass('albedo', 'albedo', 'RGB'),
    pass('depth', 'depth', 'Z'),
  ],
});
const exposure = { kind: 'exposure', enabled: true, stops: 1 };
const passesIn = (d: LedgerDocument) => [...walkEntries(d.entries)].map((e) => (e.kind === 'pass' ? e.pass : e.kind));

test('a rebuild takes the passes of its way, begins with the beauty’s alpha and balances against it', () => {
  const components = rebuildLedger(render, 'components', newId)!;
  expect(passesIn(components)).toEqual(['diffuse', 'specular']);
  expect(components).toMatchObject({
    alphaFrom: { sourceId: 's', pass: 'beauty' },
    balanceAgainst: { sourceId: 's', pass: 'beauty' },
  });
  expect(passesIn(rebuildLedger(render, 'lights', newId)!)).toEqual(['light_sun']);
  expect(rebuildLedger({ ...render, passes: [] }, 'lights', newId)).toBeUndefined();
});

test('renders go over each other by their alpha, above the first picture that covers everything', () => {
  expect(renderOverRender([render], newId)).toBeUndefined();
  const cut = { ...render, id: 't', name: 'smoke', passes: [pass('beauty', 'beauty', 'RGBA')] };
  const still = { ...render, id: 'u', name: 'still' };
  const laid = renderOverRender([cut, render, still], newId)!;
  expect(laid.entries.map((e) => [e.name, e.kind !== 'finish' && e.operation])).toEqual([
    ['landing', 'over'],
    ['smoke', 'over'],
  ]);
});

describe('as they came', () => {
  const base = rebuildLedger(render, 'components', newId)!;
  const worked: LedgerDocument = {
    ...base,
    version: 2,
    entries: [
      { ...base.entries[0]!, mix: 0.5, adjustments: [exposure] } as never,
      entry('specular', { operation: 'minus', matte: 'm' }),
      entry('specular', { adjustments: [exposure] }),
      base.entries[1]!,
      entry('sky', { sourceId: 'plate', operation: 'under' }),
      finish('blur', { size: 3 }),
    ],
  };
  test('adjustments, mattes, mixes, finishes and what other sources bring are gone', () => {
    const came = asCame(worked)!;
    expect(passesIn(came)).toEqual(['diffuse', 'specular', 'specular', 'specular']);
    expect(came.entries.every((e) => e.mix === 1 && !e.matte && e.adjustments?.length === 0)).toBe(true);
    // What is taken out and put back counts once.
    expect(Object.fromEntries(countsOf(came.entries))).toEqual({ diffuse: 1, specular: 1 });
  });
  test('a plain sum changes nothing, anything else does', () => {
    expect(changesPasses(base)).toBe(false);
    expect(changesPasses(worked)).toBe(true);
    for (const one of [finish('blur', { size: 3 }), entry('specular', { mix: 0.5 }), entry('x', { sourceId: 'plate' })])
      expect(changesPasses({ ...base, entries: [...base.entries, one] })).toBe(true);
  });
});

test('each row of what a balance is made of is evaluated alone, from the same inputs', () => {
  const rebuilt = rebuildLedger(render, 'components', newId)!;
  const plan = compilePlan(partsDocument(rebuilt, render), [render], 'ACEScg');
  const level: Record<string, number> = { beauty: 3, diffuse: 1, specular: 2, light_sun: 3, albedo: 0.5 };
  const inputs = inputsOf(plan, (channel) => new Float32Array(4).fill(level[channel.split('.')[0]!]!));
  const found = [...rowsAlone(plan)].map(([id, alone]) => [
    id,
    evaluated(alone, inputs, { width: 2, height: 2 })[0]![0],
  ]);
  expect(found).toEqual([
    ['the total', 3],
    ['the beauty', 3],
    ['part diffuse', 1],
    ['part specular', 2],
    ['part light_sun', 3],
    ['part albedo', 0.5],
  ]);
});

describe('mending', () => {
  const base = rebuildLedger(render, 'components', newId)!;
  test('what is missing goes before the finishes; a product is a subtotal', () => {
    const finished = { ...base, entries: [...base.entries, finish('blur', { size: 3 })] };
    expect(passesIn(mend(finished, { kind: 'missing', pass: 'coat' }, 's', newId))).toEqual([
      'diffuse',
      'specular',
      'coat',
      'finish',
    ]);
    const product = mend(finished, { kind: 'missing', pass: 'lighting', by: 'albedo' }, 's', newId).entries[2]!;
    expect(
      product.kind === 'subtotal' && product.entries.map((e) => e.kind === 'pass' && [e.pass, e.operation]),
    ).toEqual([
      ['lighting', 'plus'],
      ['albedo', 'multiply'],
    ]);
  });
  test('what stands there switched off is switched on', () => {
    const off = { ...base, entries: base.entries.map((e) => ({ ...e, enabled: false })) };
    const { entries } = mend(off, { kind: 'missing', pass: 'specular' }, 's', newId);
    expect(entries.map((e) => e.enabled)).toEqual([false, true]);
  });
  test('what counts twice is switched off where it was added last', () => {
    const doubled = { ...base, entries: [...base.entries, entry('specular')] };
    const { entries } = mend(doubled, { kind: 'twice', pass: 'specular' }, 's', newId);
    expect(entries.map((e) => e.enabled)).toEqual([true, true, false]);
  });
  test('another exposure is an exposure of each of its rows; of a pass that has none, a row with it', () => {
    const { entries } = mend(base, { kind: 'exposure', pass: 'specular', stops: -1 }, 's', newId);
    expect(entries[1]!.adjustments).toMatchObject([{ kind: 'exposure', stops: -1 }]);
    const added = mend(base, { kind: 'exposure', pass: 'coat', stops: 0.5 }, 's', newId).entries[2]!;
    expect(added).toMatchObject({ pass: 'coat', adjustments: [{ kind: 'exposure', stops: 0.5 }] });
  });
  test('an exposure that puts a pass right is not asked for again, for as long as it does', () => {
    const fault = { kind: 'exposure', pass: 'specular', stops: -1 } as const;
    const source = base.balanceAgainst!.sourceId;
    const mended = mend(base, fault, source, newId);
    expect(isMended(base, fault)).toBe(false);
    expect(isMended(mended, fault)).toBe(true);
    // What is done with the light behind it does not matter; found on another frame it is a little else.
    expect(isMended(mended, { ...fault, stops: -1.002 })).toBe(true);
    expect(isMended(mended, { ...fault, stops: -0.9 })).toBe(false);
    const [first, second] = mended.entries as [PassEntry, PassEntry];
    const off = { ...second, adjustments: second.adjustments.map((a) => ({ ...a, enabled: false })) };
    expect(isMended({ ...mended, entries: [first, off] }, fault)).toBe(false);
    // One of two rows is not enough.
    expect(isMended({ ...mended, entries: [first, second, entry('specular')] }, fault)).toBe(false);
    expect(faultWords(fault, { mended: true })).toBe(
      'specular is in another exposure: its row puts that right by −1 stops.',
    );
  });
  test('each is a sentence', () => {
    expect(faultWords({ kind: 'missing', pass: 'volume' })).toBe('volume is missing.');
    expect(faultWords({ kind: 'exposure', pass: 'sun', stops: -0.5 })).toBe(
      'sun is in another exposure: it balances with −0.5 stops.',
    );
  });
});

test('a way to begin says what it adds up, how it balances and what was left out', () => {
  const document = rebuildLedger(render, 'components', newId)!;
  const figures = { largest: 0, at: [0, 0], mean: 0, share: 0, overShare: 0, balanced: true } as const;
  expect(startWords('components', document, figures, [{ kind: 'twice', pass: 'gloss' }])).toEqual({
    title: 'Light components summed',
    words: 'diffuse + specular balances to half rounding; with gloss it would count twice.',
  });
  expect(startWords('components', document, { ...figures, balanced: false, share: 0.042 }, []).words).toBe(
    'diffuse + specular is off by 4.2 %.',
  );
});
