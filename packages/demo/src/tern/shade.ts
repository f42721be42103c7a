import { addHaze, addSky, LANTERNS, lanterns, SKY, SUN, type Grouped } from './light.ts';
import { hazeDensity, sunDirection, sunLight, sunSpread } from './scene.ts';
import { copySurface, describeSurface, surface } from './surface.ts';
import { blocked, hit, trace } from './trace.ts';

/** The components of the beauty, in this order; each holds nine numbers: three groups of three channels. */
export const components = [
  'diffuse_direct',
  'diffuse_indirect',
  'specular_direct',
  'specular_indirect',
  'emission',
  'volume',
] as const;
const DIFFUSE_DIRECT = 0;
const DIFFUSE_INDIRECT = 9;
const SPECULAR_DIRECT = 18;
const SPECULAR_INDIRECT = 27;
const EMISSION = 36;
const VOLUME = 45;
export const sampleNumbers = 54;

/** What a sample tells besides light. */
export const told = { thing: -1, t: 0, sunlit: 0, albedo: new Float64Array(3) };

/** Random numbers of one sample: eight pairs, stratified over the pixel's samples by the caller. */
export type Draws = Float64Array;

const bounce = new Float64Array(9);
const mirrorColour = new Float64Array(3);
const secondAlbedo = new Float64Array(3);
const skyLight = [0.62, 0.64, 0.68] as const;
const met = { ...surface };

/** Light along a camera ray, split by component and group, added to `out`. Halos are smooth: one sample may carry them for several. */
export function shadeSample(
  out: Float64Array,
  ox: number,
  oy: number,
  oz: number,
  dx: number,
  dy: number,
  dz: number,
  draws: Draws,
  lantern: number,
  halo: number,
): void {
  told.sunlit = 0;
  told.albedo.fill(0);
  if (!trace(ox, oy, oz, dx, dy, dz)) {
    told.thing = -1;
    told.t = Infinity;
    addHaze(out, VOLUME, ox, oy, oz, dx, dy, dz, Infinity, halo);
    return;
  }
  const t = hit.t;
  told.thing = hit.thing;
  told.t = t;
  addHaze(out, VOLUME, ox, oy, oz, dx, dy, dz, t, halo);
  const clear = Math.exp(-hazeDensity * t);
  const [x, y, z] = [ox + t * dx, oy + t * dy, oz + t * dz];
  describeSurface(x, y, z, t);
  copySurface(met);
  const s = met;
  if (s.glow) {
    // A glowing globe is brighter where one looks through more of it.
    const facing = 0.55 + 0.45 * Math.max(0, -(dx * s.nx + dy * s.ny + dz * s.nz));
    for (let c = 0; c < 3; c++) out[EMISSION + 3 * LANTERNS + c]! += clear * facing * s.glow[c]!;
  }
  told.albedo[0] = s.r;
  told.albedo[1] = s.g;
  told.albedo[2] = s.b;
  mirrorColour[0] = s.mr;
  mirrorColour[1] = s.mg;
  mirrorColour[2] = s.mb;
  sunOn(out, s, x, y, z, dx, dy, dz, clear, draws);
  lanternOn(out, s, x, y, z, dx, dy, dz, clear, draws, lantern);
  domeOn(out, s, x, y, z, clear, draws);
  reflection(out, s, x, y, z, dx, dy, dz, clear, draws);
}

type Surface = typeof surface;

/** A normalised Blinn-Phong lobe (common practice, no source). */
function highlight(
  s: Surface,
  dx: number,
  dy: number,
  dz: number,
  lx: number,
  ly: number,
  lz: number,
  cosine: number,
): number {
  const [hx, hy, hz] = [lx - dx, ly - dy, lz - dz];
  const l = Math.sqrt(hx * hx + hy * hy + hz * hz) || 1;
  const facing = Math.max(0, (hx * s.nx + hy * s.ny + hz * s.nz) / l);
  const sharp = Math.min(400, 2 / (s.roughness * s.roughness + 1e-4));
  return ((sharp + 8) / (8 * Math.PI)) * (facing > 0.8 ? facing ** sharp : 0) * cosine;
}

function sunOn(
  out: Grouped,
  s: Surface,
  x: number,
  y: number,
  z: number,
  dx: number,
  dy: number,
  dz: number,
  clear: number,
  draws: Draws,
): void {
  const angle = 2 * Math.PI * draws[2]!;
  const radius = sunSpread * Math.sqrt(draws[3]!);
  let lx = sunDirection[0] + radius * Math.cos(angle);
  let ly = sunDirection[1] + radius * Math.sin(angle);
  let lz = sunDirection[2] - radius * Math.cos(angle);
  const l = Math.sqrt(lx * lx + ly * ly + lz * lz);
  lx /= l;
  ly /= l;
  lz /= l;
  const cosine = lx * s.nx + ly * s.ny + lz * s.nz;
  if (cosine <= 0 || blocked(x, y, z, lx, ly, lz, Infinity)) return;
  told.sunlit = cosine;
  const shine = highlight(s, dx, dy, dz, lx, ly, lz, cosine);
  for (let c = 0; c < 3; c++) {
    out[DIFFUSE_DIRECT + 3 * SUN + c]! += clear * told.albedo[c]! * cosine * sunLight[c]!;
    out[SPECULAR_DIRECT + 3 * SUN + c]! += clear * mirrorColour[c]! * shine * sunLight[c]! * 0.6;
  }
}

function lanternOn(
  out: Grouped,
  s: Surface,
  x: number,
  y: number,
  z: number,
  dx: number,
  dy: number,
  dz: number,
  clear: number,
  draws: Draws,
  which: number,
): void {
  const lamp = lanterns[which]!;
  const turn = 2 * Math.PI * draws[4]!;
  const height = 2 * draws[5]! - 1;
  const flat = Math.sqrt(1 - height * height);
  let lx = lamp.at[0] + lamp.radius * flat * Math.cos(turn) - x;
  let ly = lamp.at[1] + lamp.radius * height - y;
  let lz = lamp.at[2] + lamp.radius * flat * Math.sin(turn) - z;
  const distance = Math.sqrt(lx * lx + ly * ly + lz * lz);
  lx /= distance;
  ly /= distance;
  lz /= distance;
  const cosine = lx * s.nx + ly * s.ny + lz * s.nz;
  if (cosine <= 0 || s.glow || distance < 1e-3 || blocked(x, y, z, lx, ly, lz, distance)) return;
  const power = (lanterns.length * lamp.radius ** 2) / Math.max(distance * distance, 4 * lamp.radius ** 2);
  const shine = Math.min(highlight(s, dx, dy, dz, lx, ly, lz, cosine), 6);
  for (let c = 0; c < 3; c++) {
    out[DIFFUSE_DIRECT + 3 * LANTERNS + c]! += clear * told.albedo[c]! * cosine * power * lamp.glow[c]!;
    out[SPECULAR_DIRECT + 3 * LANTERNS + c]! += clear * mirrorColour[c]! * shine * power * lamp.glow[c]! * 0.5;
  }
}

/** One ray into the hemisphere, cosine-weighted: the sky counts as direct light, things as bounced light. */
function domeOn(out: Grouped, s: Surface, x: number, y: number, z: number, clear: number, draws: Draws): void {
  const turn = 2 * Math.PI * draws[6]!;
  const radius = Math.sqrt(draws[7]!);
  const up = Math.sqrt(1 - draws[7]!);
  const side = Math.abs(s.ny) < 0.9 ? [-s.nz, 0, s.nx] : [0, s.nz, -s.ny];
  const l = Math.sqrt(side[0]! * side[0]! + side[1]! * side[1]! + side[2]! * side[2]!);
  const [ax, ay, az] = [side[0]! / l, side[1]! / l, side[2]! / l];
  const [bx, by, bz] = [s.ny * az - s.nz * ay, s.nz * ax - s.nx * az, s.nx * ay - s.ny * ax];
  const [u, v] = [radius * Math.cos(turn), radius * Math.sin(turn)];
  const [dx, dy, dz] = [u * ax + v * bx + up * s.nx, u * ay + v * by + up * s.ny, u * az + v * bz + up * s.nz];
  bounce.fill(0);
  const direct = secondary(x, y, z, dx, dy, dz, draws) ? DIFFUSE_INDIRECT : DIFFUSE_DIRECT;
  for (let i = 0; i < 9; i++) out[direct + i]! += clear * told.albedo[i % 3]! * bounce[i]!;
}

function reflection(
  out: Grouped,
  s: Surface,
  x: number,
  y: number,
  z: number,
  dx: number,
  dy: number,
  dz: number,
  clear: number,
  draws: Draws,
): void {
  const into = dx * s.nx + dy * s.ny + dz * s.nz;
  // Schlick's approximation; rough surfaces gain less at the rim.
  const away = 1 - Math.min(1, Math.max(0, -into));
  const rim = away * away * away * away * away * (1 - s.roughness * 1.6);
  for (let c = 0; c < 3; c++) mirrorColour[c] = mirrorColour[c]! + (1 - mirrorColour[c]!) * rim;
  if (mirrorColour[0]! + mirrorColour[1]! + mirrorColour[2]! < 0.02) return;
  const spread = s.roughness;
  let rx = dx - 2 * into * s.nx + spread * (draws[8]! - 0.5) * 2;
  let ry = dy - 2 * into * s.ny + spread * (draws[9]! - 0.5) * 2;
  let rz = dz - 2 * into * s.nz + spread * (draws[10]! - 0.5) * 2;
  const l = Math.sqrt(rx * rx + ry * ry + rz * rz);
  rx /= l;
  ry /= l;
  rz /= l;
  if (rx * s.nx + ry * s.ny + rz * s.nz <= 0.001) return;
  bounce.fill(0);
  secondary(x, y, z, rx, ry, rz, draws);
  for (let i = 0; i < 9; i++) out[SPECULAR_INDIRECT + i]! += clear * mirrorColour[i % 3]! * bounce[i]!;
}

/** Light along a second ray, put into `bounce` by group; simpler shading. Returns whether it met a thing. */
function secondary(x: number, y: number, z: number, dx: number, dy: number, dz: number, draws: Draws): boolean {
  if (!trace(x, y, z, dx, dy, dz, 1e-3)) {
    addSky(bounce, 0, dx, dy, dz, 1);
    return false;
  }
  const t = hit.t;
  const [px, py, pz] = [x + t * dx, y + t * dy, z + t * dz];
  describeSurface(px, py, pz, t + 6);
  const s = surface;
  const clear = Math.exp(-hazeDensity * t);
  const [nx, ny, nz, glow] = [s.nx, s.ny, s.nz, s.glow];
  secondAlbedo[0] = s.r + s.mr * 0.5;
  secondAlbedo[1] = s.g + s.mg * 0.5;
  secondAlbedo[2] = s.b + s.mb * 0.5;
  addHaze(bounce, 0, x, y, z, dx, dy, dz, t, 0);
  if (glow) {
    for (let c = 0; c < 3; c++) bounce[3 * LANTERNS + c]! += clear * glow[c]! * 0.85;
    return true;
  }
  const open = 0.35 + 0.35 * ny;
  const cosine = sunDirection[0] * nx + sunDirection[1] * ny + sunDirection[2] * nz;
  const lamp = lanterns[Math.floor(draws[11]! * lanterns.length)]!;
  const lit = cosine > 0 && !blocked(px, py, pz, sunDirection[0], sunDirection[1], sunDirection[2], Infinity);
  const [lx, ly, lz] = [lamp.at[0] - px, lamp.at[1] - py, lamp.at[2] - pz];
  const distance = Math.sqrt(lx * lx + ly * ly + lz * lz);
  const lampCosine = (lx * nx + ly * ny + lz * nz) / distance;
  const lampReach =
    lampCosine > 0
      ? (lanterns.length * lamp.radius ** 2 * lampCosine) / Math.max(distance * distance, lamp.radius ** 2)
      : 0;
  for (let c = 0; c < 3; c++) {
    bounce[3 * SKY + c]! += clear * secondAlbedo[c]! * open * skyLight[c]!;
    if (lit) bounce[3 * SUN + c]! += clear * secondAlbedo[c]! * cosine * sunLight[c]!;
    bounce[3 * LANTERNS + c]! += clear * secondAlbedo[c]! * lampReach * lamp.glow[c]! * 0.7;
  }
  return true;
}
