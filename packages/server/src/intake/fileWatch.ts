import { watch, type FSWatcher } from 'node:fs';
import type { ComputePool } from '../compute/pool.ts';
import { isOutage } from '../database/outage.ts';
import { noticeChanges, type ChangePlaces } from './changes.ts';
import { lastRuns, noticeReplaced } from '../runs/writtenFiles.ts';
import type { Checks } from './checks.ts';

/** How often files are asked for at most; long sequences less often, so that asking takes little of a disk's time. */
const quickest = 2000;
const millisecondsPerFile = 2;
/** A shot that nobody asked for so long is left alone. */
const patience = 3600 * 1000;
/** A file is written in many steps: it is asked for when they pause. */
const pause = 400;

interface WatchPlaces extends ChangePlaces {
  readonly pool: ComputePool;
  readonly outputFolder: string;
  readonly checks: Pick<Checks, 'begin'>;
}

interface Watched {
  readonly watcher: FSWatcher | undefined;
  readonly place: string;
  due: number;
}

/**
 * Notices within seconds that files of the shots that are open were rendered again, replaced, added or removed. The folder's own notices
 * are quick where there are any; asking every few seconds works everywhere.
 */
export class FileWatch {
  private readonly places: WatchPlaces;
  private readonly changed: (shotId: string) => void;
  private readonly shots = new Map<string, number>();
  private readonly sources = new Map<string, Watched>();
  /** When the files of a run are asked for next. */
  private readonly written = new Map<string, number>();
  private writtenDue = 0;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private round: Promise<void> = Promise.resolve();

  constructor(places: WatchPlaces, changed: (shotId: string) => void) {
    this.places = places;
    this.changed = changed;
  }

  /** Somebody looks at this shot. */
  look(shotId: string): void {
    this.shots.set(shotId, Date.now());
  }

  start(): void {
    const next = () => {
      this.timer = setTimeout(() => {
        this.round = this.lookAround()
          .catch((error: unknown) => {
            // That the database is away is said elsewhere, once.
            if (!isOutage(error)) console.error('watching files:', error);
          })
          .finally(next);
      }, pause);
      this.timer.unref();
    };
    next();
  }

  async stop(): Promise<void> {
    clearTimeout(this.timer);
    await this.round;
    clearTimeout(this.timer);
    for (const { watcher } of this.sources.values()) watcher?.close();
  }

  /** One round over the sources that are due. */
  private async lookAround(): Promise<void> {
    const now = Date.now();
    for (const [id, seen] of this.shots) if (now - seen > patience) this.shots.delete(id);
    if (!this.shots.size) return;
    const { db } = this.places;
    const open = await db
      .selectFrom('sources')
      .select(['id', 'folder'])
      .where('shot_id', 'in', [...this.shots.keys()])
      .where('checked_at', 'is not', null)
      .execute();
    this.forgetOthers(new Set(open.map((r) => r.id)));
    for (const { id, folder } of open) {
      const watched = await this.watched(id, folder);
      if (watched.due > Date.now()) continue;
      const row = await db.selectFrom('sources').selectAll().where('id', '=', id).executeTakeFirst();
      if (!row) continue;
      const count = (row.facts.lastFrame - row.facts.firstFrame + 1) * Math.max(1, row.facts.files?.length ?? 1);
      watched.due = Date.now() + Math.max(quickest, count * millisecondsPerFile);
      const { again, changed } = await noticeChanges(this.places, row);
      if (again) this.places.checks.begin(row.id);
      if (again || changed) this.changed(row.shot_id);
    }
    await this.lookAtWritten();
  }

  /** The files that the last run of each output wrote. */
  private async lookAtWritten(): Promise<void> {
    if (this.writtenDue > Date.now()) return;
    this.writtenDue = Date.now() + quickest / 2;
    const runs = await lastRuns(this.places.db, [...this.shots.keys()]);
    for (const id of this.written.keys()) if (!runs.some((r) => r.id === id)) this.written.delete(id);
    for (const { id, shotId } of runs) {
      if ((this.written.get(id) ?? 0) > Date.now()) continue;
      const { files, changed } = await noticeReplaced(this.places, id);
      this.written.set(id, Date.now() + Math.max(quickest, files * millisecondsPerFile));
      if (changed) this.changed(shotId);
    }
  }

  private async watched(id: string, folder: string): Promise<Watched> {
    const found = this.sources.get(id);
    if (found?.place === folder) return found;
    found?.watcher?.close();
    const path = await this.places.media.locate(folder).catch(() => undefined);
    const made: Watched = { place: folder, watcher: path === undefined ? undefined : this.listen(path, id), due: 0 };
    this.sources.set(id, made);
    return made;
  }

  private listen(path: string, id: string): FSWatcher | undefined {
    try {
      const watcher = watch(path, { persistent: false }, () => {
        const watched = this.sources.get(id);
        if (watched) watched.due = Math.min(watched.due, Date.now() + pause);
      });
      watcher.on('error', () => watcher.close());
      return watcher;
    } catch {
      // Some file systems give no notices; asking goes on.
      return undefined;
    }
  }

  private forgetOthers(wanted: ReadonlySet<string>): void {
    for (const [id, { watcher }] of this.sources)
      if (!wanted.has(id)) {
        watcher?.close();
        this.sources.delete(id);
      }
  }
}
