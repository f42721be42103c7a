import { usualFacts, type FrameMeasures, type LookedMaterial, type LookedMember, type Material } from '@june-haze/core';
import { lookAtMember, readableFrames, sampledFrames, slimMember, strangersAmong } from '@june-haze/files';
import type { Check } from '@june-haze/contract';
import type { ComputePool } from '../compute/pool.ts';
import type { Db } from '../database/connect.ts';
import type { MediaFolders } from '../media/mediaFolders.ts';
import { stampSource } from './fileStamps.ts';
import { applyRoleHabits } from './roleHabits.ts';
import { evidenceFor } from './spaceRules.ts';
import { storedFacts, type Examined } from './storedFacts.ts';
import type { SourceRow } from './sourceState.ts';

/** Progress is told no more often than this. */
const quietMilliseconds = 300;

/** A check asks no more often than this whether its source is still in a shot. */
const askingMilliseconds = 500;

/** The source under check was taken out of its shot, or the shot thrown away. */
class Removed extends Error {}

export interface CheckPlaces {
  readonly db: Db;
  readonly pool: ComputePool;
  readonly media: MediaFolders;
  readonly libraryFolder: string;
  /** Told whenever a shot's sources look different. */
  readonly changed: (shotId: string) => void;
}

/**
 * The check on arrival: every file's header, then the pixels of a handful of frames, or of all when that is asked for. Runs in the
 * background on worker threads, one source at a time; what was not finished when the server stopped is begun again at its start.
 */
export class Checks {
  private readonly places: CheckPlaces;
  private readonly under = new Map<string, Check>();
  /** Asked for while their check was under way: what it found may be older than what was asked about. */
  private readonly again = new Set<string>();
  private queue: Promise<void> = Promise.resolve();
  private stopped = false;
  private told = 0;
  private asked = 0;

  constructor(places: CheckPlaces) {
    this.places = places;
  }

  /** How far a source's check is; undefined when none is under way. */
  progress(sourceId: string): Check | undefined {
    return this.under.get(sourceId);
  }

  /** Takes up what an earlier process left unfinished. */
  async resume(): Promise<void> {
    const rows = await this.places.db
      .selectFrom('sources')
      .select('id')
      .where('checked_at', 'is', null)
      .where('check_failure', 'is', null)
      .execute();
    rows.forEach((r) => this.begin(r.id));
  }

  /** Queues a source; one whose check has begun already is checked once more after it. */
  begin(sourceId: string): void {
    const stage = this.under.get(sourceId)?.stage;
    if (stage === 'waiting') return;
    if (stage) {
      this.again.add(sourceId);
      return;
    }
    this.under.set(sourceId, { stage: 'waiting', done: 0, count: 0, message: null });
    this.queue = this.queue.then(() => this.check(sourceId)).catch((e: unknown) => console.error('check:', e));
  }

  /** Waits until nothing is queued: for tests and for stopping. */
  async settled(): Promise<void> {
    for (let seen: Promise<void> | undefined; seen !== this.queue; await seen) seen = this.queue;
  }

  async stop(): Promise<void> {
    this.stopped = true;
    await this.settled();
  }

  private async check(id: string): Promise<void> {
    const { db, changed } = this.places;
    this.under.set(id, { stage: 'headers', done: 0, count: 0, message: null });
    let row: SourceRow | undefined;
    try {
      row = this.stopped ? undefined : await this.read(id);
    } finally {
      // Not there any more, or the database is away: it can be asked for again.
      if (!row) {
        this.under.delete(id);
        this.again.delete(id);
      }
    }
    if (!row) return;
    try {
      const material = await this.look(row);
      const early = await this.keep(row, { ...material, measures: [], full: false });
      if (early.guess !== undefined) changed(row.shot_id);
      const measured = await this.measure(row, material);
      if (this.stopped) return;
      await this.keep(row, measured, true);
    } catch (error) {
      if (!this.stopped && !(error instanceof Removed))
        await db
          .updateTable('sources')
          .set({ check_failure: (error as Error).message })
          .where('id', '=', id)
          .execute();
    } finally {
      if (this.again.delete(id)) await this.forget(id);
      else this.under.delete(id);
      changed(row.shot_id);
    }
  }

  /** What was found counts no more; the source is looked at again, by a later process if this one stops. */
  private async forget(id: string): Promise<void> {
    const { db } = this.places;
    try {
      await db.updateTable('sources').set({ checked_at: null, check_failure: null }).where('id', '=', id).execute();
    } finally {
      this.under.delete(id);
      this.begin(id);
    }
  }

  private read(id: string): Promise<SourceRow | undefined> {
    return this.places.db.selectFrom('sources').selectAll().where('id', '=', id).executeTakeFirst();
  }

  private async look(row: SourceRow): Promise<Material & { members: LookedMember[]; strangers: string[] }> {
    const { pool, media } = this.places;
    const [material, folder] = await Promise.all([media.material(row.folder, row.pattern), media.locate(row.folder)]);
    const count = material.members.reduce((n, m) => n + Math.max(1, m.sequence.frames.length), 0);
    let done = 0;
    const members: LookedMember[] = [];
    for (const member of material.members) {
      members.push(
        await lookAtMember(member, {
          locate: (file) => media.locate(`${row.folder}/${file}`),
          look: async (files) => {
            await this.requireWanted(row);
            return pool.run('lookAtSome', files);
          },
          findRepeats: (files) => pool.run('findRepeatedFrames', { folder, files }),
          onLook: (n) => this.tell(row, { stage: 'headers', done: (done += n), count, message: null }),
        }),
      );
      if (this.stopped) break;
    }
    const strangers = await strangersAmong(material, (inner) => media.locate(`${row.folder}/${inner}`));
    return { ...material, members, strangers };
  }

  private async measure(row: SourceRow, material: Material & { members: LookedMember[] }): Promise<LookedMaterial> {
    const { pool, media } = this.places;
    const frames = row.check_full ? readableFrames(material) : sampledFrames(material);
    const slim = { members: material.members.map(slimMember) };
    const folder = await media.locate(row.folder);
    const measures: FrameMeasures[] = [];
    let done = 0;
    const tell = () => this.tell(row, { stage: 'pixels', done, count: frames.length, message: null });
    tell();
    await Promise.all(
      Array.from({ length: Math.min(2, frames.length) }, async (_, worker) => {
        for (let i = worker; i < frames.length && !this.stopped; i += 2) {
          await this.requireWanted(row);
          measures.push(await pool.run('measureOne', { source: slim, frame: frames[i]!, folder }));
          done++;
          tell();
        }
      }),
    );
    return { ...material, measures: measures.sort((a, b) => a.frame - b.frame), full: row.check_full };
  }

  /** Others wait behind a check: it ends when nobody wants it any more. Throws Removed. */
  private async requireWanted(row: SourceRow): Promise<void> {
    if (Date.now() - this.asked < askingMilliseconds) return;
    this.asked = Date.now();
    if (!(await this.read(row.id))) throw new Removed();
  }

  private tell(row: SourceRow, check: Check): void {
    this.under.set(row.id, check);
    if (Date.now() - this.told < quietMilliseconds) return;
    this.told = Date.now();
    this.places.changed(row.shot_id);
  }

  /** Stores what was found. The guess counts until a person, or a rule of theirs, has said more. */
  private async keep(row: SourceRow, material: LookedMaterial, whole = false): Promise<Examined> {
    const { db } = this.places;
    const kind = material.members.flatMap((m) => usualFacts(m.looks)?.kind ?? [])[0];
    const more = await evidenceFor(this.places, row.shot_id, row.folder, [material.pattern], kind);
    const examined = storedFacts(material, more);
    const rule = examined.facts.evidence.find((e) => e.from === 'saved rule');
    await db.transaction().execute(async (t) => {
      // Locked between reading and writing: what a person says of the source meanwhile must not be undone.
      const now = await t
        .selectFrom('sources')
        .select(['confirmed', 'confirmed_by'])
        .where('id', '=', row.id)
        .forUpdate()
        .executeTakeFirst();
      const said = now?.confirmed && !now.confirmed_by;
      const found = {
        declared_space: rule?.space ?? examined.guess ?? null,
        confirmed: rule !== undefined,
        confirmed_by: rule?.says ?? null,
      };
      await t
        .updateTable('sources')
        .set({
          facts: JSON.stringify(await applyRoleHabits(t, examined.facts)),
          ...(said ? {} : found),
          ...(whole ? { checked_at: new Date(), check_failure: null } : {}),
        })
        .where('id', '=', row.id)
        .execute();
    });
    if (!whole) await this.keepFiles(row, material);
    return examined;
  }

  /** Keeps the files as they are now, to notice later that they changed. */
  private async keepFiles(row: SourceRow, material: LookedMaterial): Promise<void> {
    const { db, pool, media } = this.places;
    const looks = material.members.flatMap((m) => m.looks.flatMap((l) => ('facts' in l ? [l] : [])));
    const folder = await media.locate(row.folder);
    const states = looks.map((l) => ({ file: l.file, bytes: l.facts.bytes }));
    const prints = await pool.run('printFiles', { folder, files: states });
    const files = looks.map(({ file, frame, facts }, i) => ({
      source_id: row.id,
      file,
      frame,
      bytes: facts.bytes,
      modified_at: facts.modifiedAt,
      changed_at: prints[i]!.changedAt,
      print: prints[i]!.print,
    }));
    await db.transaction().execute(async (t) => {
      await t.deleteFrom('source_files').where('source_id', '=', row.id).execute();
      for (let i = 0; i < files.length; i += 1000)
        await t
          .insertInto('source_files')
          .values(files.slice(i, i + 1000))
          .execute();
      await stampSource(t, row.id);
    });
  }
}
