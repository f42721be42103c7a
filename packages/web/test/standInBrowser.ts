import { jest } from '@jest/globals';
import { TextDecoder, TextEncoder } from 'node:util';

/** As much of a message channel as the lists' scrolling asks for. */
class QuickChannel {
  port1: { onmessage?: () => void } = {};
  port2 = { postMessage: () => void setTimeout(() => this.port1.onmessage?.(), 0) };
}

// The test environment lacks what the router and the lists ask for when they are loaded.
Object.assign(globalThis, { TextEncoder, TextDecoder, MessageChannel: QuickChannel });
const { getComputedStyle } = window;

/** What the interface's packages ask of a browser and the test environment does not have. Call before each test. */
export function standInBrowser(): void {
  window.getComputedStyle = (element) => getComputedStyle(element);
  window.matchMedia = ((query: string) => ({
    matches: false,
    media: query,
    addListener() {},
    removeListener() {},
  })) as never;
  globalThis.ResizeObserver = class {
    observe() {}
    unobserve() {}
    disconnect() {}
  };
}

/** A request that changes something. */
export interface Sent {
  readonly path: string;
  readonly method: string;
  readonly body: unknown;
}

/** Answers requests by the end of their path, `{}` otherwise, and keeps those that change something. */
export function standInServer(answers: Readonly<Record<string, unknown>>): Sent[] {
  const sent: Sent[] = [];
  globalThis.fetch = jest.fn((path: string, init?: { body?: string; method?: string }) => {
    if (init?.method && init.method !== 'GET')
      sent.push({ path, method: init.method, body: init.body === undefined ? undefined : JSON.parse(init.body) });
    const answer = Object.entries(answers).find(([end]) => path.endsWith(end))?.[1] ?? {};
    const failed = answer instanceof Error;
    return Promise.resolve({
      ok: !failed,
      status: failed ? 400 : 200,
      json: () => Promise.resolve(failed ? { message: answer.message } : answer),
      text: () => Promise.resolve(''),
    });
  }) as never;
  return sent;
}
