import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { Player, type Played } from '../src/viewer/playing/player.ts';

const shown: number[] = [];
let told: Played[] = [];
const range = { first: 1001, last: 1003, rate: 25, way: 'loop' } as const;
let player: Player;

beforeEach(() => {
  jest.useFakeTimers();
  shown.length = 0;
  told = [];
  player = new Player(
    1001,
    range,
    (f) => shown.push(f),
    (p) => told.push(p),
  );
});
afterEach(() => {
  player.end();
  jest.useRealTimers();
});
const pass = (milliseconds: number) => jest.advanceTimersByTime(milliseconds);

describe('playing', () => {
  test('frames follow each other at the shot’s rate, and begin again after the last', () => {
    player.begin();
    for (let i = 0; i < 5; i++) {
      player.drawn(player.frame);
      pass(40);
    }
    expect(shown).toEqual([1002, 1003, 1001, 1002, 1003, 1001]);
    expect(told.at(-1)).toMatchObject({ frame: 1003, dropped: 0 });
    expect(told.at(-1)!.measured).toBeCloseTo(25, 0);
  });

  test('a frame that is not drawn yet is waited for; what is late counts as dropped and does not move those after it', () => {
    player.begin();
    player.drawn(1002);
    pass(40);
    // 1003 comes 100 ms after its time: two frames' time is lost.
    pass(100);
    expect(shown).toEqual([1002, 1003]);
    player.drawn(1003);
    expect(told.at(-1)).toMatchObject({ frame: 1003, dropped: 1 });
    // The one after it is late itself and comes at once; its own next is due by the clock: at 160 ms.
    pass(0);
    expect(shown).toEqual([1002, 1003, 1001]);
    player.drawn(1001);
    pass(19);
    expect(shown).toHaveLength(3);
    pass(1);
    expect(shown).toEqual([1002, 1003, 1001, 1002]);
  });

  test('the same frame drawn again does not move it', () => {
    player.begin();
    player.drawn(1002);
    player.drawn(1002);
    pass(40);
    expect([shown, told.length]).toEqual([[1002, 1003], 1]);
  });

  test('a frame in whose place another came is asked for again: playing does not stand still', () => {
    player.begin();
    player.drawn(1002);
    pass(40);
    // The page kept a change meanwhile, and asked for the frame that it knows of.
    player.drawn(1001);
    expect([shown, told.length]).toEqual([[1002, 1003, 1003], 1]);
    player.drawn(1003);
    pass(40);
    expect([shown, told.length]).toEqual([[1002, 1003, 1003, 1001], 2]);
  });

  test('at its end nothing more is shown', () => {
    player.begin();
    player.drawn(1002);
    player.end();
    pass(500);
    expect(shown).toEqual([1002]);
  });
});
