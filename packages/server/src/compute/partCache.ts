import { FormatError, sideAtLevel, type SampleType } from '@june-haze/core';
import { identityOfState, stateOf } from '@june-haze/files';
import type { ComputePool } from './pool.ts';
import type { FrameFile } from '../intake/frameFiles.ts';
import { decodeShared, ownLevelOf } from './decode.ts';
import { GivenUp } from './inOrder.ts';
import type { DecodedPart, SharedPlane } from './decodedPart.ts';

/**
 * Decoded parts of frames, shared with the worker threads: a chunk holds all channels of its lines, so the second pass of a
 * frame must not unpack it again. Bounded; keyed by the file's identity; requests under way are shared.
 */
export class PartCache {
  private readonly pool: ComputePool;
  readonly limit: number;
  private readonly held = new Map<string, Promise<DecodedPart>>();
  private readonly sizes = new Map<string, number>();
  /** Of decodings under way: whether each of those who asked is gone. */
  private readonly waiting = new Map<string, (() => boolean)[]>();
  /** Which of a file's own levels serve. */
  private readonly levels = new Map<string, number>();
  bytes = 0;

  constructor(pool: ComputePool, limit: number) {
    this.pool = pool;
    this.limit = limit;
  }

  /**
   * A part of a frame's file, decoded. A picture that is no EXR has one part; frames of a movie come several at once. `left` says that whoever
   * asked is gone: a decoding for which nobody waits any more ends at its next band, with `GivenUp`.
   */
  async get(file: FrameFile, part: number, level = 0, left: () => boolean = () => false): Promise<DecodedPart> {
    const state = file.black ? undefined : await stateOf(file.path);
    if (!file.black && !state) throw new FormatError(file.name, 'the file is not there any more.');
    const identity = state ? identityOfState(state) : 'black';
    // Files without smaller levels of their own are decoded once for all: what is asked for is halved from that.
    const own = file.kind === 'exr' && level > 0 ? await this.ownLevel(file, part, level, identity) : 0;
    const keyOf = (movieFrame: number) => [file.path, part, own, identity, movieFrame, file.range].join('/');
    const key = keyOf(file.movieFrame);
    const found = this.held.get(key);
    if (found) {
      this.held.delete(key);
      this.held.set(key, found);
      this.waiting.get(key)?.push(left);
      // Who comes as a decoding ends for want of anybody begins it again.
      return found.catch((error: unknown) => {
        if (error instanceof GivenUp && !left()) return this.get(file, part, level, left);
        throw error;
      });
    }
    if (file.kind === 'exr') {
      const waiting = [left];
      this.waiting.set(key, waiting);
      const request = { path: file.path, name: file.name, part, level: own, over: 'display window' } as const;
      const decoding = decodeShared(this.pool, request, () => waiting.every((l) => l()));
      return this.hold(
        key,
        decoding.finally(() => this.waiting.delete(key)),
      );
    }
    const count = file.kind === 'movie' ? movieFramesTogether : 1;
    const all = this.pool.run('decodePictures', { file, count });
    for (let i = 1; i < count; i++) {
      const next = keyOf(file.movieFrame + i);
      // Behind the movie's end there is nothing; whoever asks for it is told.
      if (!this.held.has(next))
        this.hold(
          next,
          all.then((d) => d[i] ?? Promise.reject(lastFrame(file))),
        ).catch(() => undefined);
    }
    return this.hold(
      key,
      all.then((d) => d[0]!),
    );
  }

  private async ownLevel(file: FrameFile, part: number, level: number, identity: string): Promise<number> {
    const key = [file.path, part, level, identity].join('/');
    const known = this.levels.get(key) ?? (await ownLevelOf({ path: file.path, name: file.name, part }, level));
    if (this.levels.size >= mostLevels) this.levels.clear();
    this.levels.set(key, known);
    return known;
  }

  private async hold(key: string, decoding: Promise<DecodedPart>): Promise<DecodedPart> {
    this.held.set(key, decoding);
    try {
      const decoded = await decoding;
      const bytes = Object.values(decoded.planes).reduce((n, p) => n + p.byteLength, 0);
      this.sizes.set(key, bytes);
      this.bytes += bytes;
      this.shrink(key);
      return decoded;
    } catch (error) {
      this.held.delete(key);
      throw error;
    }
  }

  private shrink(keep: string): void {
    for (const key of this.held.keys()) {
      if (this.bytes <= this.limit) return;
      const size = this.sizes.get(key);
      if (key === keep || size === undefined) continue;
      this.held.delete(key);
      this.sizes.delete(key);
      this.bytes -= size;
    }
  }

  /** Whole planes of some channels, halved `level` times. */
  async planes(
    decoded: DecodedPart,
    channels: readonly string[],
    level: number,
    data: boolean,
  ): Promise<{ width: number; height: number; planes: readonly SharedPlane[] }> {
    const planes = channels.map((c) => decoded.planes[c]!);
    const { width, height } = decoded;
    return {
      width: sideAtLevel(width, level),
      height: sideAtLevel(height, level),
      planes:
        level === 0
          ? planes
          : await Promise.all(
              planes.map((plane) => this.pool.run('reducePlane', { plane, width, height, level, data })),
            ),
    };
  }
}

const mostLevels = 10_000;

/** Starting a movie's decoder costs more than a few frames of it. */
const movieFramesTogether = 8;

const lastFrame = (file: FrameFile) => new FormatError(file.name, 'the movie ends before this frame.');

export const typeOf = (p: SharedPlane): SampleType =>
  p instanceof Uint16Array ? 'half' : p instanceof Float32Array ? 'float' : 'uint';
