/** @jest-environment jsdom */
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { act, cleanup, renderHook } from '@testing-library/react';
import { samePart, type Drawn } from '../src/viewer/engine/drawnPictures.ts';
import { wipedPart } from '../src/viewer/compare/WipeLine.tsx';
import { useHeld } from '../src/viewer/useHeld.ts';
import { useStored } from '../src/viewer/useStored.ts';
import { z } from 'zod';

beforeEach(() => void jest.useFakeTimers());
afterEach(() => {
  cleanup();
  jest.useRealTimers();
  localStorage.clear();
});
const pass = (milliseconds: number) => jest.advanceTimersByTime(milliseconds);
const keyup = (key = 'r') => act(() => void window.dispatchEvent(new KeyboardEvent('keyup', { key })));

describe('what is shown while a key is held', () => {
  const held = () => renderHook(() => useHeld<{ id: string }>()).result;
  const [reference, start] = [{ id: 'reference' }, { id: 'start' }];

  test('held, it goes when the key is let go, however often the key repeats itself', () => {
    const result = held();
    act(() => result.current.press(reference));
    for (let i = 0; i < 5; i++) {
      pass(100);
      act(() => result.current.press(reference));
    }
    expect(result.current.held).toBe(reference);
    keyup();
    expect(result.current.held).toBeUndefined();
  });

  test('tapped, it stays until it is tapped again; another takes its place; Escape ends it', () => {
    const result = held();
    const tap = (what: { id: string }) => {
      act(() => result.current.press(what));
      pass(50);
      keyup();
    };
    tap(reference);
    expect(result.current.held).toBe(reference);
    tap(start);
    expect(result.current.held).toBe(start);
    tap(start);
    expect(result.current.held).toBeUndefined();
    tap(reference);
    act(() => void window.dispatchEvent(new KeyboardEvent('keydown', { key: 'Escape' })));
    expect(result.current.held).toBeUndefined();
  });

  test('a key that only shifts lets nothing go; leaving the window does', () => {
    const result = held();
    act(() => result.current.press(reference));
    pass(400);
    keyup('Shift');
    expect(result.current.held).toBe(reference);
    act(() => void window.dispatchEvent(new Event('blur')));
    expect(result.current.held).toBeUndefined();
  });
});

describe('the wipe', () => {
  const corners = (angle: number, at: readonly [number, number] = [0.5, 0.5]) =>
    [...wipedPart({ at, angle }, { width: 100, height: 60 }).matchAll(/(-?[\d.]+)px (-?[\d.]+)px/g)].map((m) => [
      Number(m[1]),
      Number(m[2]),
    ]);
  /** Whether a point lies in a convex polygon. */
  const inside = (polygon: number[][], [x, y]: readonly [number, number]) => {
    const sides = polygon.map(([ax, ay], i) => {
      const [bx, by] = polygon[(i + 1) % polygon.length]!;
      return Math.sign((bx! - ax!) * (y - ay!) - (by! - ay!) * (x - ax!));
    });
    return sides.every((s) => s >= 0) || sides.every((s) => s <= 0);
  };

  test('shows the second picture right of the line, and what lies behind it when it is turned', () => {
    expect([inside(corners(0), [51, 30]), inside(corners(0), [49, 30])]).toEqual([true, false]);
    expect([inside(corners(90), [50, 31]), inside(corners(90), [50, 29])]).toEqual([true, false]);
    expect([inside(corners(180), [49, 30]), inside(corners(180), [51, 30])]).toEqual([true, false]);
    // At 45 degrees the line falls to the right.
    expect([inside(corners(45), [52, 30]), inside(corners(45), [50, 28])]).toEqual([true, false]);
    expect([inside(corners(0, [0, 0]), [1, 59]), inside(corners(0, [1, 0]), [99, 1])]).toEqual([true, false]);
  });
});

describe('two pictures of parts', () => {
  const drawn = (x: number, y: number, width: number, height: number): Drawn => ({
    width,
    height,
    window: { x, y, width, height },
    // Each pixel says where in the whole it is.
    rgba: Uint8ClampedArray.from({ length: width * height * 4 }, (_, i) => {
      const pixel = i >> 2;
      return [x + (pixel % width), y + Math.floor(pixel / width), 0, 255][i % 4]!;
    }),
    clipped: undefined,
    warned: [],
    scopes: undefined,
  });

  test('are cut to what both have, pixel on pixel', () => {
    const [a, b] = samePart(drawn(0, 0, 20, 10), drawn(5, 4, 20, 20));
    expect([a!.window, b!.window]).toEqual([
      { x: 5, y: 4, width: 15, height: 6 },
      { x: 5, y: 4, width: 15, height: 6 },
    ]);
    expect([...a!.rgba]).toEqual([...b!.rgba]);
    expect([...a!.rgba.slice(0, 2)]).toEqual([5, 4]);
  });

  test('a whole one is one from its corner; those that have nothing in common are none', () => {
    const whole = { ...drawn(0, 0, 30, 30), window: undefined };
    expect(samePart(whole, drawn(3, 3, 4, 4))[0]!.rgba).toEqual(drawn(3, 3, 4, 4).rgba);
    expect(samePart(drawn(0, 0, 3, 3), drawn(5, 5, 3, 3))).toEqual([undefined, undefined]);
  });
});

describe('what is kept in the browser', () => {
  const schema = z.object({ zoom: z.number().catch(1), name: z.string().catch('none') });
  test('is there on the next visit; what is not right has its default; another key is another thing', () => {
    localStorage.setItem('a', JSON.stringify({ zoom: 'much', name: 'kept' }));
    const first = renderHook(({ key }) => useStored(key, schema), { initialProps: { key: 'a' } });
    expect(first.result.current[0]).toEqual({ zoom: 1, name: 'kept' });
    act(() => first.result.current[1]({ zoom: 4 }));
    expect(first.result.current[0]).toEqual({ zoom: 4, name: 'kept' });
    first.rerender({ key: 'b' });
    expect(first.result.current[0]).toEqual({ zoom: 1, name: 'none' });
    act(() => first.result.current[1]({ name: 'b' }));
    const again = renderHook(() => useStored('a', schema));
    expect(again.result.current[0]).toEqual({ zoom: 4, name: 'kept' });
    expect(JSON.parse(localStorage.getItem('b')!)).toEqual({ zoom: 1, name: 'b' });
    localStorage.setItem('c', '{');
    expect(renderHook(() => useStored('c', schema)).result.current[0].zoom).toBe(1);
  });
});
