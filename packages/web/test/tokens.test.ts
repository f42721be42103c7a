import { readFileSync } from 'node:fs';
import { describe, expect, test } from '@jest/globals';

const css = readFileSync('packages/web/src/styles/tokens.css', 'utf8');
const [, light = '', dim = ''] = /:root \{(.*?)\}\s*:root\[data-theme='dim'\] \{(.*?)\}/s.exec(css) ?? [];
const colours = (block: string) =>
  new Map([...block.matchAll(/--([\w-]+): (#[0-9a-f]{6});/g)].map((m) => [m[1]!, m[2]!]));

/** WCAG 2.2, "relative luminance". */
function luminance(hex: string): number {
  const [r, g, b] = [1, 3, 5].map((i) => {
    const v = parseInt(hex.slice(i, i + 2), 16) / 255;
    return v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4;
  });
  return 0.2126 * r! + 0.7152 * g! + 0.0722 * b!;
}
/** WCAG 2.2, "contrast ratio". */
function contrast(a: string, b: string): number {
  const [low, high] = [luminance(a), luminance(b)].sort((x, y) => x - y);
  return (high! + 0.05) / (low! + 0.05);
}

describe.each([
  ['light', colours(light)],
  ['dim', new Map([...colours(light), ...colours(dim)])],
])('the colours of the %s theme', (_, theme) => {
  const of = (name: string) => theme.get(name)!;
  const grounds = ['page', 'panel', 'raised', 'paper', 'hover'];
  // Success criterion 1.4.3 asks for 4.5 for text of this size.
  test.each(grounds.flatMap((g) => ['ink', 'quiet'].map((t) => [t, g])))('%s is read on %s', (text, ground) => {
    expect(contrast(of(text), of(ground))).toBeGreaterThanOrEqual(4.5);
  });

  test('a number is read on a field of any difference', () => {
    for (const name of ['ochre-ground', 'paper']) expect(contrast(of('ink'), of(name))).toBeGreaterThanOrEqual(4.5);
  });
});
