import { expect, test } from '@jest/globals';
import type { FileFacts, FileLook } from '@june-haze/core';
import { lookAtMember } from '../src/survey/look.ts';

const passes = (name: string) => [{ name, part: 0, channels: [{ name: 'R', type: 'half' }] }];

test('frames of one make share their passes, as thousands of copies would be kept and described one by one', async () => {
  const frames = Array.from({ length: 200 }, (_, i) => i + 1);
  const member = { pass: null, sequence: { pattern: 'boat.####.exr', frames, start: 1, step: 1 } };
  const { looks } = await lookAtMember(member as never, {
    locate: (file) => Promise.resolve(`/${file}`),
    // As they come from a thread: each a copy of its own.
    look: (files) =>
      Promise.resolve(
        files.map(({ file, frame }): FileLook => {
          const facts = { bytes: frame, passes: passes(frame === 7 ? 'depth' : 'beauty') };
          return { file, frame, facts: facts as unknown as FileFacts };
        }),
      ),
    findRepeats: (files) => {
      expect(files[6]).toEqual({ file: 'boat.0007.exr', frame: 7, bytes: 7 });
      return Promise.resolve([]);
    },
  });
  const found = looks.map((l) => ('facts' in l ? l.facts.passes : undefined));
  expect(found).toHaveLength(200);
  expect(new Set(found).size).toBe(2);
  expect(found[6]).toEqual(passes('depth'));
});
