/** @jest-environment jsdom */
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { App } from 'antd';
import { builtinColour } from '@june-haze/core';
import type { Shot } from '@june-haze/contract';

import { standInBrowser, standInServer, type Sent } from './standInBrowser.ts';

const { MemoryRouter } = await import('react-router');
const { ColourSettings } = await import('../src/colour/ColourSettings.tsx');

let sent: Sent[] = [];
const shot = {
  id: 'shot',
  workingSpace: 'ACEScg',
  viewing: { display: 'sRGB', view: 'ACES SDR', exposure: 0, black: 0, white: 1, gamma: 1, look: null, lookFile: null },
  colour: builtinColour,
  ledger: { document: { version: 1, entries: [] } },
} as unknown as Shot;
const looks = [
  {
    id: 'a'.repeat(32),
    kind: 'cdl',
    name: 'dusk.cc',
    version: 1,
    createdAt: '',
    facts: { files: ['dusk.cc'], bytes: 9, about: '1 correction', problems: [] },
    use: { as: 'look', space: 'ACEScct' },
    usedBy: [],
  },
];

beforeEach(() => {
  standInBrowser();
  sent = standInServer({ '/library': looks });
});
afterEach(cleanup);

function show() {
  render(
    <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
      <MemoryRouter>
        <App>
          <ColourSettings shot={shot} />
        </App>
      </MemoryRouter>
    </QueryClientProvider>,
  );
}
describe('a shot’s colour settings', () => {
  test('a display keeps the view where it has one of that name, else takes its first', async () => {
    show();
    fireEvent.mouseDown(screen.getByLabelText('Display'));
    fireEvent.click(await screen.findByText('Rec.2100 PQ'));
    await waitFor(() => expect(sent).toHaveLength(1));
    expect(sent[0]).toMatchObject({
      path: '/api/shots/shot',
      body: { viewing: { display: 'Rec.2100 PQ', view: 'ACES HDR 1000 nits' } },
    });
  });

  test('spaces that are not linear cannot be chosen to work in, and say so', async () => {
    show();
    fireEvent.mouseDown(screen.getByLabelText('Working space'));
    fireEvent.change(screen.getByLabelText('Working space'), { target: { value: 'sRGB' } });
    const option = (await screen.findByText('sRGB (not linear)')).closest('.ant-select-item-option')!;
    expect(option.className).toContain('disabled');
    fireEvent.click(option);
    expect(sent).toEqual([]);
  });

  test('a look file goes with the space that it expects', async () => {
    show();
    await waitFor(() => expect(globalThis.fetch).toHaveBeenCalled());
    fireEvent.mouseDown(screen.getByLabelText('Look file'));
    fireEvent.click(await screen.findByText('dusk.cc, on ACEScct'));
    await waitFor(() => expect(sent).toHaveLength(1));
    expect(sent[0]!.body).toMatchObject({
      viewing: { lookFile: { id: looks[0]!.id, name: 'dusk.cc', space: 'ACEScct' } },
    });
  });
});
