import { hazeDensity, things, type Rgb } from './scene.ts';
import { hit, materialOf, type Ray } from './trace.ts';

/** Where a ray met a thing, and what is there. Numbers begin as fractions so that they stay plain doubles. */
export interface Surface {
  x: number;
  y: number;
  z: number;
  /** How much light the haze lets through on the way here. */
  clear: number;
  r: number;
  g: number;
  b: number;
  mr: number;
  mg: number;
  mb: number;
  roughness: number;
  nx: number;
  ny: number;
  nz: number;
  glow: Rgb | undefined;
}

export const newSurface = (): Surface => ({
  x: 0.5,
  y: 0.5,
  z: 0.5,
  clear: 0.5,
  r: 0.5,
  g: 0.5,
  b: 0.5,
  mr: 0.5,
  mg: 0.5,
  mb: 0.5,
  roughness: 0.5,
  nx: 0.5,
  ny: 0.5,
  nz: 0.5,
  glow: undefined,
});

function lattice(x: number, y: number): number {
  let h = Math.imul(x, 374761393) + Math.imul(y, 668265263);
  h = Math.imul(h ^ (h >>> 13), 1274126177);
  return ((h ^ (h >>> 16)) >>> 0) / 4294967296;
}

/** Smooth value noise, 0 … 1. */
function noise(x: number, y: number): number {
  const ix = Math.floor(x);
  const iy = Math.floor(y);
  const fx = x - ix;
  const fy = y - iy;
  const u = fx * fx * (3 - 2 * fx);
  const v = fy * fy * (3 - 2 * fy);
  const top = lattice(ix, iy) * (1 - u) + lattice(ix + 1, iy) * u;
  const low = lattice(ix, iy + 1) * (1 - u) + lattice(ix + 1, iy + 1) * u;
  return top * (1 - v) + low * v;
}

/** Fills a surface record for the last hit of a ray. `soften` metres further off, fine detail fades: it would only flicker. */
export function describeSurface(surface: Surface, ray: Ray, soften: number): void {
  const material = materialOf(hit.thing);
  const t = hit.t;
  surface.x = ray[0]! + t * ray[3]!;
  surface.y = ray[1]! + t * ray[4]!;
  surface.z = ray[2]! + t * ray[5]!;
  surface.clear = Math.exp(-hazeDensity * t);
  surface.r = material.albedo[0];
  surface.g = material.albedo[1];
  surface.b = material.albedo[2];
  surface.mr = material.mirror[0];
  surface.mg = material.mirror[1];
  surface.mb = material.mirror[2];
  surface.roughness = material.roughness;
  surface.nx = hit.nx;
  surface.ny = hit.ny;
  surface.nz = hit.nz;
  surface.glow = material.glow;
  if (material.pattern === 'deck') boards(surface, t + soften);
  else if (material.pattern === 'water') ripples(surface, t + soften);
  else if (material.pattern === 'planks') planks(surface);
  else if (material.pattern === 'band') band(surface);
}

function tint(surface: Surface, k: number): void {
  surface.r *= k;
  surface.g *= k;
  surface.b *= k;
}

function boards(surface: Surface, distance: number): void {
  const { x, z } = surface;
  const board = Math.floor(x / 0.32);
  const across = x / 0.32 - board;
  const offset = lattice(board, 7) * 5;
  const piece = Math.floor((z + offset) / 3.2);
  const along = (z + offset) / 3.2 - piece;
  const gap = across < 0.035 || across > 0.965 || along < 0.004 ? Math.exp(-distance * 0.05) : 0;
  const grain = noise(x * 42 + board * 9, z * 1.6);
  tint(surface, (0.72 + 0.5 * lattice(board, piece)) * (0.82 + 0.36 * grain) * (1 - 0.85 * gap));
  const wet = noise(x * 0.55 + 3, z * 0.42) * 0.65 + noise(x * 1.7, z * 1.3 + 11) * 0.35;
  const puddle = Math.min(1, Math.max(0, (wet - 0.42) * 7));
  tint(surface, 1 - 0.45 * puddle);
  surface.roughness = 0.16 - 0.15 * puddle;
  if (gap > 0.3) surface.mr = surface.mg = surface.mb = 0.005;
}

function ripples(surface: Surface, distance: number): void {
  const { x, z } = surface;
  const size = 0.05 / (1 + distance * 0.06);
  surface.nx = size * (Math.sin(x * 2.1 + z * 0.7) + 0.6 * Math.sin(x * 5.3 - z * 2.2));
  surface.nz = size * (Math.cos(z * 1.7 - x * 0.4) + 0.7 * Math.sin(z * 4.1 + x * 1.3));
  const l = Math.sqrt(surface.nx * surface.nx + 1 + surface.nz * surface.nz);
  surface.nx /= l;
  surface.ny = 1 / l;
  surface.nz /= l;
}

function planks(surface: Surface): void {
  const slat = surface.y / 0.225;
  const across = slat - Math.floor(slat);
  tint(surface, (0.82 + 0.32 * lattice(Math.floor(slat), hit.thing)) * (across < 0.045 ? 0.25 : 1));
}

function band(surface: Surface): void {
  const { y } = surface;
  const { shape } = things[hit.thing]!;
  const top = shape.kind === 'post' ? shape.at[1] + shape.height : 0;
  if (y > top - 0.17) [surface.r, surface.g, surface.b] = [0.4, 0.05, 0.035];
  else if (y > top - 0.3) [surface.r, surface.g, surface.b] = [0.55, 0.53, 0.48];
}
