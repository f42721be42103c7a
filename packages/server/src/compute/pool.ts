import { availableParallelism } from 'node:os';
import { Piscina } from 'piscina';
import type * as Tasks from './worker.ts';

type Task = keyof typeof Tasks;

/** Worker threads for everything that touches pixels: the main thread only answers. */
export class ComputePool {
  private readonly pool: Piscina;
  readonly threads: number;

  constructor(workerFile: string, threads = Math.max(2, availableParallelism())) {
    this.threads = threads;
    this.pool = new Piscina({ filename: workerFile, minThreads: 1, maxThreads: threads, idleTimeout: 60_000 });
  }

  run<T extends Task>(
    name: T,
    task: Parameters<(typeof Tasks)[T]>[0],
  ): Promise<Awaited<ReturnType<(typeof Tasks)[T]>>> {
    return this.pool.run(task, { name }) as Promise<Awaited<ReturnType<(typeof Tasks)[T]>>>;
  }

  close(): Promise<void> {
    return this.pool.destroy();
  }
}
