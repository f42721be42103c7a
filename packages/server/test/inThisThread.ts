import type { TaskRunner } from '../src/compute/ask.ts';
import type { ComputePool } from '../src/compute/pool.ts';
import * as colourTasks from '../src/compute/colourTasks.ts';

type PixelTask = (name: string, task: never) => unknown;

/** A pool whose questions of colours are answered in this thread, cloned as between threads; what touches pixels is the test's own. */
export const poolHere = (pixels: PixelTask): ComputePool =>
  ({
    threads: 2,
    run: async (name: string, task: never) =>
      name in colourTasks
        ? structuredClone(colourTasks[name as keyof typeof colourTasks](structuredClone(task)))
        : pixels(name, task),
  }) as unknown as ComputePool;

export const inThisThread: TaskRunner = poolHere((name) => {
  throw new Error(`${name} was not expected`);
});
