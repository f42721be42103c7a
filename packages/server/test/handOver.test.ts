import { describe, expect, test } from '@jest/globals';
import type { OutputSettings } from '@june-haze/contract';
import { ledgerWords } from '../src/handOver/ledgerWords.ts';
import { handOverPage, type HandOver } from '../src/handOver/page.ts';
import { readItAs, type SeenThrough } from '../src/handOver/readItAs.ts';
import { masterSettings } from './landing.ts';

const seen: SeenThrough = {
  workingSpace: 'ACEScg',
  viewing: { display: 'sRGB', view: 'Haze', look: '+evening' },
  config: 'the config Tern (content 1234)',
  codes: 'srgb',
};
const words = (change: Partial<OutputSettings>, alpha = true, of: Partial<SeenThrough> = {}) =>
  readItAs({ ...masterSettings, ...change }, { ...seen, ...of }, alpha);

describe('read it as, show it with', () => {
  test.each<[Partial<OutputSettings>, string]>([
    [{}, 'linear light in ACEScg, half float, ZIP; colour is premultiplied by alpha'],
    [{ space: 'LogC4', sampleType: 'float' }, 'log numbers in LogC4, float, ZIP; colour is premultiplied by alpha'],
    [{ kind: 'aces' }, 'linear light in ACES2065-1, half float, not packed; colour is premultiplied by alpha'],
    [{ kind: 'dpx', space: 'LogC4' }, 'log numbers in LogC4, 10 bits; there is no alpha'],
    [{ kind: 'png', bits: 16 }, 'codes of sRGB, 16 bits; there is no alpha'],
    [{ kind: 'jpeg' }, 'codes of sRGB, 8 bits, quality 95 of 100; there is no alpha'],
    [{ kind: 'movie', quality: 70 }, 'codes of sRGB, 8 bits, H.264, quality 70 of 100; there is no alpha'],
    [{ kind: 'movie', codec: 'prores' }, 'codes of sRGB, 10 bits, ProRes 422; there is no alpha'],
    [
      { kind: 'movie', codec: 'prores', transparent: true },
      'codes of sRGB, 10 bits, ProRes 4444; colour is not multiplied by alpha, which stands beside it',
    ],
  ])('%j', (change, readAs) => {
    expect(words(change).readAs).toBe(readAs);
  });

  test('light needs the view, pictures have it in them', () => {
    expect(words({}).showWith).toBe(
      'the view Haze of the display sRGB, and the look +evening, of the config Tern (content 1234); it is not in the files',
    );
    expect(words({ kind: 'png' }).showWith).toBe(
      'nothing more than a display of sRGB: the view Haze and the look +evening are in the numbers already',
    );
    expect(words({}, false).readAs).toContain('there is no alpha');
    expect(words({ kind: 'movie' }, false, { codes: 'bt1886' }).readAs).toContain('codes of Rec.709, gamma 2.4');
  });
});

test('a ledger in words: what each row does, how much, where, and with which changes; subtotals hold theirs', () => {
  const row = { id: '1', enabled: true, mix: 1, operation: 'plus' as const, adjustments: [] };
  const rows = ledgerWords([
    {
      ...row,
      name: 'Lamp',
      kind: 'pass',
      sourceId: 's',
      pass: 'light_lamp',
      mix: 0.5,
      matte: 'kettle',
      adjustments: [
        { kind: 'exposure', enabled: true, stops: 1 },
        { kind: 'gain', enabled: false },
      ] as never,
    },
    { ...row, name: 'Mist', kind: 'fill', colour: [1, 1, 1], alpha: 1, enabled: false, operation: 'over' },
    {
      ...row,
      name: 'Group',
      kind: 'subtotal',
      entries: [{ ...row, name: 'Inner', kind: 'pass', sourceId: 's', pass: 'inner' }],
    },
    { id: '5', name: 'Soft', kind: 'finish', finish: 'blur', enabled: true, mix: { keys: [[1, 0]] }, size: 3 } as never,
  ]);
  expect(rows.map((r) => [r.depth, r.name, r.what, r.changes.join(), r.resting])).toEqual([
    [0, 'Lamp', 'Plus: the pass light_lamp, mixed by 0.5, where kettle is white', 'Exposure,Gain (resting)', false],
    [0, 'Mist', 'Over: one colour', '', true],
    [0, 'Group', 'Plus: a subtotal', '', false],
    [1, 'Inner', 'Plus: the pass inner', '', false],
    [0, 'Soft', 'Blur of all below, its mix keyed', '', false],
  ]);
});

describe('the page', () => {
  const hostile = '<script>alert("1")</script> & \'so\'';
  const page = (change: Partial<HandOver> = {}) =>
    handOverPage({
      shot: hostile,
      output: 'master',
      finished: '2026-11-28 09:41 UTC',
      files: 'landing.####.exr',
      frames: '1001 to 1012, 12 frames, 0.50 s',
      rate: '24 frames a second',
      size: '960 × 540',
      alphaAndSpace: words({}),
      tags: 'chromaticities say ACEScg',
      proof: { proved: true, words: '12 frames decoded again.' },
      accepted: [['It is short.', hostile]],
      changedSince: [],
      pictures: [{ title: 'As shown', words: 'frame 1001', url: 'data:image/png;base64,AAAA' }],
      sources: [{ files: hostile, frames: 'a still', space: 'ACEScg', confirmed: 'nobody', hash: 'd6a8' }],
      ledger: [{ depth: 1, name: hostile, what: 'Plus: the pass x', changes: [hostile], resting: true }],
      renderer: hostile,
      colour: [['View', hostile]],
      stages: [['Intake', '1 of 1 declared']],
      job: { name: 'landing.job.json' },
      ...change,
    });

  test('takes names and notes for text, whatever stands in them, and loads nothing', () => {
    const html = page();
    expect(html).not.toContain('<script>');
    expect(html.match(/&lt;script&gt;alert\(&quot;1&quot;\)&lt;\/script&gt; &amp; &#39;so&#39;/g)).toHaveLength(8);
    expect(html).not.toMatch(/(?:src|href)="(?!data:)/);
  });

  test('says first how it is read and shown, and whether anything changed since', () => {
    const html = page();
    expect(html.indexOf('Read it as')).toBeLessThan(html.indexOf('How far it is proved'));
    expect(html).not.toContain('Changed since');
    expect(page({ changedSince: ['the ledger'] })).toContain('Changed since it was written:</strong> the ledger.');
    expect(page({ proof: { proved: false, words: '' } })).toContain('Reads back otherwise.');
    expect(page({ job: { unsaid: 'A job has no word for it.' } })).toContain('There is no job file. A job has no word');
    expect(html).toContain('june run landing.job.json');
  });
});
