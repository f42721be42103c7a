import type { MatteInPicture, PicturePoint } from '../matte.ts';

const degree = Math.PI / 180;
const rounded = (v: number) => Math.round(v * 10) / 10;

interface Turned {
  readonly centre: readonly number[];
  readonly angle: number;
}

/** A place beside a turned shape's centre, so far along its own sides. */
function beside({ centre, angle }: Turned, u: number, v: number): PicturePoint {
  const [cos, sin] = [Math.cos(angle * degree), Math.sin(angle * degree)];
  return [centre[0]! + u * cos - v * sin, centre[1]! + u * sin + v * cos];
}

/** How far a place lies from a turned shape's centre, along its own sides. */
function along({ centre, angle }: Turned, [x, y]: PicturePoint): PicturePoint {
  const [cos, sin] = [Math.cos(angle * degree), Math.sin(angle * degree)];
  const [dx, dy] = [x - centre[0]!, y - centre[1]!];
  return [dx * cos + dy * sin, dy * cos - dx * sin];
}

/**
 * How a shape about a centre is held in the picture: its centre, both its sides, what turns it, and where its falloff ends. `key` is the
 * parameter of its half sides; `outline` its corners, grown by a width.
 */
export function heldShape<K extends 'radius' | 'size'>(
  key: K,
  outline: (half: PicturePoint, grown: number) => readonly PicturePoint[],
): MatteInPicture<Turned & { readonly falloff: number } & Readonly<Record<K, readonly number[]>>> {
  type Held = Turned & { readonly falloff: number } & Readonly<Record<K, readonly number[]>>;
  const half = (v: Held) => v[key] as unknown as PicturePoint;
  return {
    handles: (v) => [
      { id: 'centre', title: 'Centre', at: beside(v, 0, 0) },
      { id: 'across', title: 'Width', at: beside(v, half(v)[0], 0) },
      { id: 'down', title: 'Height', at: beside(v, 0, half(v)[1]) },
      { id: 'turn', title: 'Turn', at: beside(v, -half(v)[0], 0) },
      { id: 'falloff', title: 'Falloff', at: beside(v, 0, -half(v)[1] - v.falloff) },
    ],
    moved(v, id, to) {
      const [u, w] = along(v, to).map((d) => rounded(Math.abs(d))) as [number, number];
      if (id === 'centre') return { centre: to.map(rounded) };
      if (id === 'across') return { [key]: [u, half(v)[1]] };
      if (id === 'down') return { [key]: [half(v)[0], w] };
      if (id === 'falloff') return { falloff: Math.max(0, rounded(w - half(v)[1])) };
      // Its left side follows the hand.
      return { angle: rounded(Math.atan2(v.centre[1]! - to[1], v.centre[0]! - to[0]) / degree) };
    },
    outlines: (v) => [0, v.falloff].map((grown) => outline(half(v), grown).map(([u, w]) => beside(v, u, w))),
  };
}

/** The ends of a line that two parameters give. */
export const heldLine = <K extends string>(from: K, to: K): MatteInPicture<Readonly<Record<K, readonly number[]>>> => ({
  handles: (v) => [
    { id: from, title: 'From', at: v[from] as unknown as PicturePoint },
    { id: to, title: 'To', at: v[to] as unknown as PicturePoint },
  ],
  moved: (_v, id, at) => ({ [id]: at.map(rounded) }),
  outlines: (v) => [[v[from] as unknown as PicturePoint, v[to] as unknown as PicturePoint]],
});

/** The corners of a polygon. */
export const heldCorners: MatteInPicture<{ readonly corners: readonly PicturePoint[] }> = {
  handles: ({ corners }) => corners.map((at, i) => ({ id: String(i), title: `Corner ${i + 1}`, at })),
  moved: ({ corners }, id, to) => ({
    corners: corners.map((c, i) => (String(i) === id ? (to.map(rounded) as unknown as PicturePoint) : c)),
  }),
  outlines: ({ corners }) => [corners.length > 2 ? [...corners, corners[0]!] : corners],
};
