/** @jest-environment jsdom */
import { expect, jest, test } from '@jest/globals';
import type { LedgerDocument, PassRole } from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import { addMenu } from '../src/screens/build/addMenu.ts';

interface Item {
  key?: string;
  label?: string;
  onClick?: () => void;
  children?: Item[];
}
const passes: [string, PassRole][] = [
  ['beauty', 'beauty'],
  ['diffuse_direct', 'diffuse-direct'],
  ['light_sun', 'light-group'],
  ['depth', 'depth'],
];
const shot = {
  sources: [
    {
      id: 's',
      name: 'landing.####.exr',
      passes: passes.map(([name, role]) => ({ name, role, part: 0, channels: [] })),
    },
  ],
} as unknown as Shot;
const empty: LedgerDocument = { version: 1, entries: [] };

function menu() {
  const save = jest.fn<(document: LedgerDocument, words: string) => void>();
  const rebuild = jest.fn<(by: string, source: string) => void>();
  const items = addMenu(shot, empty, save, rebuild).items as Item[];
  const all = (list: Item[]): Item[] => list.flatMap((i) => [i, ...all(i.children ?? [])]);
  const choose = (top: string, label: string) =>
    all(items.filter((i) => i.key === top)).find((i) => i.label === label)!.onClick!();
  return {
    items,
    save,
    rebuild,
    choose,
    labels: (top: string) => all(items.filter((i) => i.key === top)).map((i) => i.label),
  };
}

test('passes of light are offered, data is not', () => {
  expect(menu().labels('pass')).toEqual(['A pass', 'landing.####.exr', 'beauty', 'diffuse_direct', 'light_sun']);
});

test('a pass is added as light, with a readable name', () => {
  const { choose, save } = menu();
  choose('pass', 'diffuse_direct');
  const [document, words] = save.mock.calls[0]!;
  expect(document.entries).toMatchObject([
    {
      kind: 'pass',
      name: 'Diffuse direct',
      sourceId: 's',
      pass: 'diffuse_direct',
      operation: 'plus',
      mix: 1,
      enabled: true,
    },
  ]);
  expect(words).toBe('added diffuse_direct');
});

test('a light is taken out and put back as a pair that cancels', () => {
  const { choose, save } = menu();
  choose('again', 'light_sun');
  expect(save.mock.calls[0]![0].entries.map((e) => [e.name, e.operation])).toEqual([
    ['Light sun out', 'minus'],
    ['Light sun back', 'plus'],
  ]);
});

test('what a source can be rebuilt from is offered, and no more', () => {
  const { labels, choose, rebuild } = menu();
  expect(labels('rebuild').slice(1)).toEqual([
    'landing.####.exr: from light components',
    'landing.####.exr: from light groups',
    'landing.####.exr: from the beauty pass',
  ]);
  choose('rebuild', 'landing.####.exr: from light groups');
  expect(rebuild).toHaveBeenCalledWith('lights', 's');
});

test('every entry gets an id of its own', () => {
  const { choose, save } = menu();
  for (let i = 0; i < 20; i++) choose('pass', 'beauty');
  const ids = save.mock.calls.map(([d]) => d.entries[0]!.id);
  expect(new Set(ids).size).toBe(20);
});
