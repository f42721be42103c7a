/** @jest-environment jsdom */
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { QueryClient } from '@tanstack/react-query';
import type { ServerEvent, Shot } from '@june-haze/contract';
import { listen, openStream } from '../src/api/eventStream.ts';
import { outageKey } from '../src/api/outage.ts';
import { takeEvent } from '../src/api/ServerEvents.tsx';
import { shelfKey, shotKey } from '../src/api/shots.ts';

/** A stream of events that the test speaks through. */
class HeldStream {
  static last: HeldStream;
  onopen?: () => void;
  onerror?: () => void;
  onmessage?: (line: { data: string }) => void;
  closed = false;
  constructor() {
    HeldStream.last = this;
  }
  close(): void {
    this.closed = true;
  }
  say(event: object): void {
    this.onmessage!({ data: JSON.stringify(event) });
  }
}
const frame = {
  frame: 1002,
  state: 'done' as const,
  message: null,
  milliseconds: 3,
  bytes: 9,
  readBack: null,
  by: null,
};
const written: ServerEvent = {
  kind: 'frame',
  shotId: 's',
  runId: 'r',
  frame,
  proof: { state: 'unproved', figure: 'writing 1 of 2' },
};
const waiting = (n: number) => ({ ...frame, frame: n, state: 'waiting' as const, milliseconds: null, bytes: null });
const shot = () =>
  ({
    id: 's',
    viewing: { display: 'sRGB' },
    sources: [{ id: 'a' }],
    proofs: { intake: { state: 'proved' }, output: { state: 'unproved', figure: 'not written' } },
    runs: [
      { id: 'r', frames: [waiting(1001), waiting(1002)] },
      { id: 'q', frames: [waiting(1002)] },
    ],
  }) as unknown as Shot;

let queries: QueryClient;
let asked: jest.Mock<(filter: unknown) => Promise<void>>;
beforeEach(() => {
  queries = new QueryClient();
  asked = jest.fn(() => Promise.resolve());
  queries.invalidateQueries = asked as never;
});

describe('what an event fetches', () => {
  test('a written frame fetches nothing, and nothing of the shot that pixels depend on becomes another', () => {
    const held = shot();
    queries.setQueryData(shotKey('s'), held);
    takeEvent(queries, written);
    const now = queries.getQueryData<Shot>(shotKey('s'))!;
    expect(asked).not.toHaveBeenCalled();
    expect(now.runs[0]!.frames.map((f) => f.state)).toEqual(['waiting', 'done']);
    expect(now.runs[1]).toBe(held.runs[1]);
    expect(now.proofs.output.figure).toBe('writing 1 of 2');
    expect([now.sources, now.viewing]).toEqual([held.sources, held.viewing]);
    expect(now.sources === held.sources && now.viewing === held.viewing).toBe(true);
  });

  test('a frame of a shot that is not held is passed over', () => {
    takeEvent(queries, written);
    expect(queries.getQueryData(shotKey('s'))).toBeUndefined();
  });

  test('a shot, the shelf and the Library fetch themselves', () => {
    takeEvent(queries, { kind: 'shot', shotId: 's' });
    takeEvent(queries, { kind: 'shelf' });
    takeEvent(queries, { kind: 'library' });
    expect(asked.mock.calls.map(([f]) => (f as { queryKey: unknown }).queryKey)).toEqual([
      shotKey('s'),
      shelfKey,
      ['library'],
    ]);
  });

  test('a database that goes is said; when it is back everything is asked anew', () => {
    takeEvent(queries, { kind: 'database', there: false });
    expect(queries.getQueryData(outageKey)).toBe('database');
    expect(asked).not.toHaveBeenCalled();
    takeEvent(queries, { kind: 'database', there: true });
    expect(queries.getQueryData(outageKey)).toBe('none');
    expect(asked).toHaveBeenCalledTimes(1);
  });
});

describe('the stream', () => {
  const before = globalThis.EventSource;
  beforeEach(() => void Object.assign(globalThis, { EventSource: HeldStream }));
  afterEach(() => void Object.assign(globalThis, { EventSource: before }));

  test('events are told; a break and its end too, the first opening is none', () => {
    const heard: string[] = [];
    const close = listen({
      event: (e) => heard.push(e.kind),
      lost: () => heard.push('lost'),
      gap: () => heard.push('gap'),
    });
    const stream = HeldStream.last;
    stream.onopen!();
    stream.say({ kind: 'shelf' });
    stream.onerror!();
    stream.onopen!();
    // What a newer server says is as good as a gap.
    stream.say({ kind: 'unheard of' });
    expect(heard).toEqual(['shelf', 'lost', 'gap', 'gap']);
    close();
    expect(stream.closed).toBe(true);
  });

  test('a page that is opened while the server is away goes on when it is there', () => {
    const heard: string[] = [];
    const close = listen({ event: () => undefined, lost: () => heard.push('lost'), gap: () => heard.push('gap') });
    HeldStream.last.onerror!();
    HeldStream.last.onopen!();
    expect(heard).toEqual(['lost', 'gap']);
    close();
  });

  test('tabs share one stream through a shared worker', () => {
    const ports: { onmessage?: (m: { data: unknown }) => void; said: unknown[] }[] = [];
    class HeldWorker {
      port = {
        said: [] as unknown[],
        start: () => undefined,
        close: () => undefined,
        postMessage(m: unknown) {
          this.said.push(m);
        },
      };
      constructor() {
        ports.push(this.port);
      }
    }
    Object.assign(globalThis, { SharedWorker: HeldWorker });
    const opened = HeldStream.last;
    const heard: string[] = [];
    const close = listen({ event: (e) => heard.push(e.kind), lost: () => undefined, gap: () => heard.push('gap') });
    ports[0]!.onmessage!({ data: { kind: 'event', data: JSON.stringify({ kind: 'shelf' }) } });
    expect(heard).toEqual(['shelf']);
    expect(HeldStream.last).toBe(opened);
    close();
    expect(ports[0]!.said).toEqual(['leave']);
    Object.assign(globalThis, { SharedWorker: undefined });
    expect(typeof openStream(() => undefined)).toBe('function');
  });
});
