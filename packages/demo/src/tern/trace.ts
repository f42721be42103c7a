import {
  clusterSizes,
  deck,
  deckEnd,
  deckHalfWidth,
  things,
  water,
  waterLevel,
  type Material,
  type Thing,
} from './scene.ts';

/** What a ray met. One record, overwritten by every `trace`: rays are many and objects would cost more than the tracing. */
export const hit = { t: Infinity, thing: -1, nx: 0, ny: 0, nz: 0 };
export const deckIndex = things.length;
export const waterIndex = things.length + 1;

export function materialOf(thing: number): Material {
  return thing === deckIndex ? deck : thing === waterIndex ? water : things[thing]!.material;
}
export function nameOf(thing: number): string {
  return thing === deckIndex ? 'boards' : thing === waterIndex ? 'water' : things[thing]!.name;
}

// Shapes as flat numbers: kind, centre, bounding radius squared, then the kind's own.
const stride = 12;
const flat = new Float64Array(things.length * stride);
things.forEach(({ shape }: Thing, i) => {
  const o = i * stride;
  if (shape.kind === 'sphere') flat.set([0, ...shape.at, shape.radius ** 2, shape.radius], o);
  if (shape.kind === 'box') {
    const [hx, hy, hz] = shape.half;
    flat.set([1, ...shape.at, hx * hx + hy * hy + hz * hz, hx, hy, hz, Math.cos(shape.turn), Math.sin(shape.turn)], o);
  }
  if (shape.kind === 'post') {
    const h = shape.height / 2;
    flat.set([2, shape.at[0], shape.at[1] + h, shape.at[2], h * h + shape.radius ** 2, shape.radius, h], o);
  }
});
/** A bounding ball per cluster: centre, radius squared, first thing, end. */
const bounds = new Float64Array(clusterSizes.length * 6);
clusterSizes.reduce((first, size, k) => {
  const members = Array.from({ length: size }, (_, i) => (first + i) * stride);
  const middle = [1, 2, 3].map((c) => members.reduce((sum, o) => sum + flat[o + c]!, 0) / size);
  const reach = members.map(
    (o) => Math.hypot(...[1, 2, 3].map((c) => flat[o + c]! - middle[c - 1]!)) + Math.sqrt(flat[o + 4]!),
  );
  bounds.set([...middle, Math.max(...reach) ** 2, first, first + size], k * 6);
  return first + size;
}, 0);
const glows = things.map((t) => t.material.glow !== undefined);

/** The nearest thing along a ray (unit direction); fills `hit` and returns whether there is one. */
export function trace(ox: number, oy: number, oz: number, dx: number, dy: number, dz: number, from = 1e-4): boolean {
  hit.t = Infinity;
  hit.thing = -1;
  if (dy < 0) ground(ox, oy, oz, dx, dy, dz, from);
  for (let k = 0; k < clusterSizes.length; k++) {
    const b = k * 6;
    const bx = bounds[b]! - ox;
    const by = bounds[b + 1]! - oy;
    const bz = bounds[b + 2]! - oz;
    const forward = bx * dx + by * dy + bz * dz;
    const bound2 = bounds[b + 3]!;
    const centre2 = bx * bx + by * by + bz * bz;
    if (centre2 - forward * forward > bound2 || (forward < 0 && centre2 > bound2)) continue;
    cluster(bounds[b + 4]!, bounds[b + 5]!, ox, oy, oz, dx, dy, dz, from);
  }
  return hit.thing >= 0;
}

function cluster(
  first: number,
  end: number,
  ox: number,
  oy: number,
  oz: number,
  dx: number,
  dy: number,
  dz: number,
  from: number,
): void {
  for (let i = first, o = first * stride; i < end; i++, o += stride) {
    const cx = flat[o + 1]! - ox;
    const cy = flat[o + 2]! - oy;
    const cz = flat[o + 3]! - oz;
    const along = cx * dx + cy * dy + cz * dz;
    const radius2 = flat[o + 4]!;
    const away2 = cx * cx + cy * cy + cz * cz - along * along;
    if (away2 > radius2 || (along < 0 && cx * cx + cy * cy + cz * cz > radius2)) continue;
    const kind = flat[o];
    if (kind === 0) sphere(i, along, away2, o, cx, cy, cz, dx, dy, dz, from);
    else if (kind === 1) box(i, o, cx, cy, cz, dx, dy, dz, from);
    else post(i, o, cx, cy, cz, dx, dy, dz, from);
  }
}

/** Whether anything but lantern glass stands between a point and `far` along a direction. */
export function blocked(ox: number, oy: number, oz: number, dx: number, dy: number, dz: number, far: number): boolean {
  // Glass is looked through by starting again behind it; there are few lanterns.
  let start = 1e-3;
  for (let k = 0; k < 4; k++) {
    if (!trace(ox, oy, oz, dx, dy, dz, start) || hit.t >= far) return false;
    if (hit.thing >= things.length || !glows[hit.thing]) return true;
    start = hit.t + 1e-3;
  }
  return false;
}

function ground(ox: number, oy: number, oz: number, dx: number, dy: number, dz: number, from: number): void {
  const t = -oy / dy;
  const x = ox + t * dx;
  const z = oz + t * dz;
  const onDeck = Math.abs(x) < deckHalfWidth && z < deckEnd;
  if (t > from && onDeck) {
    hit.t = t;
    hit.thing = deckIndex;
  } else {
    const low = (waterLevel - oy) / dy;
    if (low > from) {
      hit.t = low;
      hit.thing = waterIndex;
    }
  }
  hit.nx = 0;
  hit.ny = 1;
  hit.nz = 0;
}

function sphere(
  i: number,
  along: number,
  away2: number,
  o: number,
  cx: number,
  cy: number,
  cz: number,
  dx: number,
  dy: number,
  dz: number,
  from: number,
): void {
  const half = Math.sqrt(flat[o + 4]! - away2);
  let t = along - half;
  if (t < from) t = along + half;
  if (t < from || t >= hit.t) return;
  hit.t = t;
  hit.thing = i;
  const r = flat[o + 5]!;
  hit.nx = (t * dx - cx) / r;
  hit.ny = (t * dy - cy) / r;
  hit.nz = (t * dz - cz) / r;
}

function box(
  i: number,
  o: number,
  cx: number,
  cy: number,
  cz: number,
  dx: number,
  dy: number,
  dz: number,
  from: number,
): void {
  const cos = flat[o + 8]!;
  const sin = flat[o + 9]!;
  // into the box's own axes
  const px = -(cx * cos - cz * sin);
  const pz = -(cx * sin + cz * cos);
  const vx = dx * cos - dz * sin;
  const vz = dx * sin + dz * cos;
  let near = -Infinity;
  let far = Infinity;
  let axis = 0;
  for (let a = 0; a < 3; a++) {
    const p = a === 0 ? px : a === 1 ? -cy : pz;
    const v = a === 0 ? vx : a === 1 ? dy : vz;
    const h = flat[o + 5 + a]!;
    const t1 = (-h - p) / v;
    const t2 = (h - p) / v;
    const low = t1 < t2 ? t1 : t2;
    const high = t1 < t2 ? t2 : t1;
    if (low > near) {
      near = low;
      axis = a;
    }
    if (high < far) far = high;
  }
  if (near > far || near < from || near >= hit.t) return;
  hit.t = near;
  hit.thing = i;
  const nx = axis === 0 ? (vx > 0 ? -1 : 1) : 0;
  const nz = axis === 2 ? (vz > 0 ? -1 : 1) : 0;
  hit.nx = nx * cos + nz * sin;
  hit.ny = axis === 1 ? (dy > 0 ? -1 : 1) : 0;
  hit.nz = -nx * sin + nz * cos;
}

function post(
  i: number,
  o: number,
  cx: number,
  cy: number,
  cz: number,
  dx: number,
  dy: number,
  dz: number,
  from: number,
): void {
  const r = flat[o + 5]!;
  const h = flat[o + 6]!;
  const a = dx * dx + dz * dz;
  const b = cx * dx + cz * dz;
  const c = cx * cx + cz * cz - r * r;
  const disc = b * b - a * c;
  if (disc < 0) return;
  const t = (b - Math.sqrt(disc)) / a;
  const y = t * dy - cy;
  if (t > from && Math.abs(y) <= h) {
    if (t >= hit.t) return;
    hit.t = t;
    hit.thing = i;
    hit.nx = (t * dx - cx) / r;
    hit.ny = 0;
    hit.nz = (t * dz - cz) / r;
    return;
  }
  const cap = (cy + (dy < 0 ? h : -h)) / dy;
  const x = cap * dx - cx;
  const z = cap * dz - cz;
  if (cap > from && cap < hit.t && x * x + z * z <= r * r) {
    hit.t = cap;
    hit.thing = i;
    hit.nx = 0;
    hit.ny = dy < 0 ? 1 : -1;
    hit.nz = 0;
  }
}
