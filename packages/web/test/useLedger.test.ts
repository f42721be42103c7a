/** @jest-environment jsdom */
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, cleanup, renderHook } from '@testing-library/react';
import { App } from 'antd';
import { createElement, type ReactNode } from 'react';
import { builtinColour, type LedgerDocument } from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import { newerShot } from '../src/api/shots.ts';
import { useLedger } from '../src/screens/build/useLedger.ts';

const documentNamed = (name: string): LedgerDocument => ({
  version: 1,
  entries: [
    {
      kind: 'fill',
      id: name,
      name,
      enabled: true,
      operation: 'plus',
      mix: 1,
      adjustments: [],
      colour: [0, 0, 0],
      alpha: 1,
    },
  ],
});
const shotAt = (revision: number, document: LedgerDocument, snapshot = revision): Shot => ({
  id: 'shot',
  name: 'Landing',
  firstFrame: 1001,
  lastFrame: 1004,
  places: [],
  match: { source: null, pass: null, reference: null, frame: 1001, note: '', proof: null, canUndo: false },
  rate: 24,
  width: 32,
  height: 18,
  snapshot,
  updatedAt: '2026-06-01T05:00:00.000Z',
  proofs: Object.fromEntries(
    ['intake', 'match', 'build', 'output'].map((s) => [s, { state: 'unproved', figure: '' }]),
  ) as Shot['proofs'],
  strip: [],
  workingSpace: 'ACEScg',
  viewing: { display: 'sRGB', view: 'ACES SDR', exposure: 0, black: 0, white: 1, gamma: 1, look: null, lookFile: null },
  colour: builtinColour,
  sources: [],
  ledger: { revision, document, canUndo: revision > 1, canRedo: false, summary: '' },
  balances: [],
  outputs: [],
  runs: [],
  notices: [],
});

/** What of a Response the application reads; the test environment has none. */
const reply = (status: number, body: unknown) => ({ ok: status < 400, status, json: () => Promise.resolve(body) });

/** A server that keeps revisions and refuses stale ones, as the real one does; `hold` delays its answers. */
class StandInServer {
  head = 1;
  documents = new Map([[1, documentNamed('first')]]);
  requests: string[] = [];
  hold: Promise<void> | undefined;

  readonly answer = async (path: string, init?: { method?: string; body?: string }) => {
    const body = JSON.parse(init?.body ?? '{}') as { base: number; document?: LedgerDocument };
    const name = body.document?.entries[0]?.name ?? '';
    this.requests.push(`${init?.method} ${path.replace('/api/shots/shot/', '')} ${body.base} ${name}`.trim());
    await this.hold;
    if (body.base !== this.head) return reply(409, { error: 'The ledger was changed elsewhere.' });
    if (body.document) this.documents.set(++this.head, body.document);
    else this.head--;
    return reply(200, shotAt(this.head, this.documents.get(this.head)!, 100 + this.requests.length));
  };
}

let server: StandInServer;
beforeEach(() => {
  jest.useFakeTimers();
  server = new StandInServer();
  globalThis.fetch = server.answer as unknown as typeof fetch;
});
afterEach(() => {
  cleanup();
  jest.useRealTimers();
});

const wrapper = ({ children }: { children: ReactNode }) =>
  createElement(QueryClientProvider, { client: new QueryClient() }, createElement(App, null, children));
const first = () => shotAt(1, documentNamed('first'));
const start = () => renderHook((shot: Shot) => useLedger(shot), { wrapper, initialProps: first() });
const pass = (milliseconds: number) => act(() => jest.advanceTimersByTimeAsync(milliseconds));

describe('editing of a ledger', () => {
  test('a run of changes is shown at once and becomes one revision when it rests', async () => {
    const { result } = start();
    for (const name of ['a', 'b', 'c']) {
      act(() => result.current.save(documentNamed(name), 'change'));
      await pass(100);
    }
    expect(result.current.document.entries[0]!.name).toBe('c');
    expect(server.requests).toEqual([]);
    await pass(400);
    expect(server.requests).toEqual(['PUT ledger 1 c']);
  });

  test('a change made while a save is under way follows it, on top of its revision', async () => {
    let release = () => {};
    server.hold = new Promise((done) => (release = done));
    const { result } = start();
    act(() => result.current.save(documentNamed('a'), 'change'));
    await pass(400);
    act(() => result.current.save(documentNamed('b'), 'change'));
    await pass(400);
    expect(server.requests).toEqual(['PUT ledger 1 a']);
    release();
    await pass(10);
    expect(server.requests).toEqual(['PUT ledger 1 a', 'PUT ledger 2 b']);
    expect(server.head).toBe(3);
  });

  test('undo first keeps what is resting, then goes back from it', async () => {
    const { result } = start();
    act(() => result.current.save(documentNamed('a'), 'change'));
    act(() => result.current.step('undo'));
    await pass(10);
    expect(server.requests).toEqual(['PUT ledger 1 a', 'POST ledger/undo 2']);
  });

  test('undo while a save is under way, and undo again at once: each follows in turn', async () => {
    let release = () => {};
    server.hold = new Promise((done) => (release = done));
    const { result } = start();
    act(() => result.current.save(documentNamed('a'), 'change'));
    await pass(400);
    act(() => result.current.save(documentNamed('b'), 'change'));
    act(() => result.current.step('undo'));
    act(() => result.current.step('undo'));
    expect(server.requests).toEqual(['PUT ledger 1 a']);
    release();
    await pass(10);
    expect(server.requests.slice(1)).toEqual(['PUT ledger 2 b', 'POST ledger/undo 3', 'POST ledger/undo 2']);
    expect(result.current.document.entries[0]!.name).toBe('first');
  });

  test('a refused save drops the draft: what is in force is shown again', async () => {
    const { result } = start();
    server.head = 5;
    act(() => result.current.save(documentNamed('a'), 'change'));
    await pass(400);
    expect(server.requests).toEqual(['PUT ledger 1 a']);
    expect(result.current.document.entries[0]!.name).toBe('first');
    expect(document.body.textContent).toContain('The ledger was changed elsewhere.');
  });

  test('what was kept stays shown, though an older answer comes after it', async () => {
    const { result, rerender } = start();
    act(() => result.current.save(documentNamed('a'), 'change'));
    await pass(400);
    expect(result.current.document.entries[0]!.name).toBe('a');
    rerender(first());
    expect(result.current.document.entries[0]!.name).toBe('a');
    act(() => result.current.save(documentNamed('b'), 'change'));
    await pass(400);
    expect(server.requests).toEqual(['PUT ledger 1 a', 'PUT ledger 2 b']);
  });

  test('a change begun before another changed the ledger is refused, and does not undo the other’s', async () => {
    const { result, rerender } = start();
    act(() => result.current.begin());
    server.documents.set((server.head = 2), documentNamed('theirs'));
    rerender(shotAt(2, documentNamed('theirs')));
    act(() => result.current.save(documentNamed('mine'), 'change'));
    await pass(400);
    expect(server.requests).toEqual(['PUT ledger 1 mine']);
    expect(server.documents.get(server.head)!.entries[0]!.name).toBe('theirs');
    expect(result.current.document.entries[0]!.name).toBe('theirs');
    act(() => result.current.save(documentNamed('mine again'), 'change'));
    await pass(400);
    expect(server.requests[1]).toBe('PUT ledger 2 mine again');
  });

  test('of two answers the newer is kept, in whatever order they come', () => {
    const [older, newer] = [shotAt(7, documentNamed('a'), 20), shotAt(6, documentNamed('b'), 21)];
    expect(newerShot(undefined, older)).toBe(older);
    expect(newerShot(older, newer)).toBe(newer);
    expect(newerShot(newer, older)).toBe(newer);
  });

  test('leaving the screen keeps a change that is still resting', async () => {
    const { result, unmount } = start();
    act(() => result.current.save(documentNamed('a'), 'change'));
    unmount();
    await pass(10);
    expect(server.requests).toEqual(['PUT ledger 1 a']);
  });
});
