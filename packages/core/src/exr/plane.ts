import type { ExrChannel } from './types.ts';

/**
 * One channel's samples over a region, row by row from the top; the array's type follows the channel's. Halves are bit patterns.
 * The memory may be shared between threads.
 */
export type Plane = Uint16Array | Float32Array | Uint32Array;

/** A plane of zeros for a channel. */
export function newPlane(channel: Pick<ExrChannel, 'type'>, samples: number): Plane {
  if (channel.type === 'half') return new Uint16Array(samples);
  return channel.type === 'float' ? new Float32Array(samples) : new Uint32Array(samples);
}
