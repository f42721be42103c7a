import { expect, test } from '@jest/globals';
import { GivenUp, OneByOne } from '../src/compute/oneByOne.ts';

test('one after the other, in order; what nobody waits for is never begun; a failure holds up nothing', async () => {
  const line = new OneByOne();
  const told: string[] = [];
  let under = 0;
  const slow = (name: string) => async () => {
    expect(++under).toBe(1);
    told.push(name);
    await new Promise((done) => setTimeout(done, 5));
    under--;
    if (name === 'torn') throw new Error('torn');
    return name;
  };
  const left = new Set<string>();
  const asked = ['a', 'torn', 'scrolled away', 'b'].map((name) => line.run(slow(name), () => left.has(name)));
  left.add('scrolled away');
  const ends = await Promise.allSettled(asked);
  expect(told).toEqual(['a', 'torn', 'b']);
  expect(ends.map((e) => (e.status === 'fulfilled' ? e.value : (e.reason as Error).message))).toEqual([
    'a',
    'torn',
    new GivenUp().message,
    'b',
  ]);
});
