import type { Plane, Window } from '@june-haze/core';

/** Planes as they were fetched, and where in the whole picture their file has data. */
export interface Fetched {
  readonly planes: Plane[];
  readonly data: Window;
}

/** Planes by their address, which names what their source is now; the least recently used thrown out first; requests under way are shared. */
export class PlaneCache {
  private readonly limit: number;
  private readonly held = new Map<string, { fetched: Fetched; bytes: number }>();
  private readonly underWay = new Map<string, Promise<Fetched>>();
  private bytes = 0;

  constructor(limit: number) {
    this.limit = limit;
  }

  async get(address: string, fetchPlanes: () => Promise<Fetched>): Promise<Fetched> {
    const found = this.held.get(address);
    if (found) {
      this.held.delete(address);
      this.held.set(address, found);
      return found.fetched;
    }
    const waiting = this.underWay.get(address);
    if (waiting) return waiting;
    const request = fetchPlanes().finally(() => this.underWay.delete(address));
    this.underWay.set(address, request);
    const fetched = await request;
    const bytes = fetched.planes.reduce((n, p) => n + p.byteLength, 0);
    this.held.set(address, { fetched, bytes });
    this.bytes += bytes;
    for (const [old, entry] of this.held) {
      if (this.bytes <= this.limit || old === address) break;
      this.held.delete(old);
      this.bytes -= entry.bytes;
    }
    return fetched;
  }
}
