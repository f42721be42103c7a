/** What the page holds for its pictures, in bytes. */
export interface PageMemory {
  /** Planes of passes, and what they may take. */
  readonly planes: number;
  readonly planesMost: number;
  /** Finished pictures, and what they may take. */
  readonly drawn: number;
  readonly drawnMost: number;
  /** What workers keep between pictures, and what they may. */
  readonly workers: number;
  readonly workersMost: number;
}

const holders = new Set<{ readonly memory: PageMemory }>();

/** Counts with what the page holds until the returned function is called. */
export function holdsMemory(holder: { readonly memory: PageMemory }): () => void {
  holders.add(holder);
  return () => void holders.delete(holder);
}

/** All that the page holds; undefined where it has no picture. */
export function pageMemory(): PageMemory | undefined {
  const all = [...holders].map((h) => h.memory);
  if (!all.length) return undefined;
  const sum = (key: keyof PageMemory) => all.reduce((n, m) => n + m[key], 0);
  return {
    planes: sum('planes'),
    planesMost: sum('planesMost'),
    drawn: sum('drawn'),
    drawnMost: sum('drawnMost'),
    workers: sum('workers'),
    workersMost: sum('workersMost'),
  };
}
