/** @jest-environment jsdom */
import { afterEach, beforeEach, expect, test } from '@jest/globals';
import type { BalanceProof } from '@june-haze/contract';
import type { Balance } from '@june-haze/core';
import { cleanup, render, screen } from '@testing-library/react';
import { standInBrowser } from './standInBrowser.ts';
import { standInShot } from './standInShot.ts';

const { BalanceRow } = await import('../src/screens/build/BalanceRow.tsx');

beforeEach(standInBrowser);
afterEach(cleanup);

const figures = { largest: 2, at: [3, 4], mean: 0.1, share: 0.103, overShare: 0.014, balanced: false } as const;
const stored = (more: object): BalanceProof =>
  ({ frame: 1001, revision: 1, ...figures, at: [3, 4], ...more }) as BalanceProof;

function says(changed: boolean, of: BalanceProof | undefined): [words: string | null, mark: string | null] {
  render(
    <BalanceRow
      shot={standInShot()}
      frame={1001}
      live={figures as unknown as Balance}
      stored={of}
      failure={undefined}
      against="beauty"
      changed={changed}
      where={false}
      onWhere={() => undefined}
      onMend={() => undefined}
    />,
  );
  const row = screen.getByTestId('balance');
  const said = [row.querySelector('.beside .clip')!.textContent, row.querySelector('svg')!.getAttribute('aria-label')];
  cleanup();
  return said as [string, string];
}

test('what is done with passes is a change until the server says whether they balance as they came; before and after say the same', () => {
  expect(says(true, undefined)).toEqual(['changed by 10.3 %; as it came is being compared', 'unproved']);
  const asCame = { ...figures, balanced: true };
  expect(says(true, stored({ asCame }))).toEqual(['balanced as it came; changed by 10.3 %', 'proved']);
  expect(says(true, stored({ asCame: { ...asCame, balanced: false } }))).toEqual(['off by 10.3 %', 'differs']);
  // A row that is missing is no change of passes: it is off at once.
  expect(says(false, undefined)).toEqual(['off by 10.3 %', 'differs']);
});
