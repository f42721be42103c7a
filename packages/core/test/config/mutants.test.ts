import { describe, expect, test } from '@jest/globals';
import { ColourConfig } from '../../src/config/colourConfig.ts';
import { parseConfig } from '../../src/config/parseConfig.ts';
import { ColourFileError } from '../../src/config/place.ts';
import { readLut } from '../../src/lut/read.ts';
import { selfContainedSteps } from '../../src/transform/fileSteps.ts';
import { landingConfig, landingFiles, oldConfig, oldFiles } from './configs.ts';
import { lutFiles } from './lutFiles.ts';

/** Numbers from a seed; the same in every run. */
function randomFrom(seed: number): () => number {
  let state = seed * 2654435761;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 4294967296;
  };
}

/** A text damaged in one of the ways that files are: bytes changed, a piece lost, doubled or put elsewhere, numbers made absurd. */
function damage(text: string, random: () => number): string {
  const at = Math.floor(random() * text.length);
  const length = 1 + Math.floor(random() ** 3 * 200);
  switch (Math.floor(random() * 6)) {
    case 0:
      return text.slice(0, at) + String.fromCharCode(Math.floor(random() * 256)) + text.slice(at + 1);
    case 1:
      return text.slice(0, at) + text.slice(at + length);
    case 2:
      return text.slice(0, at) + text.slice(at, at + length) + text.slice(at);
    case 3:
      return text.slice(0, at);
    case 4:
      return text.replace(/\d+/g, (n) =>
        random() < 0.02 ? ['-1', '1e99', '99999999999', '0', 'nan', '0x10'][Math.floor(random() * 6)]! : n,
      );
    default:
      return text.replace(/[\[\]{}:<>"]/g, (c) => (random() < 0.01 ? '' : c));
  }
}

/** Runs something that may only succeed or throw a ColourFileError; gives what happened and how much of a processor it took: other programs' turns do not count. */
function attempt(run: () => unknown): { threw: boolean; milliseconds: number } {
  const started = process.cpuUsage();
  let threw = false;
  try {
    run();
  } catch (e) {
    if (!(e instanceof ColourFileError)) throw e;
    expect(e.message.length).toBeGreaterThan(10);
    expect(e.message).not.toMatch(/undefined(?! entity)/);
    threw = true;
  }
  return { threw, milliseconds: process.cpuUsage(started).user / 1000 };
}

const bytes = (text: string) => new TextEncoder().encode(text);

describe('damaged files are refused in a sentence, or read; nothing else happens', () => {
  test.each(lutFiles.filter((f) => f.content.length < 60_000).map((f) => [f.name, f.content] as const))(
    '150 mutants of %s',
    (name, content) => {
      const random = randomFrom(name.length * 7 + content.length);
      let refused = 0;
      for (let i = 0; i < 150; i++) {
        const mutant = damage(content, random);
        const result = attempt(() => selfContainedSteps(readLut(bytes(mutant), name, { correction: undefined })));
        if (result.threw) refused++;
        expect(result.milliseconds).toBeLessThan(2000);
      }
      // Damage is mostly noticed: a reader that took everything would not be a reader.
      expect(refused).toBeGreaterThan(10);
    },
  );

  test.each([
    ['version 2', landingConfig, landingFiles],
    ['version 1', oldConfig, oldFiles],
  ])('400 mutants of a config of %s', (_, text, files) => {
    const random = randomFrom(text.length);
    const read = (path: string) => (files[path] === undefined ? undefined : bytes(files[path]));
    let problems = 0;
    for (let i = 0; i < 400; i++) {
      const mutant = damage(text, random);
      const result = attempt(() => {
        const config = new ColourConfig(parseConfig(mutant, 'config.ocio'), { read });
        if (config.problems().length > 0) problems++;
        config.activeDisplays();
        config.ruleFor('a/b_ACEScg.exr');
      });
      expect(result.milliseconds).toBeLessThan(3000);
    }
    expect(problems).toBeGreaterThan(40);
  });

  test('bytes that are no text at all', () => {
    const random = randomFrom(5);
    const noise = Uint8Array.from({ length: 4000 }, () => Math.floor(random() * 256));
    for (const { name } of lutFiles) expect(attempt(() => readLut(noise, name)).threw).toBe(true);
    expect(attempt(() => parseConfig(new TextDecoder().decode(noise), 'config.ocio')).threw).toBe(true);
  });

  test('anchors that multiply are stopped, not followed', () => {
    const lines = ['a0: &a0 [x, x, x, x, x, x, x, x, x, x]'];
    for (let i = 1; i < 12; i++)
      lines.push(
        `a${i}: &a${i} [${Array(10)
          .fill(`*a${i - 1}`)
          .join(', ')}]`,
      );
    const result = attempt(() => parseConfig(lines.join('\n'), 'config.ocio'));
    expect(result.threw).toBe(true);
    expect(result.milliseconds).toBeLessThan(10_000);
  });

  test('entities of XML do not reach outside or multiply', () => {
    const xml =
      '<!DOCTYPE x [<!ENTITY a "1 1 1"><!ENTITY f SYSTEM "file:///etc/passwd">]><ColorCorrection><SOPNode><Slope>&f;</Slope></SOPNode></ColorCorrection>';
    expect(attempt(() => readLut(bytes(xml), 'x.cc')).threw).toBe(true);
  });
});
