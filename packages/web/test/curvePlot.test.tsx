/** @jest-environment jsdom */
import { afterEach, beforeEach, expect, jest, test } from '@jest/globals';
import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { standInBrowser } from './standInBrowser.ts';

const { CurvePlot } = await import('../src/screens/build/CurvePlot.tsx');
const { IncomingContext } = await import('../src/screens/build/useIncoming.ts');
type Points = readonly (readonly [number, number])[];

beforeEach(standInBrowser);
afterEach(cleanup);

function open(points: Points) {
  const saved = jest.fn<(points: Points) => void>();
  render(<CurvePlot channel="master" label="Curves" points={points} onDraft={() => undefined} onSave={saved} />);
  return saved;
}
const middle = () => screen.getByRole('slider', { name: 'Curves, point 2' });

test('a point goes the arrow’s way, and stays between its neighbours: the curve rises', () => {
  const saved = open([
    [0, 0],
    [0.4, 0.3],
    [1, 1],
  ]);
  fireEvent.keyDown(middle(), { key: 'ArrowUp' });
  fireEvent.keyDown(middle(), { key: 'ArrowRight', shiftKey: true });
  expect(saved.mock.calls.map(([p]) => p[1])).toEqual([
    [0.4, 0.31],
    [0.5, 0.3],
  ]);
  for (const key of ['ArrowDown', 'ArrowLeft', 'x'])
    for (let i = 0; i < 8; i++) fireEvent.keyDown(middle(), { key, shiftKey: true });
  expect(saved.mock.calls.every(([p]) => p[1]![0] > 0 && p[1]![1] >= 0)).toBe(true);
  cleanup();
  const low = open([
    [0, 0.2],
    [0.05, 0.2],
    [1, 1],
  ]);
  fireEvent.keyDown(middle(), { key: 'ArrowDown' });
  fireEvent.keyDown(middle(), { key: 'ArrowLeft', shiftKey: true });
  expect(low.mock.calls.map(([p]) => p[1])).toEqual([
    [0.05, 0.2],
    [0.001, 0.2],
  ]);
});

test('a double click adds a point where it is; the line runs through the points that there are', () => {
  const saved = open([
    [0, 0],
    [1, 1],
  ]);
  // The test's browser lays nothing out: the plot's corner is at 0, its height 0.
  fireEvent.doubleClick(screen.getByRole('group'), { clientX: 110, clientY: -60 });
  expect(saved.mock.calls[0]![0]).toEqual([
    [0, 0],
    [0.5, 0.5],
    [1, 1],
  ]);
  const line = document.querySelector('polyline')!.getAttribute('points')!.split(' ');
  expect([line.length, line[0], line.at(-1)]).toEqual([81, '7,113', '213,7']);
});

test('points that make no curve are still there to be moved', () => {
  open([
    [0, 1],
    [1, 0],
  ]);
  expect(document.querySelector('polyline')!.getAttribute('points')).toBe('');
  expect(screen.getAllByRole('slider')).toHaveLength(2);
});

test('behind the curve lies how often each number comes, and stops are named where they fit', () => {
  const even = Float32Array.from({ length: 100 }, (_, i) => (i < 90 ? 0.25 : 0.75));
  const none = new Float32Array(0);
  // A log space of a tenth a stop, grey in its middle.
  const incoming = { colours: [even, none, none] as const, grey: (v: number) => 0.5 + 0.1 * Math.log2(v / 0.18) };
  const shown = (channel: 'red' | 'green') =>
    render(
      <IncomingContext value={incoming}>
        <CurvePlot
          channel={channel}
          label="Curves"
          points={[
            [0, 0],
            [1, 1],
          ]}
          onDraft={() => undefined}
          onSave={() => undefined}
        />
      </IncomingContext>,
    ).container;
  const heights = (of: HTMLElement) =>
    of
      .querySelector('.bars')!
      .getAttribute('points')!
      .split(' ')
      .map((p) => Number(p.split(',')[1]));
  const red = heights(shown('red')).slice(1, -1);
  const top = Math.min(...red);
  expect(red.indexOf(top)).toBe(Math.floor(0.25 * red.length));
  expect(red.filter((y) => y < Math.max(...red))).toHaveLength(2);
  expect(new Set(heights(shown('green'))).size).toBe(1);
  const names = [...shown('red').querySelectorAll('text')].map((t) => t.textContent);
  expect(names).toEqual(expect.arrayContaining(['grey', '+2', '−2', '+4', '−4']));
  expect(names).not.toContain('+1');
});
