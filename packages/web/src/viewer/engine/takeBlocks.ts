import type { Share } from './messages.ts';

/** How many blocks a picture of some rows has. */
export const blockCount = (height: number, rows: number): number => Math.ceil(height / rows);

/**
 * Does a worker's share of a picture's blocks of rows: its own first, in order, so that it meets what it keeps of them; then, where the workers
 * share memory, what others have not come to yet, from their ends. Stops where nobody wants the picture any more.
 */
export function takeBlocks(
  height: number,
  { rows, worker, workers, claims }: Share,
  make: (top: number, end: number) => void,
): void {
  const count = blockCount(height, rows);
  const first = (w: number) => Math.floor((count * w) / workers);
  const one = (block: number): boolean => {
    if (claims && Atomics.load(claims, 0) === 1) return false;
    if (!claims || Atomics.compareExchange(claims, 1 + block, 0, 1) === 0)
      make(block * rows, Math.min(height, (block + 1) * rows));
    return true;
  };
  for (let block = first(worker); block < first(worker + 1); block++) if (!one(block)) return;
  if (!claims) return;
  for (let next = 1; next < workers; next++) {
    const other = (worker + next) % workers;
    for (let block = first(other + 1) - 1; block >= first(other); block--) if (!one(block)) return;
  }
}
