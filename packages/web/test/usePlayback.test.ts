/** @jest-environment jsdom */
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { act, cleanup, renderHook } from '@testing-library/react';
import type { Shot } from '@june-haze/contract';
import { usePlayback } from '../src/viewer/usePlayback.ts';

const shot = { firstFrame: 1001, lastFrame: 1003, rate: 25 } as Shot;
beforeEach(() => {
  jest.useFakeTimers();
});
afterEach(() => {
  cleanup();
  jest.useRealTimers();
});
const pass = (milliseconds: number) => act(() => jest.advanceTimersByTimeAsync(milliseconds));

describe('playing', () => {
  test('frames follow each other at the shot’s rate, and begin again after the last', async () => {
    const { result } = renderHook(() => usePlayback(shot));
    act(() => result.current.toggle());
    const shown: number[] = [];
    for (let i = 0; i < 4; i++) {
      shown.push(result.current.frame);
      act(() => result.current.drawn(result.current.frame));
      await pass(40);
    }
    expect(shown).toEqual([1002, 1003, 1001, 1002]);
    expect(result.current.measured).toBeCloseTo(25, 0);
  });

  test('a frame that is not drawn yet is waited for', async () => {
    const { result } = renderHook(() => usePlayback(shot));
    act(() => result.current.toggle());
    await pass(1000);
    expect(result.current.frame).toBe(1002);
    act(() => result.current.drawn(1002));
    await pass(40);
    expect(result.current.frame).toBe(1003);
  });

  test('stopping holds the frame, and drawn frames count as seen once', async () => {
    const { result } = renderHook(() => usePlayback(shot));
    act(() => result.current.toggle());
    act(() => result.current.drawn(1002));
    act(() => result.current.drawn(1002));
    act(() => result.current.toggle());
    expect(result.current.frame).toBe(1002);
    await pass(500);
    expect(result.current.frame).toBe(1002);
    expect([...result.current.seen]).toEqual([1002]);
    expect(result.current.measured).toBeUndefined();
  });

  test('a frame outside the range is shown as the nearest inside', () => {
    const { result } = renderHook(() => usePlayback(shot));
    act(() => result.current.setFrame(5000));
    expect(result.current.frame).toBe(1003);
  });
});
