import { expect, test } from '@jest/globals';
import { GivenUp, InOrder } from '../src/compute/inOrder.ts';

test.each([1, 3])(
  '%i at a time, in order; what nobody waits for is never begun; a failure holds up nothing',
  async (width) => {
    const line = new InOrder(width);
    const told: string[] = [];
    let [under, most] = [0, 0];
    const slow = (name: string) => async () => {
      most = Math.max(most, ++under);
      told.push(name);
      await new Promise((done) => setTimeout(done, 5));
      under--;
      if (name === 'torn') throw new Error('torn');
      return name;
    };
    const left = new Set<string>();
    const names = ['a', 'torn', 'c', 'scrolled away', 'd'];
    const asked = names.map((name) => line.run(slow(name), () => left.has(name)));
    left.add('scrolled away');
    const ends = await Promise.allSettled(asked);
    expect(told).toEqual(['a', 'torn', 'c', 'd']);
    expect(most).toBe(width);
    expect(ends.map((e) => (e.status === 'fulfilled' ? e.value : (e.reason as Error).message))).toEqual([
      'a',
      'torn',
      'c',
      new GivenUp().message,
      'd',
    ]);
  },
);
