import { FormatError, sideAtLevel, type SampleType } from '@june-haze/core';
import { identityOfState, stateOf } from '@june-haze/files';
import type { ComputePool } from './pool.ts';
import type { FrameFile } from '../intake/frameFiles.ts';
import { decodeShared, ownLevelOf } from './decode.ts';
import { GivenUp } from './inOrder.ts';
import type { DecodedPart, SharedPlane } from './decodedPart.ts';

/** A decoding of some channels of a part, under way or done. */
interface Decoding {
  /** All that the part has besides others' when left out. */
  readonly channels: ReadonlySet<string> | undefined;
  readonly done: Promise<DecodedPart>;
  /** While it is under way: whether each of those who asked is gone. */
  readonly waiting: (() => boolean)[];
  bytes: number;
}

/**
 * Decoded parts of frames, shared with the worker threads. A chunk holds all channels of its lines: who asks first gets what it asks for; when
 * further channels are asked for, all others are unpacked with them, so that lists of passes do not unpack it again and again. Bounded; keyed
 * by the file's identity; requests under way are shared.
 */
export class PartCache {
  private readonly pool: ComputePool;
  readonly limit: number;
  private readonly held = new Map<string, Decoding[]>();
  /** Which of a file's own levels serve. */
  private readonly levels = new Map<string, number>();
  bytes = 0;

  constructor(pool: ComputePool, limit: number) {
    this.pool = pool;
    this.limit = limit;
  }

  /**
   * Channels of a part of a frame's file, decoded, and whatever else of it is there; all when `channels` is left out. A picture that is no EXR
   * has one part; frames of a movie come several at once. `left` says that whoever asked is gone: a decoding for which nobody waits any more
   * ends at its next band, with `GivenUp`.
   */
  async get(
    file: FrameFile,
    part: number,
    level = 0,
    channels?: readonly string[],
    left: () => boolean = () => false,
  ): Promise<DecodedPart> {
    const state = file.black ? undefined : await stateOf(file.path);
    if (!file.black && !state) throw new FormatError(file.name, 'the file is not there any more.');
    const identity = state ? identityOfState(state) : 'black';
    // Files without smaller levels of their own are decoded once for all: what is asked for is halved from that.
    const own = file.kind === 'exr' && level > 0 ? await this.ownLevel(file, part, level, identity) : 0;
    const keyOf = (movieFrame: number) => [file.path, part, own, identity, movieFrame, file.range].join('/');
    const key = keyOf(file.movieFrame);
    const known = this.touch(key);
    const lacking = lackingOf(known, channels);
    if (file.kind !== 'exr') {
      if (!known.length) this.decodePictures(file, keyOf);
    } else if (lacking === 'all' || lacking.length) {
      const first = known.length === 0 && channels !== undefined;
      const request = {
        path: file.path,
        name: file.name,
        part,
        level: own,
        over: 'display window',
        ...(first ? { only: new Set(channels) } : { except: new Set(known.flatMap((d) => [...(d.channels ?? [])])) }),
      } as const;
      const waiting: (() => boolean)[] = [];
      const done = decodeShared(this.pool, request, () => waiting.every((l) => l()));
      this.hold(key, { channels: first ? new Set(channels) : undefined, done, waiting, bytes: 0 });
    }
    return this.wait(key, channels, left).catch((error: unknown) => {
      // Who comes as a decoding ends for want of anybody begins it again.
      if (error instanceof GivenUp && !left()) return this.get(file, part, level, channels, left);
      throw error;
    });
  }

  /** What is there or under way of a part; it was used last. */
  private touch(key: string): readonly Decoding[] {
    const known = this.held.get(key);
    if (!known) return [];
    this.held.delete(key);
    this.held.set(key, known);
    return known;
  }

  /** All decodings that some channels come from, as one part. */
  private async wait(key: string, channels: readonly string[] | undefined, left: () => boolean): Promise<DecodedPart> {
    const all = this.held.get(key) ?? [];
    const needed = all.filter((d) => !channels || !d.channels || channels.some((c) => d.channels!.has(c)));
    for (const d of needed) if (d.bytes === 0) d.waiting.push(left);
    const parts = await Promise.all(needed.map((d) => d.done));
    if (parts.length === 1) return parts[0]!;
    return {
      ...parts[0]!,
      planes: Object.assign({}, ...parts.map((p) => p.planes)) as DecodedPart['planes'],
      missing: parts[0]!.missing,
    };
  }

  /** A picture, or some frames of a movie that follow each other. */
  private decodePictures(file: FrameFile, keyOf: (movieFrame: number) => string): void {
    const count = file.kind === 'movie' ? movieFramesTogether : 1;
    const all = this.pool.run('decodePictures', { file, count });
    for (let i = 0; i < count; i++) {
      const key = keyOf(file.movieFrame + i);
      if (i > 0 && this.held.has(key)) continue;
      // Behind the movie's end there is nothing; whoever asks for it is told.
      const done = all.then((d) => d[i] ?? Promise.reject(lastFrame(file)));
      this.hold(key, { channels: undefined, done, waiting: [], bytes: 0 });
    }
  }

  private async ownLevel(file: FrameFile, part: number, level: number, identity: string): Promise<number> {
    const key = [file.path, part, level, identity].join('/');
    const known = this.levels.get(key) ?? (await ownLevelOf({ path: file.path, name: file.name, part }, level));
    if (this.levels.size >= mostLevels) this.levels.clear();
    this.levels.set(key, known);
    return known;
  }

  private hold(key: string, decoding: Decoding): void {
    this.held.set(key, [...(this.held.get(key) ?? []), decoding]);
    decoding.done.then(
      (decoded) => {
        decoding.bytes = Object.values(decoded.planes).reduce((n, p) => n + p.byteLength, 0);
        decoding.waiting.length = 0;
        this.bytes += decoding.bytes;
        this.shrink(key);
      },
      // A failure is not kept; whoever waits for it is told.
      () => this.forget(key, decoding),
    );
  }

  private forget(key: string, decoding: Decoding): void {
    const rest = (this.held.get(key) ?? []).filter((d) => d !== decoding);
    if (rest.length) this.held.set(key, rest);
    else this.held.delete(key);
  }

  private shrink(keep: string): void {
    for (const [key, decodings] of this.held) {
      if (this.bytes <= this.limit) return;
      if (key === keep || decodings.some((d) => d.bytes === 0)) continue;
      this.held.delete(key);
      for (const { bytes } of decodings) this.bytes -= bytes;
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

/** Channels that none of some decodings brings; `all` where all are wanted and none brings the rest. */
function lackingOf(known: readonly Decoding[], channels: readonly string[] | undefined): readonly string[] | 'all' {
  if (known.some((d) => !d.channels)) return [];
  return channels?.filter((c) => !known.some((d) => d.channels!.has(c))) ?? 'all';
}

const mostLevels = 10_000;

/** Starting a movie's decoder costs more than a few frames of it. */
const movieFramesTogether = 8;

const lastFrame = (file: FrameFile) => new FormatError(file.name, 'the movie ends before this frame.');

export const typeOf = (p: SharedPlane): SampleType =>
  p instanceof Uint16Array ? 'half' : p instanceof Float32Array ? 'float' : 'uint';
