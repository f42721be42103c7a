import type { Plane } from '@june-haze/core';

/** Planes by their address, which names what their source is now; the least recently used thrown out first; requests under way are shared. */
export class PlaneCache {
  private readonly limit: number;
  private readonly held = new Map<string, { planes: Plane[]; bytes: number }>();
  private readonly underWay = new Map<string, Promise<Plane[]>>();
  private bytes = 0;

  constructor(limit: number) {
    this.limit = limit;
  }

  async get(address: string, fetchPlanes: () => Promise<Plane[]>): Promise<Plane[]> {
    const found = this.held.get(address);
    if (found) {
      this.held.delete(address);
      this.held.set(address, found);
      return found.planes;
    }
    const waiting = this.underWay.get(address);
    if (waiting) return waiting;
    const request = fetchPlanes().finally(() => this.underWay.delete(address));
    this.underWay.set(address, request);
    const planes = await request;
    const bytes = planes.reduce((n, p) => n + p.byteLength, 0);
    this.held.set(address, { planes, bytes });
    this.bytes += bytes;
    for (const [old, entry] of this.held) {
      if (this.bytes <= this.limit || old === address) break;
      this.held.delete(old);
      this.bytes -= entry.bytes;
    }
    return planes;
  }
}
