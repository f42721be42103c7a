import { spawn, type ChildProcess } from 'node:child_process';
import { existsSync } from 'node:fs';
import { mkdir, readdir, readFile, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { createInterface } from 'node:readline';
import { viewingSchema } from '@june-haze/contract';
import { writeBundle } from '@june-haze/core';
import type { ComputePool } from '../compute/pool.ts';
import type { Db } from '../database/connect.ts';
import type { Events } from '../events.ts';
import { addItem } from '../library/items.ts';
import type { MediaFolders } from '../media/mediaFolders.ts';
import { rebuildLedger, saveLedger } from '../shots/ledger.ts';
import { addSource, firstLook } from '../intake/bringIn.ts';
import type { Checks } from '../intake/checks.ts';
import { describeSource } from '../intake/sourceState.ts';
import { createShot, requireSource } from '../shots/shots.ts';

export interface DemoSettings {
  readonly program: string;
  /** The media folder that the demo is made in, and its outside name. */
  readonly mediaFolder: string;
  readonly place: string;
  readonly libraryFolder: string;
  readonly frames: number;
  readonly width: number;
  readonly height: number;
}

/** Has the stand-in renderer trace shot Landing beside the running application, and brings its frames in as they come. */
export class DemoMaker {
  private readonly db: Db;
  private readonly pool: ComputePool;
  private readonly media: MediaFolders;
  private readonly events: Events;
  private readonly checks: Checks;
  private readonly settings: DemoSettings;
  private child: ChildProcess | undefined;
  private refreshing: Promise<void> = Promise.resolve();
  state = { done: 0, count: 0 };

  constructor(db: Db, pool: ComputePool, media: MediaFolders, events: Events, checks: Checks, settings: DemoSettings) {
    this.db = db;
    this.pool = pool;
    this.media = media;
    this.events = events;
    this.checks = checks;
    this.settings = settings;
  }

  private get folder(): string {
    return join(this.settings.mediaFolder, 'landing');
  }

  /** Makes what is missing of the demo. With `reset`, throws the demo's shot and files away first. */
  async start(reset: boolean): Promise<void> {
    if (reset) {
      await this.stop();
      await this.db.deleteFrom('shots').where('demo', '=', true).execute();
      await rm(this.folder, { recursive: true, force: true });
    }
    const known = await this.db.selectFrom('shots').select('id').where('demo', '=', true).executeTakeFirst();
    const { frames } = this.settings;
    const complete =
      existsSync(join(this.folder, `landing.${1000 + frames}.exr`)) &&
      existsSync(join(this.folder, 'landing_approved.png'));
    if (known && complete) return;
    await mkdir(this.folder, { recursive: true });
    const { program, width, height } = this.settings;
    const args = [
      program,
      this.folder,
      '--frames',
      String(frames),
      '--width',
      String(width),
      '--height',
      String(height),
    ];
    const child = spawn(process.execPath, args, { stdio: ['ignore', 'pipe', 'inherit'] });
    this.child = child;
    createInterface({ input: child.stdout }).on('line', (line) => {
      const { done, count } = JSON.parse(line) as { done: number; count: number };
      this.state = { done, count };
      this.events.send({ kind: 'demo', done, count });
      if (done > 0)
        this.refreshing = this.refreshing.then(() => this.refresh()).catch((e: unknown) => console.error('demo:', e));
    });
  }

  async stop(): Promise<void> {
    const child = this.child;
    this.child = undefined;
    if (!child || child.exitCode !== null || child.signalCode !== null) return;
    const gone = new Promise((done) => child.once('exit', done));
    child.kill('SIGTERM');
    await gone;
  }

  /** Brings the sequence in with its first frame, then keeps its facts up to date while it grows. */
  private async refresh(): Promise<void> {
    const place = `${this.settings.place}/landing`;
    const pattern = 'landing.####.exr';
    const material = await this.media.material(place, pattern).catch(() => undefined);
    if (!material) return;
    const examined = await firstLook(this.pool, this.media, place, material);
    const { facts } = examined;
    // Frames of one move come in any order from the workers: a gap in the middle is only not made yet.
    if (this.state.done < this.state.count) facts.missing = [];
    const known = await this.db
      .selectFrom('shots')
      .innerJoin('sources', 'sources.shot_id', 'shots.id')
      .where('shots.demo', '=', true)
      .select(['sources.id', 'shots.id as shot_id'])
      .executeTakeFirst();
    if (known) {
      await this.db
        .updateTable('sources')
        .set({ facts: JSON.stringify(facts) })
        .where('id', '=', known.id)
        .execute();
      this.events.send({ kind: 'shot', shotId: known.shot_id });
      if (this.state.done === this.state.count) this.checks.begin(known.id);
    } else {
      const shotId = await createShot(this.db, 'Landing', true);
      const sourceId = await addSource(this.db, shotId, place, pattern, examined);
      const source = describeSource(await requireSource(this.db, sourceId));
      await this.takeConfig(shotId);
      await saveLedger(this.db, shotId, 0, rebuildLedger(source, 'components'), 'built from components');
    }
    this.events.send({ kind: 'shelf' });
  }

  /** The renderer's config into the Library, and the shot seen as in the renderer. */
  private async takeConfig(shotId: string): Promise<void> {
    const files = new Map<string, Uint8Array>();
    const top = join(this.folder, 'tern');
    for (const name of await readdir(top, { recursive: true })) {
      const path = join(top, name);
      if ((await stat(path)).isFile()) files.set(name, await readFile(path));
    }
    const examined = await this.pool.run('examineDropped', { name: 'Tern', bytes: writeBundle(files) });
    const id = await addItem(this.db, this.settings.libraryFolder, 'Tern', examined);
    const viewing = viewingSchema.parse({ display: 'sRGB', view: 'Haze', exposure: 0 });
    await this.db
      .updateTable('shots')
      .set({ config_id: id, viewing: JSON.stringify(viewing) })
      .where('id', '=', shotId)
      .execute();
    this.events.send({ kind: 'library' });
  }
}
