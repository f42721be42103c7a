import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { z } from 'zod';
import { beginRequest, takeBegun } from '../src/api/begunRequests.ts';
import { request } from '../src/api/request.ts';
import { beforehand, workersBeforehand } from '../src/start/beforehand.ts';
import { screenAt, screens } from '../src/start/screens.ts';

describe('what is begun beforehand', () => {
  test('is taken once, and made for those who come later', () => {
    let made = 0;
    const workers = beforehand(() => ++made);
    workers.begin();
    workers.begin();
    expect(made).toBe(2);
    expect([workers.take(), workers.take()].sort()).toEqual([1, 2]);
    expect(made).toBe(2);
    expect(workers.take()).toBe(3);
  });
});

describe('a worker that was begun', () => {
  test('and whose file did not come is not given out', () => {
    const made: EventTarget[] = [];
    const workers = workersBeforehand(() => {
      made.push(new EventTarget());
      return made.at(-1) as Worker;
    });
    workers.begin();
    workers.begin();
    made[1]!.dispatchEvent(new Event('error'));
    expect([workers.take(), workers.take()]).toEqual([made[0], made[2]]);
    // Whoever has taken one hears of its end by himself.
    made[0]!.dispatchEvent(new Event('error'));
    expect(made).toHaveLength(3);
  });
});

describe('a request that was begun', () => {
  const asked: string[] = [];
  const answerOf = (text: string) => Promise.resolve(new Response(JSON.stringify(text)));
  beforeEach(() => {
    asked.length = 0;
    jest.useFakeTimers();
    jest.spyOn(globalThis, 'fetch').mockImplementation((url) => {
      asked.push(String(url));
      return answerOf(`answer ${asked.length}`);
    });
  });
  afterEach(() => {
    jest.useRealTimers();
    jest.restoreAllMocks();
  });

  test('answers the first who asks for it, and nobody after', async () => {
    void beginRequest('/shots/a');
    expect(await request(z.string(), '/shots/a')).toBe('answer 1');
    expect(await request(z.string(), '/shots/a')).toBe('answer 2');
    expect(asked).toEqual(['/api/shots/a', '/api/shots/a']);
  });

  test('answers no change, and no other address', async () => {
    void beginRequest('/shots/a');
    await request(z.string(), '/shots/a', 'PATCH', {});
    await request(z.string(), '/shots/b');
    expect(asked).toHaveLength(3);
    expect(takeBegun('/shots/a')).toBeDefined();
  });

  test('is too old after a while', () => {
    void beginRequest('/shots/a');
    jest.advanceTimersByTime(5001);
    expect(takeBegun('/shots/a')).toBeUndefined();
  });

  test('that failed is said to whoever takes it, and to nobody else', async () => {
    jest.spyOn(globalThis, 'fetch').mockImplementation(() => Promise.reject(new Error('no line')));
    void beginRequest('/shots/a').catch(() => undefined);
    await expect(request(z.string(), '/shots/a')).rejects.toThrow('The server does not answer');
  });
});

describe('the screen of an address', () => {
  test.each([
    ['/', screens.shelf],
    ['/library', screens.library],
    ['/library/recipes/r', screens.library],
    ['/shots/a/intake', screens.intake],
    ['/shots/a/match', screens.match],
    ['/shots/a/build', screens.build],
    ['/shots/a/output', screens.output],
    ['/shots/a', undefined],
    ['/shots/a/build/more', undefined],
    ['/nowhere', undefined],
  ])('of %s', (path, screen) => expect(screenAt(path)).toBe(screen));
});
