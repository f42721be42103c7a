import type { FramePrint, ScopeCounts, Window } from '@june-haze/core';

/** A finished picture as it was put on the canvas. */
export interface Drawn {
  /** Of what was made: the window, where there is one. */
  readonly width: number;
  readonly height: number;
  /** Where it lies in the picture of its level, where it is a part of it. */
  readonly window?: Window | undefined;
  readonly rgba: Uint8ClampedArray<ArrayBuffer>;
  readonly clipped: number | undefined;
  /** Share of pixels with each warning, in the order of their kinds. */
  readonly warned: readonly number[];
  readonly scopes: ScopeCounts | undefined;
  /** Tells it from the frames around it; none for what is not kept. */
  readonly print?: FramePrint | undefined;
}

/**
 * Finished pictures by what they show and their frame, within a budget of bytes; those used longest ago go first. Playing comes from here.
 */
export class DrawnPictures {
  private readonly held = new Map<string, { readonly state: string; readonly frame: number; readonly drawn: Drawn }>();
  bytes = 0;
  private most: number;

  constructor(limit: number) {
    this.most = limit;
  }

  get limit(): number {
    return this.most;
  }

  /** Another budget; what does not fit into it goes. */
  set limit(bytes: number) {
    this.most = bytes;
    this.shrink();
  }

  get(state: string, frame: number): Drawn | undefined {
    const key = `${frame} ${state}`;
    const found = this.held.get(key);
    if (!found) return undefined;
    this.held.delete(key);
    this.held.set(key, found);
    return found.drawn;
  }

  /** Keeps a picture; one larger than the whole budget is not kept. */
  set(state: string, frame: number, drawn: Drawn): void {
    const key = `${frame} ${state}`;
    const size = bytesOf(drawn);
    if (size > this.limit) return;
    this.drop(key);
    this.held.set(key, { state, frame, drawn });
    this.bytes += size;
    this.shrink();
  }

  /** Whether one more picture of a size fits without another's going. */
  fits(bytes: number): boolean {
    return this.bytes + bytes <= this.limit;
  }

  /** The prints of the frames that are held of one state. */
  prints(state: string): Map<number, FramePrint> {
    return new Map(
      [...this.held.values()].flatMap((h) => (h.state === state && h.drawn.print ? [[h.frame, h.drawn.print]] : [])),
    );
  }

  /** The frames that are held of one state. */
  frames(state: string): Set<number> {
    return new Set([...this.held.values()].filter((h) => h.state === state).map((h) => h.frame));
  }

  private shrink(): void {
    for (const old of this.held.keys()) {
      if (this.bytes <= this.limit) break;
      this.drop(old);
    }
  }

  private drop(key: string): void {
    const old = this.held.get(key);
    if (!old) return;
    this.held.delete(key);
    this.bytes -= bytesOf(old.drawn);
  }
}

const bytesOf = ({ rgba, scopes }: Drawn) =>
  rgba.byteLength + (scopes ? Object.values(scopes).reduce((n: number, s: Uint32Array) => n + s.byteLength, 0) : 0);

/** Two pictures of one level cut to the part that both have; undefined where they have none. */
export function samePart(a: Drawn, b: Drawn): readonly [Drawn, Drawn] | readonly [undefined, undefined] {
  const [one, other] = [windowOf(a), windowOf(b)];
  const [x, y] = [Math.max(one.x, other.x), Math.max(one.y, other.y)];
  const width = Math.min(one.x + one.width, other.x + other.width) - x;
  const height = Math.min(one.y + one.height, other.y + other.height) - y;
  if (width <= 0 || height <= 0) return [undefined, undefined];
  const part = { x, y, width, height };
  return [cutTo(a, one, part), cutTo(b, other, part)];
}

const windowOf = ({ window, width, height }: Drawn): Window => window ?? { x: 0, y: 0, width, height };

function cutTo(drawn: Drawn, own: Window, part: Window): Drawn {
  const { x, y, width, height } = part;
  if (x === own.x && y === own.y && width === own.width && height === own.height) return drawn;
  const rgba = new Uint8ClampedArray(width * height * 4);
  for (let row = 0; row < height; row++) {
    const from = 4 * ((y - own.y + row) * own.width + x - own.x);
    rgba.set(drawn.rgba.subarray(from, from + 4 * width), 4 * row * width);
  }
  return { ...drawn, width, height, window: part, rgba };
}
