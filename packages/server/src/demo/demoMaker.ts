import { spawn, type ChildProcess } from 'node:child_process';
import { existsSync } from 'node:fs';
import { mkdir, readdir, readFile, rm, stat, writeFile } from 'node:fs/promises';
import { constants, setPriority } from 'node:os';
import { join } from 'node:path';
import { createInterface } from 'node:readline';
import { viewingSchema } from '@june-haze/contract';
import { writeBundle } from '@june-haze/core';
import { temporaryName } from '@june-haze/files';
import { sql } from 'kysely';
import type { ComputePool } from '../compute/pool.ts';
import type { Db } from '../database/connect.ts';
import type { Events } from '../events.ts';
import { demoLedger } from './demoLedgers.ts';
import { addItem } from '../library/items.ts';
import type { MediaFolders } from '../media/mediaFolders.ts';
import { rebuildSource, saveLedger } from '../shots/ledger.ts';
import { addSource, bringIn, firstLook } from '../intake/bringIn.ts';
import type { Checks } from '../intake/checks.ts';
import { describeSource } from '../intake/sourceState.ts';
import { createShot, requireSource } from '../shots/shotRows.ts';

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

/** The shots that follow Landing: smaller, brought in when they are traced whole. */
const smallShots = [
  { shot: 'kettle', name: 'Kettle', frames: 8 },
  { shot: 'lastboat', name: 'Last boat', frames: 12 },
] as const;

/** Has the stand-in renderer trace the demo's shots beside the running application, and brings Landing's frames in as they come. */
export class DemoMaker {
  private readonly db: Db;
  private readonly pool: ComputePool;
  private readonly media: MediaFolders;
  private readonly events: Events;
  private readonly checks: Checks;
  private readonly settings: DemoSettings;
  private child: ChildProcess | undefined;
  private refreshing: Promise<void> = Promise.resolve();
  private following: Promise<void> = Promise.resolve();
  private stopped = false;
  state = { done: 0, count: 0 };

  constructor(db: Db, pool: ComputePool, media: MediaFolders, events: Events, checks: Checks, settings: DemoSettings) {
    this.db = db;
    this.pool = pool;
    this.media = media;
    this.events = events;
    this.checks = checks;
    this.settings = settings;
  }

  private get intakePlaces() {
    const { db, pool, media } = this;
    return { db, pool, media, libraryFolder: this.settings.libraryFolder };
  }

  private get folder(): string {
    return join(this.settings.mediaFolder, 'landing');
  }

  /** Makes what is missing of the demo. With `reset`, throws the demo's shot and files away first. */
  async start(reset: boolean): Promise<void> {
    if (reset) {
      await this.stop();
      await this.db.deleteFrom('shots').where('demo', '=', true).execute();
      for (const folder of ['landing', ...smallShots.map((s) => s.shot)])
        await rm(join(this.settings.mediaFolder, folder), { recursive: true, force: true });
    }
    this.stopped = false;
    await this.landing();
    const running = this.child;
    // The other shots follow when the first is traced: it is the one that is looked at.
    if (running) running.once('exit', (code) => code === 0 && this.follow());
    else this.follow();
  }

  private follow(): void {
    this.following = this.others().catch((e: unknown) => console.error('demo:', e));
  }

  private async landing(): Promise<void> {
    const known = await this.shotNamed('Landing');
    const { frames } = this.settings;
    const complete =
      existsSync(join(this.folder, `landing.${1000 + frames}.exr`)) &&
      existsSync(join(this.folder, 'landing_approved.png'));
    if (known && complete) return;
    await mkdir(this.folder, { recursive: true });
    const { width, height } = this.settings;
    const child = this.trace('landing', this.folder, frames, width, height);
    createInterface({ input: child.stdout }).on('line', (line) => {
      const { done, count } = JSON.parse(line) as { done: number; count: number };
      this.state = { done, count };
      this.events.send({ kind: 'demo', done, count });
      if (done > 0)
        this.refreshing = this.refreshing
          .then(() => this.refresh(done === count))
          .catch((e: unknown) => console.error('demo:', e));
    });
  }

  private trace(shot: string, folder: string, frames: number, width: number, height: number) {
    const args = ['--shot', shot, '--frames', frames, '--width', width, '--height', height].map(String);
    const child = spawn(process.execPath, [this.settings.program, folder, ...args], {
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    this.child = child;
    return child;
  }

  private shotNamed(name: string) {
    return this.db
      .selectFrom('shots')
      .select('id')
      .where('demo', '=', true)
      .where('name', '=', name)
      .executeTakeFirst();
  }

  /** Traces and brings in the smaller shots, one after the other. */
  private async others(): Promise<void> {
    await this.refreshing;
    for (const { shot, name, frames } of smallShots) {
      const known = await this.shotNamed(name);
      const folder = join(this.settings.mediaFolder, shot);
      if ((known && existsSync(folder)) || this.stopped) continue;
      await mkdir(folder, { recursive: true });
      const side = (n: number) => Math.max(36, Math.round((n * 2) / 3));
      const { width, height } = this.settings;
      const child = this.trace(shot, folder, Math.min(frames, this.settings.frames * 3), side(width), side(height));
      // They are in nobody's way: who works meanwhile goes first.
      setPriority(child.pid!, constants.priority.PRIORITY_LOW);
      child.stdout.resume();
      const code = await new Promise<number | null>((done) => child.once('exit', done));
      if (code !== 0 || this.stopped) return;
      if (!known) await this.bringInShot(name, `${this.settings.place}/${shot}`);
    }
  }

  /** A demo shot from everything that lies in its folder. */
  private async bringInShot(name: string, place: string): Promise<void> {
    const { sequences } = await this.media.list(place);
    const shotId = await createShot(this.db, name, true);
    const { ids } = await bringIn(
      this.intakePlaces,
      shotId,
      place,
      sequences.map((s) => s.pattern),
    );
    // The shot's rate is what was agreed on, whatever the plates say.
    await this.db.updateTable('shots').set({ rate: 24 }).where('id', '=', shotId).execute();
    const rows = await Promise.all(ids.map((id) => requireSource(this.db, id)));
    const ledger = demoLedger(
      name,
      rows.map((r) => describeSource(r)),
    );
    if (ledger) await saveLedger(this.db, shotId, 0, ledger, 'as it was made');
    ids.forEach((id) => this.checks.begin(id));
    this.events.send({ kind: 'shelf' });
  }

  async stop(): Promise<void> {
    this.stopped = true;
    const child = this.child;
    this.child = undefined;
    if (child && child.exitCode === null && child.signalCode === null) {
      const gone = new Promise((done) => child.once('exit', done));
      child.kill('SIGTERM');
      await gone;
    }
    // What is being brought in comes to its end, whether or not the renderer still runs.
    await this.following;
    await this.refreshing;
  }

  /** Brings the sequence in with its first frame, then keeps its facts up to date while it grows; `whole` is true once, with its last frame. */
  private async refresh(whole: boolean): Promise<void> {
    const place = `${this.settings.place}/landing`;
    const pattern = 'landing.####.exr';
    const material = await this.media.material(place, pattern).catch(() => undefined);
    if (!material) return;
    const examined = await firstLook(this.pool, this.media, place, material);
    const { facts } = examined;
    // Frames of one move come in any order from the workers: a gap in the middle is only not made yet.
    if (!whole) facts.missing = [];
    const known = await this.db
      .selectFrom('shots')
      .innerJoin('sources', 'sources.shot_id', 'shots.id')
      .where('shots.demo', '=', true)
      .where('shots.name', '=', 'Landing')
      .where('sources.pattern', '=', pattern)
      .select(['sources.id', 'shots.id as shot_id'])
      .executeTakeFirst();
    if (known) {
      await this.db
        .updateTable('sources')
        .set({ facts: JSON.stringify(facts) })
        .where('id', '=', known.id)
        .execute();
      this.events.send({ kind: 'shot', shotId: known.shot_id });
      if (whole) await this.beginWhole(known.id, known.shot_id);
    } else {
      const shotId = await createShot(this.db, 'Landing', true);
      const sourceId = await addSource(this.db, shotId, place, pattern, examined);
      const source = describeSource(await requireSource(this.db, sourceId));
      await this.takeConfig(shotId);
      await saveLedger(this.db, shotId, 0, rebuildSource(source, 'components'), 'built from components');
      if (whole) await this.beginWhole(sourceId, shotId);
    }
    this.events.send({ kind: 'shelf' });
  }

  /** Its check begins when every frame is there: at once, where the files lie there from before. */
  private async beginWhole(sourceId: string, shotId: string): Promise<void> {
    this.checks.begin(sourceId);
    await this.bringInReference(shotId);
  }

  /** The renderer's own picture of the first frame, with its view in it: how the shot must look. */
  private async bringInReference(shotId: string): Promise<void> {
    const pattern = 'landing_approved.png';
    const known = await this.db
      .selectFrom('sources')
      .select('id')
      .where('shot_id', '=', shotId)
      .where('pattern', '=', pattern)
      .executeTakeFirst();
    if (known || !existsSync(join(this.folder, pattern))) return;
    const { ids } = await bringIn(this.intakePlaces, shotId, `${this.settings.place}/landing`, [pattern]);
    await this.db
      .updateTable('sources')
      .set({ reading: sql`reading || '{"use":"reference"}'::jsonb` })
      .where('id', 'in', ids)
      .execute();
    ids.forEach((id) => this.checks.begin(id));
    this.events.send({ kind: 'shot', shotId });
  }

  /** The renderer's config into the Library, and the shot seen as in the renderer. */
  private async takeConfig(shotId: string): Promise<void> {
    const files = new Map<string, Uint8Array>();
    const top = join(this.folder, 'tern');
    for (const name of await readdir(top, { recursive: true })) {
      const path = join(top, name);
      if ((await stat(path)).isFile()) files.set(name, await readFile(path));
    }
    const { libraryFolder: folder } = this.settings;
    await mkdir(folder, { recursive: true });
    const path = join(folder, temporaryName('tern'));
    await writeFile(path, writeBundle(files));
    const id = await addItem(this.db, 'Tern', await this.pool.run('keepDropped', { name: 'Tern', path, folder }));
    await rm(path, { force: true });
    const viewing = viewingSchema.parse({ display: 'sRGB', view: 'Haze', exposure: 0 });
    await this.db
      .updateTable('shots')
      .set({ config_id: id, viewing: JSON.stringify(viewing) })
      .where('id', '=', shotId)
      .execute();
    this.events.send({ kind: 'library' });
  }
}
