/** Whether threads may share memory here: not on pages that came over plain HTTP from another machine. */
export const memoryIsShared = typeof SharedArrayBuffer === 'function' && globalThis.crossOriginIsolated;

/** Memory that threads share, where they may. */
export const allocateShared = (bytes: number): ArrayBuffer | SharedArrayBuffer =>
  memoryIsShared ? new SharedArrayBuffer(bytes) : new ArrayBuffer(bytes);
