import { addHaze, addSky, LANTERNS, lanterns, SKY, SUN, type Grouped, type Lantern } from './light.ts';
import { sunDirection, sunLight, sunSpread, type Rgb } from './scene.ts';
import { describeSurface, newSurface, type Surface } from './surface.ts';
import { blocked, hit, newRay, trace, type Ray } from './trace.ts';

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
export const told = { thing: -1, sunlit: 0.5, albedo: new Float64Array(3) };

/** Random numbers of one sample: eight pairs, stratified over the pixel's samples by the caller. */
export type Draws = Float64Array;

const bounce = new Float64Array(9);
const skyLight = [0.62, 0.64, 0.68] as const;
const first = newSurface();
const second = newSurface();
/** Rays towards lights, and second rays. */
const lightRay = newRay();
const secondRay = newRay();

/** Light along a camera ray, split by component and group, added to `out`. Halos are smooth: one sample may carry them for several. */
export function shadeSample(out: Float64Array, ray: Ray, draws: Draws, lantern: number, halo: number): void {
  told.sunlit = 0;
  if (!trace(ray)) {
    told.thing = -1;
    addHaze(out, VOLUME, ray, Infinity, halo);
    return;
  }
  told.thing = hit.thing;
  addHaze(out, VOLUME, ray, hit.t, halo);
  const s = first;
  describeSurface(s, ray, 0);
  if (s.glow) {
    // A glowing globe is brighter where one looks through more of it.
    const facing = 0.55 + 0.45 * Math.max(0, -along(ray, s));
    for (let c = 0; c < 3; c++) out[EMISSION + 3 * LANTERNS + c]! += s.clear * facing * s.glow[c]!;
  }
  told.albedo[0] = s.r;
  told.albedo[1] = s.g;
  told.albedo[2] = s.b;
  sunOn(out, s, ray, draws);
  lanternOn(out, s, ray, draws, lanterns[lantern]!);
  domeOn(out, s, draws);
  reflection(out, s, ray, draws);
}

/** Cosine between a ray's direction and a surface's normal. */
function along(ray: Ray, s: Surface): number {
  return ray[3]! * s.nx + ray[4]! * s.ny + ray[5]! * s.nz;
}

function startAt(ray: Ray, s: Surface): void {
  ray[0] = s.x;
  ray[1] = s.y;
  ray[2] = s.z;
}

/** Makes a ray's direction a unit vector and returns the length it had. */
export function unitise(ray: Ray): number {
  const l = Math.sqrt(ray[3]! * ray[3]! + ray[4]! * ray[4]! + ray[5]! * ray[5]!);
  ray[3]! /= l;
  ray[4]! /= l;
  ray[5]! /= l;
  return l;
}

/** A normalised Blinn-Phong lobe (common practice, no source), for light arriving along `lightRay`. */
function highlight(s: Surface, ray: Ray, cosine: number): number {
  const hx = lightRay[3]! - ray[3]!;
  const hy = lightRay[4]! - ray[4]!;
  const hz = lightRay[5]! - ray[5]!;
  const l = Math.sqrt(hx * hx + hy * hy + hz * hz) || 1;
  const facing = Math.max(0, (hx * s.nx + hy * s.ny + hz * s.nz) / l);
  const sharp = Math.min(400, 2 / (s.roughness * s.roughness + 1e-4));
  return ((sharp + 8) / (8 * Math.PI)) * (facing > 0.8 ? facing ** sharp : 0) * cosine;
}

/** Adds light of one group: `flat` times the surface's colour, `shine` times its mirror colour. */
function addDirect(out: Grouped, group: number, s: Surface, colour: Rgb, flat: number, shine: number): void {
  const d = DIFFUSE_DIRECT + 3 * group;
  const m = SPECULAR_DIRECT + 3 * group;
  out[d]! += s.clear * s.r * flat * colour[0];
  out[d + 1]! += s.clear * s.g * flat * colour[1];
  out[d + 2]! += s.clear * s.b * flat * colour[2];
  out[m]! += s.clear * s.mr * shine * colour[0];
  out[m + 1]! += s.clear * s.mg * shine * colour[1];
  out[m + 2]! += s.clear * s.mb * shine * colour[2];
}

/** Adds `bounce`, tinted. */
function addBounce(out: Grouped, offset: number, k: number, r: number, g: number, b: number): void {
  for (let i = 0; i < 9; i += 3) {
    out[offset + i]! += k * r * bounce[i]!;
    out[offset + i + 1]! += k * g * bounce[i + 1]!;
    out[offset + i + 2]! += k * b * bounce[i + 2]!;
  }
}

function sunOn(out: Grouped, s: Surface, ray: Ray, draws: Draws): void {
  const angle = 2 * Math.PI * draws[2]!;
  const radius = sunSpread * Math.sqrt(draws[3]!);
  const turn = radius * Math.cos(angle);
  startAt(lightRay, s);
  lightRay[3] = sunDirection[0] + turn;
  lightRay[4] = sunDirection[1] + radius * Math.sin(angle);
  lightRay[5] = sunDirection[2] - turn;
  unitise(lightRay);
  const cosine = along(lightRay, s);
  if (cosine <= 0 || blocked(lightRay, Infinity)) return;
  told.sunlit = cosine;
  addDirect(out, SUN, s, sunLight, cosine, highlight(s, ray, cosine) * 0.6);
}

function lanternOn(out: Grouped, s: Surface, ray: Ray, draws: Draws, lamp: Lantern): void {
  if (s.glow) return;
  const turn = 2 * Math.PI * draws[4]!;
  const height = 2 * draws[5]! - 1;
  const ring = lamp.radius * Math.sqrt(1 - height * height);
  startAt(lightRay, s);
  lightRay[3] = lamp.at[0] + ring * Math.cos(turn) - s.x;
  lightRay[4] = lamp.at[1] + lamp.radius * height - s.y;
  lightRay[5] = lamp.at[2] + ring * Math.sin(turn) - s.z;
  const distance = unitise(lightRay);
  const cosine = along(lightRay, s);
  if (cosine <= 0 || distance < 1e-3 || blocked(lightRay, distance)) return;
  const power = (lanterns.length * lamp.radius ** 2) / Math.max(distance * distance, 4 * lamp.radius ** 2);
  addDirect(out, LANTERNS, s, lamp.glow, cosine * power, Math.min(highlight(s, ray, cosine), 6) * power * 0.5);
}

/** One ray into the hemisphere, cosine-weighted: the sky counts as direct light, things as bounced light. */
function domeOn(out: Grouped, s: Surface, draws: Draws): void {
  const turn = 2 * Math.PI * draws[6]!;
  const radius = Math.sqrt(draws[7]!);
  const up = Math.sqrt(1 - draws[7]!);
  const upright = Math.abs(s.ny) < 0.9;
  const l = upright ? Math.sqrt(s.nz * s.nz + s.nx * s.nx) : Math.sqrt(s.nz * s.nz + s.ny * s.ny);
  const ax = upright ? -s.nz / l : 0;
  const ay = upright ? 0 : s.nz / l;
  const az = upright ? s.nx / l : -s.ny / l;
  const u = radius * Math.cos(turn);
  const v = radius * Math.sin(turn);
  startAt(secondRay, s);
  secondRay[3] = u * ax + v * (s.ny * az - s.nz * ay) + up * s.nx;
  secondRay[4] = u * ay + v * (s.nz * ax - s.nx * az) + up * s.ny;
  secondRay[5] = u * az + v * (s.nx * ay - s.ny * ax) + up * s.nz;
  const direct = secondary(draws) ? DIFFUSE_INDIRECT : DIFFUSE_DIRECT;
  addBounce(out, direct, s.clear, s.r, s.g, s.b);
}

function reflection(out: Grouped, s: Surface, ray: Ray, draws: Draws): void {
  const into = along(ray, s);
  // Schlick's approximation; rough surfaces gain less at the rim.
  const away = 1 - Math.min(1, Math.max(0, -into));
  const rim = away * away * away * away * away * (1 - s.roughness * 1.6);
  const mr = s.mr + (1 - s.mr) * rim;
  const mg = s.mg + (1 - s.mg) * rim;
  const mb = s.mb + (1 - s.mb) * rim;
  if (mr + mg + mb < 0.02) return;
  const spread = s.roughness * 2;
  startAt(secondRay, s);
  secondRay[3] = ray[3]! - 2 * into * s.nx + spread * (draws[8]! - 0.5);
  secondRay[4] = ray[4]! - 2 * into * s.ny + spread * (draws[9]! - 0.5);
  secondRay[5] = ray[5]! - 2 * into * s.nz + spread * (draws[10]! - 0.5);
  unitise(secondRay);
  if (along(secondRay, s) <= 0.001) return;
  secondary(draws);
  addBounce(out, SPECULAR_INDIRECT, s.clear, mr, mg, mb);
}

/** Light along `secondRay`, put into `bounce` by group; simpler shading. Returns whether it met a thing. */
function secondary(draws: Draws): boolean {
  for (let i = 0; i < 9; i++) bounce[i] = 0;
  if (!trace(secondRay, 1e-3)) {
    addSky(bounce, 0, secondRay, 1);
    return false;
  }
  const s = second;
  addHaze(bounce, 0, secondRay, hit.t, 0);
  describeSurface(s, secondRay, 6);
  if (s.glow) {
    for (let c = 0; c < 3; c++) bounce[3 * LANTERNS + c]! += s.clear * s.glow[c]! * 0.85;
    return true;
  }
  addSecond(SKY, s, skyLight, 0.35 + 0.35 * s.ny);
  startAt(lightRay, s);
  for (let c = 0; c < 3; c++) lightRay[3 + c] = sunDirection[c]!;
  const cosine = along(lightRay, s);
  if (cosine > 0 && !blocked(lightRay, Infinity)) addSecond(SUN, s, sunLight, cosine);
  const lamp = lanterns[Math.floor(draws[11]! * lanterns.length)]!;
  for (let c = 0; c < 3; c++) lightRay[3 + c] = lamp.at[c]! - lightRay[c]!;
  const distance = unitise(lightRay);
  const lampCosine = along(lightRay, s);
  const power = (lanterns.length * lamp.radius ** 2) / Math.max(distance * distance, lamp.radius ** 2);
  if (lampCosine > 0) addSecond(LANTERNS, s, lamp.glow, lampCosine * power * 0.7);
  return true;
}

/** Adds light of one group to `bounce`; mirrors count half, as if they were matt. */
function addSecond(group: number, s: Surface, colour: Rgb, k: number): void {
  bounce[3 * group]! += s.clear * (s.r + s.mr * 0.5) * k * colour[0];
  bounce[3 * group + 1]! += s.clear * (s.g + s.mg * 0.5) * k * colour[1];
  bounce[3 * group + 2]! += s.clear * (s.b + s.mb * 0.5) * k * colour[2];
}
