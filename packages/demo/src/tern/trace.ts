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

/** A ray: origin, then unit direction, six numbers in a row. An array, because numbers passed one by one get boxed. */
export type Ray = Float64Array;
export const newRay = (): Ray => new Float64Array(6);

/** What a ray met. One record, overwritten by every `trace`: rays are many and objects would cost more than the tracing. */
export const hit = { t: Infinity, thing: -1, nx: 0.5, ny: 0.5, nz: 0.5 };
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
const glass = Uint8Array.from(things, (t) => (t.material.glow ? 1 : 0));
/** Set while a shadow ray is under way: lantern glass lets it through. */
let throughGlass = false;

/**
 * The nearest thing along a ray; fills `hit` and returns whether there is one.
 * With `enough`, any thing nearer than that will do: shadow rays ask only whether there is one.
 */
export function trace(ray: Ray, from = 1e-4, enough = -1): boolean {
  hit.t = Infinity;
  hit.thing = -1;
  if (ray[4]! < 0) ground(ray, from);
  for (let k = 0, b = 0; k < clusterSizes.length; k++, b += 6) {
    const bx = bounds[b]! - ray[0]!;
    const by = bounds[b + 1]! - ray[1]!;
    const bz = bounds[b + 2]! - ray[2]!;
    const forward = bx * ray[3]! + by * ray[4]! + bz * ray[5]!;
    const bound2 = bounds[b + 3]!;
    const centre2 = bx * bx + by * by + bz * bz;
    if (centre2 - forward * forward > bound2 || (forward < 0 && centre2 > bound2)) continue;
    cluster(k, ray, from);
    if (hit.t < enough) return true;
  }
  return hit.thing >= 0;
}

/** The ray as one thing sees it: from the ray's origin to the thing's centre, how far along, how far off it (squared). */
const seen = { x: 0.5, y: 0.5, z: 0.5, along: 0.5, away2: 0.5 };

function cluster(k: number, ray: Ray, from: number): void {
  const first = bounds[k * 6 + 4]!;
  const end = bounds[k * 6 + 5]!;
  for (let i = first, o = first * stride; i < end; i++, o += stride) {
    if (throughGlass && glass[i]) continue;
    const cx = flat[o + 1]! - ray[0]!;
    const cy = flat[o + 2]! - ray[1]!;
    const cz = flat[o + 3]! - ray[2]!;
    const along = cx * ray[3]! + cy * ray[4]! + cz * ray[5]!;
    const centre2 = cx * cx + cy * cy + cz * cz;
    const radius2 = flat[o + 4]!;
    const away2 = centre2 - along * along;
    if (away2 > radius2 || (along < 0 && centre2 > radius2)) continue;
    seen.x = cx;
    seen.y = cy;
    seen.z = cz;
    seen.along = along;
    seen.away2 = away2;
    const kind = flat[o];
    if (kind === 0) sphere(i, o, ray, from);
    else if (kind === 1) box(i, o, ray, from);
    else post(i, o, ray, from);
  }
}

/** Whether anything but lantern glass stands between the ray's origin and `far` along it. */
export function blocked(ray: Ray, far: number): boolean {
  throughGlass = true;
  const met = trace(ray, 1e-3, far);
  throughGlass = false;
  return met && hit.t < far;
}

function ground(ray: Ray, from: number): void {
  const dy = ray[4]!;
  const t = -ray[1]! / dy;
  const onDeck = Math.abs(ray[0]! + t * ray[3]!) < deckHalfWidth && ray[2]! + t * ray[5]! < deckEnd;
  const low = (waterLevel - ray[1]!) / dy;
  if (t > from && onDeck) {
    hit.t = t;
    hit.thing = deckIndex;
  } else if (low > from) {
    hit.t = low;
    hit.thing = waterIndex;
  }
  hit.nx = 0;
  hit.ny = 1;
  hit.nz = 0;
}

function sphere(i: number, o: number, ray: Ray, from: number): void {
  const half = Math.sqrt(flat[o + 4]! - seen.away2);
  let t = seen.along - half;
  if (t < from) t = seen.along + half;
  if (t < from || t >= hit.t) return;
  hit.t = t;
  hit.thing = i;
  const r = flat[o + 5]!;
  hit.nx = (t * ray[3]! - seen.x) / r;
  hit.ny = (t * ray[4]! - seen.y) / r;
  hit.nz = (t * ray[5]! - seen.z) / r;
}

function box(i: number, o: number, ray: Ray, from: number): void {
  const cos = flat[o + 8]!;
  const sin = flat[o + 9]!;
  const dy = ray[4]!;
  // into the box's own axes
  const px = -(seen.x * cos - seen.z * sin);
  const pz = -(seen.x * sin + seen.z * cos);
  const vx = ray[3]! * cos - ray[5]! * sin;
  const vz = ray[3]! * sin + ray[5]! * cos;
  const farX = flat[o + 5]! / Math.abs(vx);
  const farY = flat[o + 6]! / Math.abs(dy);
  const farZ = flat[o + 7]! / Math.abs(vz);
  const middleX = -px / vx;
  const middleY = seen.y / dy;
  const middleZ = -pz / vz;
  const nearX = middleX - farX;
  const nearY = middleY - farY;
  const nearZ = middleZ - farZ;
  const near = Math.max(nearX, nearY, nearZ);
  const far = Math.min(middleX + farX, middleY + farY, middleZ + farZ);
  // written so that NaN (a ray along a face) misses
  if (!(near <= far && near >= from && near < hit.t)) return;
  hit.t = near;
  hit.thing = i;
  const nx = near === nearX ? (vx > 0 ? -1 : 1) : 0;
  const nz = near === nearZ ? (vz > 0 ? -1 : 1) : 0;
  hit.nx = nx * cos + nz * sin;
  hit.ny = near === nearY ? (dy > 0 ? -1 : 1) : 0;
  hit.nz = -nx * sin + nz * cos;
}

function post(i: number, o: number, ray: Ray, from: number): void {
  const dx = ray[3]!;
  const dy = ray[4]!;
  const dz = ray[5]!;
  const r = flat[o + 5]!;
  const h = flat[o + 6]!;
  const a = dx * dx + dz * dz;
  const b = seen.x * dx + seen.z * dz;
  const c = seen.x * seen.x + seen.z * seen.z - r * r;
  const disc = b * b - a * c;
  if (disc < 0) return;
  const t = (b - Math.sqrt(disc)) / a;
  const y = t * dy - seen.y;
  if (t > from && Math.abs(y) <= h) {
    if (t >= hit.t) return;
    hit.t = t;
    hit.thing = i;
    hit.nx = (t * dx - seen.x) / r;
    hit.ny = 0;
    hit.nz = (t * dz - seen.z) / r;
    return;
  }
  const cap = (seen.y + (dy < 0 ? h : -h)) / dy;
  const x = cap * dx - seen.x;
  const z = cap * dz - seen.z;
  if (cap > from && cap < hit.t && x * x + z * z <= r * r) {
    hit.t = cap;
    hit.thing = i;
    hit.nx = 0;
    hit.ny = dy < 0 ? 1 : -1;
    hit.nz = 0;
  }
}
