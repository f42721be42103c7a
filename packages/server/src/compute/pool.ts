import { availableParallelism } from 'node:os';
import { Piscina } from 'piscina';
import type * as Tasks from './worker.ts';
import { yieldingThread } from './yielding.ts';

type Task = keyof typeof Tasks;

/** So often a task is begun before its thread's death is taken to be its own fault. */
const tries = 6;

/** Whether an error says that a thread ended, rather than that its task failed. */
const isDeath = (error: unknown): boolean =>
  error instanceof Error &&
  (/worker exited|terminating worker/i.test(error.message) ||
    (error as { code?: unknown }).code === 'ERR_WORKER_OUT_OF_MEMORY');

/** Worker threads for everything that touches pixels: the main thread only answers. */
export class ComputePool {
  private readonly pool: Piscina;
  readonly threads: number;

  /** `yields`: its threads stand back wherever others have something to do. */
  constructor(
    workerFile: string,
    threads = Math.max(2, availableParallelism()),
    { yields = false }: { yields?: boolean } = {},
  ) {
    this.threads = threads;
    const env = yields ? { env: { ...process.env, [yieldingThread]: '1' } } : {};
    this.pool = new Piscina({
      filename: workerFile,
      minThreads: yields ? 1 : threads,
      maxThreads: threads,
      idleTimeout: 60_000,
      ...env,
    });
    // Faults of a thread reach whoever waits for its task; between tasks they are only said.
    this.pool.on('error', (error: Error) => console.error('a compute thread:', error.message));
  }

  /** Runs a task on a thread. A thread that dies under it is replaced, and the task begun again on another. */
  async run<T extends Task>(
    name: T,
    task: Parameters<(typeof Tasks)[T]>[0],
  ): Promise<Awaited<ReturnType<(typeof Tasks)[T]>>> {
    for (let tried = 1; ; tried++) {
      try {
        return (await this.pool.run(task, { name })) as Awaited<ReturnType<(typeof Tasks)[T]>>;
      } catch (error) {
        if (!isDeath(error) || tried === tries) throw error;
        console.error(`a compute thread ended under ${name}; it is replaced, and the task begun again`);
      }
    }
  }

  close(): Promise<void> {
    return this.pool.destroy();
  }
}
