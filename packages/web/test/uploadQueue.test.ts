/** @jest-environment jsdom */
import { beforeEach, describe, expect, jest, test } from '@jest/globals';
import { standInBrowser, standInServer, type Sent } from './standInBrowser.ts';

/** What the queue asks of an upload, as the library takes it. */
interface Options {
  metadata: { shot: string; batch: string; path: string };
  fingerprint(): Promise<string>;
  onProgress(bytes: number): void;
  onError(error: Error): void;
  onSuccess(): void;
}

/** Uploads as the page makes them; a test lets each go on. */
class StandInUpload {
  static all: StandInUpload[] = [];
  static earlier: object[] | undefined = [];
  static most = 0;
  private static under = 0;
  readonly file: File;
  readonly options: Options;
  aborted = false;
  continued: object | undefined;

  constructor(file: File, options: Options) {
    this.file = file;
    this.options = options;
    StandInUpload.all.push(this);
  }
  findPreviousUploads = () =>
    StandInUpload.earlier ? Promise.resolve(StandInUpload.earlier) : Promise.reject(new Error('storage is shut'));
  resumeFromPreviousUpload(upload: object): void {
    this.continued = upload;
  }
  start(): void {
    StandInUpload.most = Math.max(StandInUpload.most, ++StandInUpload.under);
  }
  abort(): Promise<void> {
    this.aborted = true;
    StandInUpload.under--;
    this.options.onError(new Error('aborted'));
    return Promise.resolve();
  }
  end(error?: Error): void {
    StandInUpload.under--;
    if (error) this.options.onError(error);
    else this.options.onSuccess();
  }
  static begin(): void {
    [this.all, this.earlier, this.most, this.under] = [[], [], 0, 0];
  }
}
jest.unstable_mockModule('tus-js-client', () => ({ Upload: StandInUpload }));
const { UploadQueue } = await import('../src/uploads/uploadQueue.ts');

const dropped = (path: string, content: string) => ({ path, file: new File([content], path.split('/').at(-1)!) });
const files = ['a', 'b', 'c', 'd', 'e'].map((n) => dropped(`landing/${n}.exr`, n.repeat(10)));
const all = files.map((f) => f.path);
const turn = () => new Promise((done) => setTimeout(done, 0));
const names = () => StandInUpload.all.map((u) => u.options.metadata.path);
/** Lets everything that is sent come through, as it is begun. */
async function comeThrough(): Promise<void> {
  for (let done = 0; ; done++) {
    for (let i = 0; i < 5; i++) await turn();
    const next = StandInUpload.all[done];
    if (!next) return;
    next.options.onProgress(next.file.size);
    next.end();
  }
}

let sent: Sent[];
const answer = (lacking: string[], alike: string[] = [], others: string[] = []) => {
  sent = standInServer({
    '/uploads': { folder: 'uploads/s/landing', lacking, alike },
    '/uploads/compare': { others },
  });
};
const queue = () => new UploadQueue((file) => Promise.resolve(`hash of ${file.name}`));

beforeEach(() => {
  standInBrowser();
  StandInUpload.begin();
});

describe('dropped files', () => {
  test('are sent three at a time, each to its place, and the drop says how far it is', async () => {
    answer(all);
    const uploads = queue();
    const stages: string[] = [];
    uploads.subscribe(() => stages.push(uploads.read().stage));
    const end = uploads.send('s', 'landing', files);
    await comeThrough();
    expect(await end).toEqual({ folder: 'uploads/s/landing', replaced: 0 });
    expect([names(), StandInUpload.most]).toEqual([all, 3]);
    expect(sent[0]!.body).toEqual({ shot: 's', batch: 'landing', files: all.map((path) => ({ path, size: 10 })) });
    expect(uploads.read()).toMatchObject({ stage: 'done', files: 5, filesDone: 5, bytes: 50, bytesDone: 50 });
    expect([stages[0], stages.at(-1)]).toEqual(['sending', 'done']);
    uploads.rest();
    expect(uploads.read().stage).toBe('resting');
  });

  test('what is there whole is left out; of the same size it is told by content, never by size', async () => {
    answer([all[0]!], all.slice(1, 4), [all[2]!]);
    const end = queue().send('s', 'landing', files);
    await comeThrough();
    expect(await end).toEqual({ folder: 'uploads/s/landing', replaced: 1 });
    expect(sent[1]!.body).toEqual({
      shot: 's',
      batch: 'landing',
      files: all.slice(1, 4).map((path) => ({ path, hash: `hash of ${path.slice(8)}` })),
    });
    expect(names()).toEqual([all[0], all[2]]);
  });

  test('a file is known again by its place, size and time: what was begun is continued', async () => {
    answer([all[0]!]);
    StandInUpload.earlier = [{ uploadUrl: '/api/files/7' }];
    const end = queue().send('s', 'landing', files.slice(0, 1));
    await comeThrough();
    await end;
    const [upload] = StandInUpload.all;
    expect(upload!.continued).toEqual({ uploadUrl: '/api/files/7' });
    expect(await upload!.options.fingerprint()).toBe(`june s/landing/${all[0]} 10 ${files[0]!.file.lastModified}`);
  });

  test('where the browser keeps nothing, a file is sent from its beginning', async () => {
    answer([all[0]!]);
    StandInUpload.earlier = undefined;
    const end = queue().send('s', 'landing', files.slice(0, 1));
    await comeThrough();
    expect(await end).toMatchObject({ replaced: 0 });
    expect(StandInUpload.all[0]!.continued).toBeUndefined();
  });

  test('a drop that is stopped leaves the others unsent, and says so', async () => {
    answer(all);
    const uploads = queue();
    const end = uploads.send('s', 'landing', files);
    for (let i = 0; i < 9; i++) await turn();
    uploads.stop();
    expect(await end).toBeUndefined();
    expect([names().length, StandInUpload.all.every((u) => u.aborted)]).toEqual([3, true]);
    expect(uploads.read().stage).toBe('stopped');
  });

  test('a file that cannot be sent ends the drop with its name, and the others are not left running', async () => {
    answer(all);
    const uploads = queue();
    const end = uploads.send('s', 'landing', files);
    for (let i = 0; i < 9; i++) await turn();
    StandInUpload.all[1]!.end(new Error('the disk is full'));
    expect(await end).toBeUndefined();
    expect(uploads.read()).toMatchObject({ stage: 'failed', message: expect.stringContaining('landing/b.exr') });
    expect([StandInUpload.all[0]!.aborted, StandInUpload.all[2]!.aborted]).toEqual([true, true]);
  });

  test('a server that refuses is told in its own words, and nothing is sent', async () => {
    sent = standInServer({ '/uploads': new Error('There is no room on the disk.') });
    const uploads = queue();
    expect(await uploads.send('s', 'landing', files)).toBeUndefined();
    expect(uploads.read().stage).toBe('failed');
    expect(StandInUpload.all).toEqual([]);
  });
});
