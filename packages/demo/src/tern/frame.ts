import { idHash } from '@june-haze/core';
import { groups } from './light.ts';
import { cameraAt } from './scene.ts';
import { components, sampleNumbers, shadeSample, told } from './shade.ts';
import { hit, nameOf, trace } from './trace.ts';

export interface FrameRequest {
  readonly width: number;
  readonly height: number;
  /** 0 … 1 through the shot. */
  readonly progress: number;
  readonly seed: number;
  /** Samples per pixel side: 4 means 16 a pixel. */
  readonly side: number;
}

/** All channels of a frame as float32 planes by channel name; beauty is R, G, B, A. */
export type FramePlanes = Map<string, Float32Array>;

function hash(a: number, b: number): number {
  let h = Math.imul(a ^ 0x9e3779b9, 0x85ebca6b) ^ Math.imul(b + 0x7f4a7c15, 0xc2b2ae35);
  h = Math.imul(h ^ (h >>> 15), 0x2c1b3c6d);
  h = Math.imul(h ^ (h >>> 12), 0x297a2d39);
  return (h ^ (h >>> 15)) >>> 0;
}
const unit = (a: number, b: number) => hash(a, b) / 4294967296;

/** Traces one frame. Depends on nothing but the request, so any number of workers makes the same files. */
export function renderFrame(request: FrameRequest): FramePlanes {
  const { width, height, side } = request;
  const planes: FramePlanes = new Map();
  const plane = (name: string) => {
    const p = new Float32Array(width * height);
    planes.set(name, p);
    return p;
  };
  const rgb = (name: string) => ['R', 'G', 'B'].map((c) => plane(name ? `${name}.${c}` : c));
  const beauty = rgb('');
  const alpha = plane('A');
  const parts = components.map(rgb);
  const lights = groups.map((g) => rgb(`light_${g}`));
  const albedo = rgb('albedo');
  const shadow = plane('shadow.Y');
  const ids = ['R', 'G', 'B', 'A'].map((c) => plane(`crypto_object00.${c}`));
  const centre = {
    depth: plane('depth.Z'),
    position: ['X', 'Y', 'Z'].map((c) => plane(`position.${c}`)),
    normal: ['X', 'Y', 'Z'].map((c) => plane(`normal.${c}`)),
  };
  const camera = cameraAt(request.progress);
  const light = new Float64Array(sampleNumbers);
  const draws = new Float64Array(12);
  const colour = new Float64Array(3);
  const covers = new Map<string, number>();
  const scale = camera.width / width;
  const direction = new Float64Array(3);
  const aim = (x: number, y: number) => {
    const u = (x - width / 2) * scale;
    const v = (height / 2 - y) * scale;
    let l = 0;
    for (let c = 0; c < 3; c++) {
      direction[c] = camera.forward[c]! + u * camera.right[c]! + v * camera.up[c]!;
      l += direction[c]! ** 2;
    }
    l = Math.sqrt(l);
    for (let c = 0; c < 3; c++) direction[c]! /= l;
  };
  const [ox, oy, oz] = camera.at;
  const [coarse, fine] = [gridOf(2), gridOf(side)];
  const pixelState = { covered: 0, sunlit: 0, uneven: false };
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const pixel = hash(i, request.seed);
      // Four samples first; sixteen where they disagree: at edges, in soft shadows, in glossy reflections.
      let samples = samplePixel(x, y, pixel, coarse);
      if (pixelState.uneven) samples = samplePixel(x, y, pixel, fine);
      const { covered, sunlit } = pixelState;
      for (let c = 0; c < 3; c++) {
        let sum = 0;
        for (let k = 0; k < components.length; k++) {
          let part = 0;
          for (let g = 0; g < 3; g++) part += light[k * 9 + g * 3 + c]!;
          parts[k]![c]![i] = part / samples;
          sum += part;
        }
        for (let g = 0; g < 3; g++) {
          let group = 0;
          for (let k = 0; k < components.length; k++) group += light[k * 9 + g * 3 + c]!;
          lights[g]![c]![i] = group / samples;
        }
        beauty[c]![i] = sum / samples;
        albedo[c]![i] = colour[c]! / samples;
      }
      alpha[i] = covered / samples;
      shadow[i] = covered ? 1 - sunlit / covered : 0;
      const ranked = [...covers].sort((a, b) => b[1] - a[1] || (a[0] < b[0] ? -1 : 1));
      ranked.slice(0, 2).forEach(([name, count], rank) => {
        ids[rank * 2]![i] = idOf(name);
        ids[rank * 2 + 1]![i] = count / samples;
      });
      aim(x + 0.5, y + 0.5);
      fillCentre(i, direction[0]!, direction[1]!, direction[2]!);
    }
  }
  return planes;

  /** Takes a grid of samples of one pixel into `light`, `colour`, `covers` and `pixelState`. */
  function samplePixel(x: number, y: number, pixel: number, grid: Grid): number {
    light.fill(0);
    colour.fill(0);
    covers.clear();
    pixelState.covered = 0;
    pixelState.sunlit = 0;
    let [least, most, before] = [Infinity, 0, 0];
    for (let s = 0; s < grid.samples; s++) {
      drawStratified(draws, pixel, s, grid);
      aim(x + draws[0]!, y + draws[1]!);
      shadeSample(
        light,
        ox,
        oy,
        oz,
        direction[0]!,
        direction[1]!,
        direction[2]!,
        draws,
        (s + pixel) % 3,
        s % 4 === 0 ? grid.haloWeight : 0,
      );
      let sum = 0;
      for (let k = 0; k < sampleNumbers; k++) sum += light[k]!;
      least = Math.min(least, sum - before);
      most = Math.max(most, sum - before);
      before = sum;
      if (told.thing < 0) continue;
      pixelState.covered++;
      if (told.sunlit > 0) pixelState.sunlit++;
      for (let c = 0; c < 3; c++) colour[c]! += told.albedo[c]!;
      const name = nameOf(told.thing);
      covers.set(name, (covers.get(name) ?? 0) + 1);
    }
    pixelState.uneven =
      covers.size > 1 || pixelState.covered % grid.samples !== 0 || (most - least) * grid.samples > 0.8 * before;
    return grid.samples;
  }

  /** Depth, position and normal come from the pixel's centre: exact, not antialiased. Depth runs along the camera's axis. */
  function fillCentre(i: number, dx: number, dy: number, dz: number): void {
    if (!trace(ox, oy, oz, dx, dy, dz)) {
      centre.depth[i] = 1e10;
      return;
    }
    const along = dx * camera.forward[0] + dy * camera.forward[1] + dz * camera.forward[2];
    centre.depth[i] = hit.t * along;
    [ox + hit.t * dx, oy + hit.t * dy, oz + hit.t * dz].forEach((v, c) => (centre.position[c]![i] = v));
    [hit.nx, hit.ny, hit.nz].forEach((v, c) => (centre.normal[c]![i] = v));
  }
}

interface Grid {
  readonly side: number;
  readonly samples: number;
  /** Steps that visit every cell of the grid once. */
  readonly steps: readonly number[];
  readonly haloWeight: number;
}

function gridOf(side: number): Grid {
  const samples = side * side;
  const shares = (a: number, b: number): number => (b === 0 ? a : shares(b, a % b));
  const steps = Array.from({ length: samples }, (_, i) => i + 1).filter((k) => shares(k, samples) === 1);
  return { side, samples, steps, haloWeight: samples / Math.ceil(samples / 4) };
}

/** Six pairs, each spread over a grid of side x side cells, in an order of its own per pixel and pair. */
function drawStratified(draws: Float64Array, pixel: number, s: number, { side, samples, steps }: Grid): void {
  for (let pair = 0; pair < 6; pair++) {
    const key = hash(pixel, pair * 977);
    const cell = pair === 0 ? s : (s * steps[key % steps.length]! + (key >>> 8)) % samples;
    const at = s * 31 + pair * 7919;
    draws[2 * pair] = ((cell % side) + unit(pixel, at)) / side;
    draws[2 * pair + 1] = (Math.floor(cell / side) + unit(pixel, at + 1)) / side;
  }
}

const knownIds = new Map<string, number>();
function idOf(name: string): number {
  const known = knownIds.get(name) ?? idHash(name).float;
  knownIds.set(name, known);
  return known;
}

/** The names behind the IDs, for the header's manifest. */
export function idManifest(names: Iterable<string>): string {
  const entries = [...new Set(names)].sort().map((n) => [n, idHash(n).hash.toString(16).padStart(8, '0')]);
  return JSON.stringify(Object.fromEntries(entries));
}
