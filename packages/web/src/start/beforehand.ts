/** Things that are begun before anybody asks, and taken once each; who comes later has one made. */
export interface Beforehand<T> {
  begin(): void;
  take(): T;
}

/** Keeps what `make` begins until it is taken. `watch` is told of each; what it says is spoiled before it is taken is not given out. */
export function beforehand<T>(make: () => T, watch?: (thing: T, spoiled: () => void) => void): Beforehand<T> {
  const begun: T[] = [];
  const forget = (thing: T): void => {
    const at = begun.indexOf(thing);
    if (at >= 0) begun.splice(at, 1);
  };
  return {
    begin() {
      const thing = make();
      begun.push(thing);
      watch?.(thing, () => forget(thing));
    },
    take: () => begun.pop() ?? make(),
  };
}

/** Workers: one whose file did not come is not given out. */
export const workersBeforehand = (make: () => Worker): Beforehand<Worker> =>
  beforehand(make, (worker, spoiled) => worker.addEventListener('error', spoiled, { once: true }));
