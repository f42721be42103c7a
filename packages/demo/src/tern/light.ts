import { hazeDensity, sunDirection, things, type Rgb } from './scene.ts';
import type { Ray } from './trace.ts';

/** The three light groups: whose light it is in the end. */
export const groups = ['sun', 'sky', 'lanterns'] as const;
export const SUN = 0;
export const SKY = 1;
export const LANTERNS = 2;

/** Radiance by group: three colours in a row. Accumulated in float64, so that any sum of parts is exact to half rounding. */
export type Grouped = Float64Array;

export interface Lantern {
  readonly at: Rgb;
  readonly radius: number;
  readonly glow: Rgb;
}

export const lanterns: readonly Lantern[] = things
  .filter((t) => t.material.glow)
  .map((t) => ({
    at: t.shape.at,
    radius: t.shape.kind === 'sphere' ? t.shape.radius : 0,
    glow: t.material.glow as Rgb,
  }));

const horizon: Rgb = [0.8, 0.78, 0.74];
const zenith: Rgb = [0.36, 0.46, 0.6];

/** Adds the hazy sky in a ray's direction, times k: a pale horizon, a cool height, and the sun's glow in the haze. */
export function addSky(out: Grouped, offset: number, ray: Ray, k: number): void {
  skyTowards(out, offset, ray[3]!, ray[4]!, ray[5]!, k);
}

function skyTowards(out: Grouped, offset: number, dx: number, dy: number, dz: number, k: number): void {
  const rise = Math.sqrt(Math.min(1, Math.max(0, dy) * 1.6));
  for (let c = 0; c < 3; c++) out[offset + 3 * SKY + c]! += k * (horizon[c]! + (zenith[c]! - horizon[c]!) * rise);
  const towards = Math.max(0, dx * sunDirection[0] + dy * sunDirection[1] + dz * sunDirection[2]);
  const cube = towards * towards * towards;
  const eighth = cube * cube * towards * towards;
  const wide = 0.28 * cube + 0.9 * eighth * eighth * eighth;
  out[offset]! += k * wide;
  out[offset + 1]! += k * wide * 0.82;
  out[offset + 2]! += k * wide * 0.6;
}

/** Adds what the haze itself sends along a ray of length t: the sky's colour, and a halo of each lantern, times `halo`. */
export function addHaze(out: Grouped, offset: number, ray: Ray, t: number, halo: number): void {
  skyTowards(out, offset, ray[3]!, ray[4]! * 0.6 + 0.02, ray[5]!, 1 - Math.exp(-hazeDensity * t));
  if (halo === 0) return;
  for (let i = 0; i < lanterns.length; i++) {
    // Single scattering of a point light along a ray, in closed form (common practice in real-time rendering, no source).
    const lantern = lanterns[i]!;
    const cx = lantern.at[0] - ray[0]!;
    const cy = lantern.at[1] - ray[1]!;
    const cz = lantern.at[2] - ray[2]!;
    const along = cx * ray[3]! + cy * ray[4]! + cz * ray[5]!;
    const away = Math.sqrt(Math.max(cx * cx + cy * cy + cz * cz - along * along, 0)) + lantern.radius * 0.35;
    const seen = (Math.atan((Math.min(t, 60) - along) / away) + Math.atan(along / away)) / away;
    const k = halo * hazeDensity * lantern.radius ** 2 * 1.1 * seen * Math.exp(-hazeDensity * Math.max(along, 0));
    for (let c = 0; c < 3; c++) out[offset + 3 * LANTERNS + c]! += k * lantern.glow[c]!;
  }
}
