import type { Plane } from '@june-haze/core';
import type { Answer, FromWorker, Task, ToWorker } from './messages.ts';
import { pictureWorkers } from './workerStarts.ts';

/** A worker that ended under its task. */
export class WorkerDied extends Error {
  constructor() {
    super('A part of the page that draws pictures ended; it was begun again.');
    this.name = 'WorkerDied';
  }
}

interface Member {
  worker: Worker;
  readonly waiting: Map<number, { resolve(answer: FromWorker): void; reject(error: Error): void }>;
}

/** The picture workers: tasks and answers by number, planes told to all, one that dies replaced. */
export class PictureWorkers {
  private readonly members: Member[];
  private nextId = 1;
  /** The planes that are held, for one that comes new. */
  private readonly planes: () => (readonly [string, Plane])[];

  constructor(count: number, planes: () => (readonly [string, Plane])[]) {
    this.planes = planes;
    this.members = Array.from({ length: count }, () => this.begin());
  }

  get count(): number {
    return this.members.length;
  }

  hold(planes: readonly (readonly [string, Plane])[]): void {
    this.tell({ kind: 'hold', planes });
  }

  drop(keys: readonly string[]): void {
    this.tell({ kind: 'drop', keys });
  }

  /** Throws the worker's sentence, or `WorkerDied`. */
  async ask<K extends Task['kind']>(
    index: number,
    task: Extract<Task, { kind: K }>,
  ): Promise<Extract<Answer, { kind: K }>> {
    const member = this.members[index]!;
    const id = this.nextId++;
    const answer = await new Promise<FromWorker>((resolve, reject) => {
      member.waiting.set(id, { resolve, reject });
      member.worker.postMessage({ ...task, id } as ToWorker);
    });
    if (answer.kind === 'error') throw new Error(answer.message);
    return answer as unknown as Extract<Answer, { kind: K }>;
  }

  /** A task for all of them; waits for all, then throws the first fault. */
  async askAll<K extends Task['kind']>(
    task: (worker: number) => Extract<Task, { kind: K }>,
  ): Promise<Extract<Answer, { kind: K }>[]> {
    const all = await Promise.allSettled(this.members.map((_, i) => this.ask(i, task(i))));
    return all.map((a) => {
      if (a.status === 'rejected') throw a.reason;
      return a.value;
    });
  }

  dispose(): void {
    for (const { worker, waiting } of this.members) {
      worker.terminate();
      waiting.clear();
    }
  }

  private tell(message: ToWorker): void {
    for (const { worker } of this.members) worker.postMessage(message);
  }

  private begin(): Member {
    const member: Member = { worker: pictureWorkers.take(), waiting: new Map() };
    this.listen(member);
    return member;
  }

  private listen(member: Member): void {
    member.worker.onmessage = ({ data }: MessageEvent<FromWorker>) => {
      member.waiting.get(data.id)?.resolve(data);
      member.waiting.delete(data.id);
    };
    member.worker.onerror = () => {
      member.worker.terminate();
      member.worker = pictureWorkers.take();
      this.listen(member);
      member.worker.postMessage({ kind: 'hold', planes: this.planes() } satisfies ToWorker);
      const waiting = [...member.waiting.values()];
      member.waiting.clear();
      waiting.forEach(({ reject }) => reject(new WorkerDied()));
    };
  }
}
