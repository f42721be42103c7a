import { execFileSync } from 'node:child_process';
import { appendFileSync, mkdtempSync, readFileSync, rmSync, utimesSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, expect, test } from '@jest/globals';
import { lookAtFiles } from '../src/index.ts';

const folder = mkdtempSync(join(tmpdir(), 'june-growing-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const at = (name: string) => join(folder, name);
/** A frame as a renderer writes it, by the reference image library. */
const whole = (() => {
  execFileSync('oiiotool', [
    '--pattern',
    'noise',
    '320x180',
    '3',
    '-d',
    'half',
    '--compression',
    'zip',
    '-o',
    at('whole.exr'),
  ]);
  return readFileSync(at('whole.exr'));
})();
const look = async (name: string) => (await lookAtFiles([{ path: at(name), file: name, frame: 1 }]))[0]!;

test('a frame that becomes longer while it is looked at is still being written, not damaged', async () => {
  let written = Math.floor(whole.length * 0.4);
  writeFileSync(at('grows.exr'), whole.subarray(0, written));
  const writer = setInterval(() => {
    appendFileSync(at('grows.exr'), whole.subarray(written, written + 512));
    written += 512;
  }, 20);
  const seen = await look('grows.exr');
  clearInterval(writer);
  expect(seen).toMatchObject({
    frame: 1,
    fault: { kind: 'growing', message: 'grows.exr: it is still being written.' },
  });
  // Once it is whole it is like any other.
  writeFileSync(at('grows.exr'), whole);
  expect(await look('grows.exr')).toMatchObject({ facts: { width: 320, height: 180, missingChunks: 0 } });
});

test('a frame that was cut short and stays so is not taken for one in the making', async () => {
  writeFileSync(at('cut.exr'), whole.subarray(0, Math.floor(whole.length * 0.6)));
  const timed = async () => {
    const begin = performance.now();
    return { seen: await look('cut.exr'), took: performance.now() - begin };
  };
  // The least of some: another's work on the machine makes any one of them long.
  const least = async (first: number) => {
    let found = first;
    for (let i = 0; i < 4; i++) found = Math.min(found, (await timed()).took);
    return found;
  };
  const young = await timed();
  expect('facts' in young.seen && young.seen.facts.missingChunks).toBeGreaterThan(0);
  const youngTook = await least(young.took);
  // An old file is not watched at all.
  utimesSync(at('cut.exr'), new Date(2026, 0, 1), new Date(2026, 0, 1));
  const old = await timed();
  expect(old.seen).toMatchObject({ facts: { missingChunks: expect.any(Number) as unknown as number } });
  expect(await least(old.took)).toBeLessThan(youngTook);
});
