import type { PartCache } from './compute/partCache.ts';
import type { ComputePool } from './compute/pool.ts';
import type { Db } from './database/connect.ts';
import type { Checks } from './intake/checks.ts';
import type { FileWatch } from './intake/fileWatch.ts';
import type { DemoMaker } from './demo/demoMaker.ts';
import type { Events } from './events.ts';
import type { MediaFolders } from './media/mediaFolders.ts';
import type { RunPlaces } from './runs/runPlaces.ts';
import type { Runs } from './runs/runs.ts';

/** What every route may use. */
export interface Context {
  readonly db: Db;
  readonly pool: ComputePool;
  readonly parts: PartCache;
  readonly media: MediaFolders;
  readonly events: Events;
  readonly runs: Runs;
  readonly places: RunPlaces;
  readonly demo: DemoMaker;
  readonly checks: Checks;
  readonly watch: FileWatch;
}
