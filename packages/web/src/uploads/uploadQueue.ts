import { uploadAnswerSchema, uploadDifferenceSchema } from '@june-haze/contract';
import { Upload, type PreviousUpload } from 'tus-js-client';
import type { DroppedFile } from '../api/library.ts';
import { request } from '../api/request.ts';

/** How far a drop is. */
export interface UploadState {
  readonly stage: 'resting' | 'sending' | 'done' | 'stopped' | 'failed';
  readonly batch: string;
  readonly files: number;
  readonly filesDone: number;
  readonly bytes: number;
  readonly bytesDone: number;
  readonly bytesPerSecond: number;
  readonly message: string | undefined;
}

const resting: UploadState = {
  stage: 'resting',
  batch: '',
  files: 0,
  filesDone: 0,
  bytes: 0,
  bytesDone: 0,
  bytesPerSecond: 0,
  message: undefined,
};

/** So many files are sent at a time. */
const together = 3;
/** After a break of the line, milliseconds before each further try. */
const retryDelays = [0, 1000, 3000, 10_000, 30_000];
/** The state is told no more often. */
const quietMilliseconds = 200;

/**
 * Sends dropped files to the uploads, resumably: what is there whole is left out, what was begun is continued where it stopped, also
 * after a reload, when the same files are dropped again. One drop at a time.
 */
export class UploadQueue {
  private state = resting;
  private readonly listeners = new Set<() => void>();
  private readonly running = new Set<Upload>();
  private sent = new Map<string, number>();
  private stopped = false;
  private begun = 0;
  private told = 0;
  private readonly hash: (file: File) => Promise<string>;

  /** `hash`: SHA-256 of a file in hexadecimal digits, computed off the main thread. */
  constructor(hash: (file: File) => Promise<string>) {
    this.hash = hash;
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };
  readonly read = (): UploadState => this.state;

  /**
   * Sends files into a folder of that name among the shot's; resolves to its place in the media folders and how many files there were
   * replaced, or to undefined when it was stopped.
   */
  async send(
    shot: string,
    batch: string,
    files: readonly DroppedFile[],
  ): Promise<{ folder: string; replaced: number } | undefined> {
    this.stopped = false;
    this.sent = new Map();
    this.begun = Date.now();
    this.tell({ ...resting, stage: 'sending', batch }, true);
    try {
      const plan = { shot, batch, files: files.map((f) => ({ path: f.path, size: f.file.size })) };
      const { folder, lacking, alike } = await request(uploadAnswerSchema, '/uploads', 'POST', plan);
      const others = await this.others(shot, batch, files, new Set(alike));
      const wanted = new Set([...lacking, ...others]);
      const waiting = files.filter((f) => wanted.has(f.path));
      this.tell({ ...this.state, files: waiting.length, bytes: waiting.reduce((n, f) => n + f.file.size, 0) }, true);
      await Promise.all(Array.from({ length: together }, () => this.work(shot, batch, waiting)));
      this.tell({ ...this.state, stage: this.stopped ? 'stopped' : 'done' }, true);
      return this.stopped ? undefined : { folder, replaced: others.length };
    } catch (error) {
      this.abort();
      this.tell({ ...this.state, stage: 'failed', message: (error as Error).message }, true);
      return undefined;
    }
  }

  /** Stops; what was sent stays, and is continued when the same files are dropped again. */
  stop(): void {
    this.stopped = true;
    this.abort();
    this.tell({ ...this.state, stage: 'stopped' }, true);
  }

  /** Takes the last drop's words off the screen. */
  rest(): void {
    this.tell(resting, true);
  }

  private abort(): void {
    this.running.forEach((u) => void u.abort());
    this.running.clear();
  }

  /** Of files that are there in the same size, those that hold something else: told by content. */
  private async others(
    shot: string,
    batch: string,
    files: readonly DroppedFile[],
    alike: ReadonlySet<string>,
  ): Promise<string[]> {
    const hashed: { path: string; hash: string }[] = [];
    for (const { path, file } of files)
      if (alike.has(path) && !this.stopped) hashed.push({ path, hash: await this.hash(file) });
    if (!hashed.length) return [];
    const compare = { shot, batch, files: hashed };
    return (await request(uploadDifferenceSchema, '/uploads/compare', 'POST', compare)).others;
  }

  private async work(shot: string, batch: string, waiting: DroppedFile[]): Promise<void> {
    for (let next = waiting.shift(); next && !this.stopped; next = waiting.shift()) {
      await this.sendFile(shot, batch, next);
      this.tell({ ...this.state, filesDone: this.state.filesDone + 1 });
    }
  }

  private sendFile(shot: string, batch: string, { path, file }: DroppedFile): Promise<void> {
    return new Promise((resolve, reject) => {
      const upload = new Upload(file, {
        endpoint: '/api/files',
        metadata: { shot, batch, path },
        retryDelays,
        removeFingerprintOnSuccess: true,
        // The same file in the same place is the same upload, whatever the page it was dropped on.
        fingerprint: () => Promise.resolve(`june ${shot}/${batch}/${path} ${file.size} ${file.lastModified}`),
        onProgress: (bytes) => {
          this.sent.set(path, bytes);
          this.progress();
        },
        onError: (error) => {
          this.running.delete(upload);
          if (this.stopped) resolve();
          else reject(new Error(`${path} could not be sent: ${plainWords(error)}`));
        },
        onSuccess: () => {
          this.running.delete(upload);
          this.sent.set(path, file.size);
          this.progress();
          resolve();
        },
      });
      this.running.add(upload);
      const begin = (before?: PreviousUpload) => {
        if (before) upload.resumeFromPreviousUpload(before);
        if (this.stopped) resolve();
        else upload.start();
      };
      // Where the browser keeps nothing of earlier pages, it is sent from its beginning.
      upload.findPreviousUploads().then(
        (before) => begin(before[0]),
        () => begin(),
      );
    });
  }

  private progress(): void {
    let bytesDone = 0;
    for (const n of this.sent.values()) bytesDone += n;
    const seconds = (Date.now() - this.begun) / 1000;
    this.tell({ ...this.state, bytesDone, bytesPerSecond: seconds > 0.5 ? bytesDone / seconds : 0 });
  }

  private tell(state: UploadState, now = false): void {
    this.state = state;
    if (!now && Date.now() - this.told < quietMilliseconds) return;
    this.told = Date.now();
    this.listeners.forEach((l) => l());
  }
}

/** What the server said, without the protocol's words around it. */
function plainWords(error: Error): string {
  return /response text: (.*?), request id/s.exec(error.message)?.[1] ?? 'the server does not answer.';
}

/** A folder's name for a drop: that of the dropped folder, or the shot's for loose files. */
export function batchName(files: readonly DroppedFile[], shot: string): string {
  const tops = new Set(files.map((f) => (f.path.includes('/') ? f.path.slice(0, f.path.indexOf('/')) : '')));
  const [only] = tops.size === 1 ? [...tops] : [];
  const name = (only || shot).replace(/[/\\\0]/g, '_').replace(/^[.\s]+|\s+$/g, '');
  return name.slice(0, 100) || 'dropped';
}

/** Paths below the dropped folder, when everything lies in one. */
export function withinBatch(files: readonly DroppedFile[], batch: string): DroppedFile[] {
  const prefix = `${batch}/`;
  return files.every((f) => f.path.startsWith(prefix))
    ? files.map((f) => ({ ...f, path: f.path.slice(prefix.length) }))
    : [...files];
}
