import { describe, expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import { jobJsonSchema, jobSchema, ledgerOfJob, whyNoJob } from '../src/index.ts';

const job = {
  version: 1,
  frames: [1, 2],
  working: 'ACEScg',
  sources: { render: { pattern: 'a.####.exr', space: 'ACEScg' } },
  entries: [{ kind: 'pass', source: 'render', pass: 'beauty', operation: 'plus' }],
  outputs: [{ name: 'master', kind: 'exr', pattern: 'b.####.exr' }],
};

describe('a job', () => {
  test('has defaults for what it leaves out, and its ledger places for names', () => {
    const parsed = jobSchema.parse(job);
    expect(parsed).toMatchObject({
      rate: 24,
      config: null,
      alphaFrom: null,
      mattes: {},
      sources: {
        render: { alpha: 'premultiplied', offset: 0, missing: 'stop', placement: { scale: 1, shift: [0, 0] } },
      },
      outputs: [{ space: null }],
    });
    const sub = { kind: 'subtotal', operation: 'over', entries: [{ kind: 'finish', finish: 'blur', size: 2 }] };
    expect(ledgerOfJob(jobSchema.parse({ ...job, entries: [...job.entries, sub] })).entries).toMatchObject([
      { id: 'entries 1', name: 'entries 1, beauty', sourceId: 'render', mix: 1, enabled: true, adjustments: [] },
      { id: 'entries 2', entries: [{ id: 'entries 2.1', name: 'entries 2.1, blur', finish: 'blur', size: 2 }] },
    ]);
  });

  test.each<[object, RegExp]>([
    [{ version: 2 }, /^version: /],
    [{ frames: [1] }, /^frames/],
    [{ sources: { render: { pattern: 'a', space: 'ACEScg', alpha: 'some' } } }, /^sources\.render\.alpha: /],
    [{ entries: [{ ...job.entries[0], mixx: 1 }] }, /^entries\.0: .*mixx/],
    [{ entries: [{ kind: 'finish', finish: 'blur', radius: 3 }] }, /^entries\.0: .*radius/],
    [{ mattes: { m: { kind: 'sparkle' } } }, /^mattes\.m\.kind: /],
    [{ outputs: [{ name: 'a', kind: 'exr' }] }, /^outputs\.0\.pattern: /],
    [{ size: [0, 4] }, /^size\.0: /],
  ])('%j is refused with its place', (change, words) => {
    expect(whyNoJob({ ...job, ...change })).toMatch(words);
  });

  test('the JSON schema that ships is the one that this is made of', () => {
    expect(JSON.parse(readFileSync('docs/job.schema.json', 'utf8'))).toEqual(
      JSON.parse(JSON.stringify(jobJsonSchema())),
    );
  });
});
