/** Votes of soft-edge pixels: is their colour what its neighbour's would be after multiplying by alpha, or before? */
export interface AlphaVotes {
  readonly premultiplied: number;
  readonly straight: number;
}

/** Alpha within these is a soft edge; beyond the upper a pixel is full. */
const edge = [0.1, 0.9] as const;
const full = 0.995;
/** No verdict on fewer votes, nor without this share of them. Our judgement. */
const fewest = 40;
const clear = 0.85;

/**
 * Compares each soft-edge pixel with the nearest full pixel within three: premultiplied colour is the neighbour's times alpha, straight
 * colour is the neighbour's. Colour where alpha is 0 is not looked at: a glow may have it. Planes of one size, floats.
 */
export function alphaVotes(
  colour: readonly [Float32Array, Float32Array, Float32Array],
  alpha: Float32Array,
  width: number,
  height: number,
): AlphaVotes {
  let [premultiplied, straight] = [0, 0];
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const a = alpha[i]!;
      if (!(a > edge[0] && a < edge[1])) continue;
      const j = neighbour(alpha, width, height, x, y, (n) => n >= full);
      const outside = neighbour(alpha, width, height, x, y, (n) => n <= 1 - full);
      if (j < 0) continue;
      // Where the picture goes on behind (a sky without alpha), an edge is a mixture and tells nothing.
      if (outside >= 0 && sum(colour, outside) > 0.1 * sum(colour, j)) continue;
      let [asMultiplied, asStraight] = [0, 0];
      for (const plane of colour) {
        const [c, n] = [plane[i]!, plane[j]!];
        asMultiplied += Math.abs(c - n * a);
        asStraight += Math.abs(c - n);
      }
      const light = sum(colour, j);
      // Black edges, and colours that differ from both, say nothing.
      if (!(light > 0.02) || Math.min(asMultiplied, asStraight) > 0.3 * light * Math.abs(1 - a)) continue;
      if (asMultiplied < asStraight) premultiplied++;
      else straight++;
    }
  }
  return { premultiplied, straight };
}

const sum = (colour: readonly Float32Array[], i: number) => colour.reduce((n, plane) => n + Math.abs(plane[i]!), 0);

/** The nearest pixel, in the four directions, whose alpha fits; -1 when there is none within three. */
function neighbour(
  alpha: Float32Array,
  width: number,
  height: number,
  x: number,
  y: number,
  fits: (alpha: number) => boolean,
): number {
  for (let reach = 1; reach <= 3; reach++) {
    for (const [dx, dy] of [
      [-reach, 0],
      [reach, 0],
      [0, -reach],
      [0, reach],
    ] as const) {
      const [nx, ny] = [x + dx, y + dy];
      if (nx < 0 || ny < 0 || nx >= width || ny >= height) continue;
      if (fits(alpha[ny * width + nx]!)) return ny * width + nx;
    }
  }
  return -1;
}

/** What the votes decide; undefined when they are too few or too divided. */
export function alphaVerdict({ premultiplied, straight }: AlphaVotes): 'premultiplied' | 'straight' | undefined {
  const votes = premultiplied + straight;
  if (votes < fewest) return undefined;
  if (premultiplied >= clear * votes) return 'premultiplied';
  return straight >= clear * votes ? 'straight' : undefined;
}
