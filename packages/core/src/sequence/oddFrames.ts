/** A picture made very small, to tell frames by: means of codes over a grid, red, green, blue. */
export type FramePrint = Float32Array;

const [across, down] = [32, 18];

/** A large picture is read at every few pixels: so many across are enough for a grid of 32. */
const readAcross = 320;

/** The print of an RGBA8 picture. */
export function printOfPicture(rgba: Uint8Array | Uint8ClampedArray, width: number, height: number): FramePrint {
  const sums = new Float32Array(across * down * 3);
  const counts = new Float32Array(across * down);
  const column = Int32Array.from({ length: width }, (_, x) => Math.floor((x * across) / width));
  const step = Math.max(1, Math.floor(width / readAcross));
  for (let y = 0; y < height; y += step) {
    const row = Math.floor((y * down) / height) * across;
    for (let x = 0, i = 4 * y * width; x < width; x += step, i += 4 * step) {
      const cell = row + column[x]!;
      counts[cell]!++;
      for (let c = 0; c < 3; c++) sums[3 * cell + c]! += rgba[i + c]!;
    }
  }
  return sums.map((s, i) => s / Math.max(1, counts[Math.floor(i / 3)]!));
}

/** The mean difference of two prints, in code values. */
export function printDifference(a: FramePrint, b: FramePrint): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += Math.abs(a[i]! - b[i]!);
  return sum / a.length;
}

/** A frame that is unlike its neighbours, or too like one. */
export interface OddFrame {
  readonly frame: number;
  /** `flash`: unlike both neighbours, which are alike; `jump`: unlike the one before; `repeat`: the one before again. */
  readonly kind: 'flash' | 'jump' | 'repeat';
  /** From the frame before, in code values. */
  readonly difference: number;
}

/** Frames, in order, that differ from their neighbours by more than `threshold` code values, or not at all. Only neighbours that are there are compared. */
export function oddFrames(prints: ReadonlyMap<number, FramePrint>, threshold: number): OddFrame[] {
  const between = (a: number, b: number) => {
    const [x, y] = [prints.get(a), prints.get(b)];
    return x && y ? printDifference(x, y) : undefined;
  };
  const odd: OddFrame[] = [];
  for (const frame of [...prints.keys()].sort((a, b) => a - b)) {
    const difference = between(frame - 1, frame);
    if (difference === undefined) continue;
    const after = between(frame, frame + 1);
    const around = between(frame - 1, frame + 1);
    if (difference === 0) odd.push({ frame, kind: 'repeat', difference });
    else if (difference <= threshold) continue;
    else if (after !== undefined && after > threshold && around !== undefined && around <= threshold)
      odd.push({ frame, kind: 'flash', difference });
    // The way back from a flash is no jump of its own.
    else if (odd.at(-1)?.frame !== frame - 1 || odd.at(-1)?.kind !== 'flash')
      odd.push({ frame, kind: 'jump', difference });
  }
  return odd;
}
