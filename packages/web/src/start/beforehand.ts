/** Things that are begun before anybody asks, and taken once each; who comes later has one made. */
export interface Beforehand<T> {
  begin(): void;
  take(): T;
}

/** Keeps what `make` begins until it is taken. */
export function beforehand<T>(make: () => T): Beforehand<T> {
  const begun: T[] = [];
  return { begin: () => void begun.push(make()), take: () => begun.pop() ?? make() };
}
