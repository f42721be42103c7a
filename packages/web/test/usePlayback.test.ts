/** @jest-environment jsdom */
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { act, cleanup, renderHook } from '@testing-library/react';
import type { Shot } from '@june-haze/contract';
import { usePlayback } from '../src/viewer/playing/usePlayback.ts';

const shot = { id: 'landing', firstFrame: 1001, lastFrame: 1003, rate: 25 } as Shot;
const shown: number[] = [];
const show = { current: (frame: number) => void shown.push(frame) };
beforeEach(() => {
  jest.useFakeTimers();
  shown.length = 0;
});
afterEach(() => {
  cleanup();
  jest.useRealTimers();
});
const pass = (milliseconds: number) => act(() => jest.advanceTimersByTimeAsync(milliseconds));

describe('the frame looked at', () => {
  test('playing goes past React: nothing is rendered for a frame; where it stops is the frame looked at', async () => {
    let renders = 0;
    const { result } = renderHook(() => {
      renders++;
      return usePlayback(shot, show);
    });
    const heard: number[] = [];
    const stopListening = result.current.listen(({ frame }) => heard.push(frame));
    // Every frame was drawn before.
    for (const frame of [1001, 1002, 1003]) act(() => result.current.drawn(frame));
    act(() => result.current.toggle());
    const before = renders;
    for (const frame of [1002, 1003, 1001, 1002]) {
      expect(shown.at(-1)).toBe(frame);
      result.current.drawn(frame);
      await pass(40);
    }
    expect([renders - before, result.current.playing, result.current.frame]).toEqual([0, true, 1001]);
    act(() => result.current.toggle());
    expect([result.current.playing, result.current.frame]).toEqual([false, 1003]);
    expect(heard).toEqual([1002, 1003, 1001, 1002]);
    stopListening();
    await pass(500);
    expect(shown).toHaveLength(5);
  });

  test('choosing a frame ends playing; drawn frames count as seen once', async () => {
    const { result } = renderHook(() => usePlayback(shot, show));
    act(() => result.current.toggle());
    act(() => result.current.drawn(1002));
    act(() => result.current.setFrame(1001));
    await pass(500);
    expect([result.current.playing, result.current.frame, shown]).toEqual([false, 1001, [1002]]);
    const { seen } = result.current;
    act(() => result.current.drawn(1002));
    expect(result.current.seen).toBe(seen);
  });

  test('a frame outside the range is shown as the nearest inside', () => {
    const { result } = renderHook(() => usePlayback(shot, show));
    act(() => result.current.setFrame(5000));
    expect(result.current.frame).toBe(1003);
  });

  test('leaving the screen ends playing', async () => {
    const { result, unmount } = renderHook(() => usePlayback(shot, show));
    act(() => result.current.toggle());
    act(() => result.current.drawn(1002));
    unmount();
    await pass(500);
    expect(shown).toEqual([1002]);
  });
});
