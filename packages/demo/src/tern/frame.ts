import { idHash } from '@june-haze/core';
import { groups } from './light.ts';
import { cameraAt, type View } from './scene.ts';
import { components, sampleNumbers, shadeSample, told, unitise } from './shade.ts';
import { hit, nameOf, newRay, trace, waterIndex } from './trace.ts';

export interface FrameRequest {
  readonly width: number;
  readonly height: number;
  /** 0 … 1 through the shot. */
  readonly progress: number;
  readonly seed: number;
  /** Samples per pixel side: 4 means 16 a pixel. */
  readonly side: number;
  /** Where from; the landing when left out. */
  readonly view?: View;
  /** Seen through a round lens, and not through a point. */
  readonly lens?: Lens;
}

/** A thin lens: what lies at a depth of `focus` metres is sharp, and infinity a disc of `size` pixels in radius. */
export interface Lens {
  readonly focus: number;
  readonly size: number;
}

/** All channels of a frame as float32 planes by channel name; beauty is R, G, B, A. */
export type FramePlanes = Map<string, Float32Array>;

function hash(a: number, b: number): number {
  let h = Math.imul(a ^ 0x9e3779b9, 0x85ebca6b) ^ Math.imul(b + 0x7f4a7c15, 0xc2b2ae35);
  h = Math.imul(h ^ (h >>> 15), 0x2c1b3c6d);
  h = Math.imul(h ^ (h >>> 12), 0x297a2d39);
  return (h ^ (h >>> 15)) >>> 0;
}

/** Everything that can be met, by name: several things may share one (the kettle's parts). */
const names = Array.from({ length: waterIndex + 1 }, (_, i) => nameOf(i));
const distinctNames = [...new Set(names)];
const nameNumbers = Uint16Array.from(names, (n) => distinctNames.indexOf(n));
const nameIds = Float32Array.from(distinctNames, (n) => idHash(n).float);

/** Traces one frame. Depends on nothing but the request, so any number of workers makes the same files. */
export function renderFrame(request: FrameRequest): FramePlanes {
  const { width, height, side, lens } = request;
  const planes: FramePlanes = new Map();
  const plane = (name: string) => {
    const p = new Float32Array(width * height);
    planes.set(name, p);
    return p;
  };
  const rgb = (name: string) => ['R', 'G', 'B'].map((c) => plane(name ? `${name}.${c}` : c));
  const beauty = rgb('');
  const alpha = plane('A');
  const parts = components.flatMap(rgb);
  const lights = groups.flatMap((g) => rgb(`light_${g}`));
  const albedo = rgb('albedo');
  const shadow = plane('shadow.Y');
  const ids = ['R', 'G', 'B', 'A'].map((c) => plane(`crypto_object00.${c}`));
  const centre = {
    depth: plane('depth.Z'),
    position: ['X', 'Y', 'Z'].map((c) => plane(`position.${c}`)),
    normal: ['X', 'Y', 'Z'].map((c) => plane(`normal.${c}`)),
  };
  const camera = cameraAt(request.progress, request.view);
  const light = new Float64Array(sampleNumbers);
  const draws = new Float64Array(2 * pairs);
  const colour = new Float64Array(3);
  const covers = new Uint16Array(distinctNames.length);
  const scale = camera.width / width;
  const ray = newRay();
  const [ax, ay, az] = camera.at;
  const [fx, fy, fz] = camera.forward;
  const [rx, ry, rz] = camera.right;
  const [ux, uy, uz] = camera.up;
  // Through the lens's middle, or `across` and `up` beside it (of 1 at its rim), to the same place in focus.
  const aim = (x: number, y: number, across = 0, up = 0) => {
    const [right, above] = lens ? [across * lens.size * scale, up * lens.size * scale] : [0, 0];
    const u = (x - width / 2) * scale - right;
    const v = (height / 2 - y) * scale - above;
    const away = lens?.focus ?? 0;
    ray[0] = ax + away * (right * rx + above * ux);
    ray[1] = ay + away * (right * ry + above * uy);
    ray[2] = az + away * (right * rz + above * uz);
    ray[3] = fx + u * rx + v * ux;
    ray[4] = fy + u * ry + v * uy;
    ray[5] = fz + u * rz + v * uz;
    unitise(ray);
  };
  const place = { across: 0, up: 0 };
  const [coarse, fine] = [gridOf(2), gridOf(side)];
  const pixelState = { covered: 0, sunlit: 0, uneven: false };
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const pixel = hash(i, request.seed);
      // Four samples first; more where they disagree: at edges, in soft shadows, in glossy reflections; through a lens everywhere.
      light.fill(0);
      colour.fill(0);
      covers.fill(0);
      pixelState.covered = 0;
      pixelState.sunlit = 0;
      let samples = addSamples(x, y, pixel, coarse);
      if (pixelState.uneven || lens) samples += addSamples(x, y, hash(pixel, 1), fine);
      const { covered, sunlit } = pixelState;
      for (let c = 0; c < 3; c++) {
        let sum = 0;
        for (let k = c; k < 18; k += 3) {
          const part = light[3 * k - 2 * c]! + light[3 * k - 2 * c + 3]! + light[3 * k - 2 * c + 6]!;
          parts[k]![i] = part / samples;
          sum += part;
        }
        for (let g = c; g < 9; g += 3) {
          let group = 0;
          for (let k = g; k < sampleNumbers; k += 9) group += light[k]!;
          lights[g]![i] = group / samples;
        }
        beauty[c]![i] = sum / samples;
        albedo[c]![i] = colour[c]! / samples;
      }
      alpha[i] = covered / samples;
      shadow[i] = covered ? 1 - sunlit / covered : 0;
      fillIds(i, samples);
      aim(x + 0.5, y + 0.5);
      fillCentre(i);
    }
  }
  return planes;

  /** Adds a grid of samples of one pixel to `light`, `colour`, `covers` and `pixelState`. */
  function addSamples(x: number, y: number, pixel: number, grid: Grid): number {
    let [least, most, before, different] = [Infinity, 0, 0, 0];
    chooseOrders(pixel, grid);
    for (let s = 0; s < grid.samples; s++) {
      drawStratified(draws, s, grid);
      if (lens) onLens(draws[lensPair]!, draws[lensPair + 1]!, place);
      aim(x + draws[0]!, y + draws[1]!, place.across, place.up);
      shadeSample(light, ray, draws, (s + pixel) % 3, s % 4 === 0 ? grid.haloWeight : 0);
      let sum = 0;
      for (let k = 1; k < sampleNumbers; k += 3) sum += light[k]!;
      least = Math.min(least, sum - before);
      most = Math.max(most, sum - before);
      before = sum;
      if (told.thing < 0) continue;
      pixelState.covered++;
      if (told.sunlit > 0) pixelState.sunlit++;
      for (let c = 0; c < 3; c++) colour[c]! += told.albedo[c]!;
      const name = nameNumbers[told.thing]!;
      if (covers[name]!++ === 0) different++;
    }
    pixelState.uneven =
      different > 1 || pixelState.covered % grid.samples !== 0 || (most - least) * grid.samples > 0.8 * before;
    return grid.samples;
  }

  /** The two names that cover most of the pixel, with their shares. */
  function fillIds(i: number, samples: number): void {
    for (let rank = 0; rank < 2; rank++) {
      let best = -1;
      for (let k = 0; k < covers.length; k++) if (covers[k]! > (best < 0 ? 0 : covers[best]!)) best = k;
      if (best < 0) return;
      ids[rank * 2]![i] = nameIds[best]!;
      ids[rank * 2 + 1]![i] = covers[best]! / samples;
      covers[best] = 0;
    }
  }

  /** Depth, position and normal come from the pixel's centre: exact, not antialiased. Depth runs along the camera's axis. */
  function fillCentre(i: number): void {
    if (!trace(ray)) {
      centre.depth[i] = 1e10;
      return;
    }
    const { t } = hit;
    centre.depth[i] = t * (ray[3]! * camera.forward[0] + ray[4]! * camera.forward[1] + ray[5]! * camera.forward[2]);
    for (let c = 0; c < 3; c++) centre.position[c]![i] = ray[c]! + t * ray[3 + c]!;
    centre.normal[0]![i] = hit.nx;
    centre.normal[1]![i] = hit.ny;
    centre.normal[2]![i] = hit.nz;
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

/** Two numbers for a place in the pixel, ten for shading it, two for a lens. */
const pairs = 7;
const lensPair = 2 * pairs - 2;

/** Two numbers of 0 … 1 as a place on a disc of radius 1, equal areas alike (P. Shirley and K. Chiu, "A Low Distortion Map Between Disk and Square", 1997). */
function onLens(a: number, b: number, into: { across: number; up: number }): void {
  const [u, v] = [2 * a - 1, 2 * b - 1];
  const isWide = Math.abs(u) > Math.abs(v);
  const radius = isWide ? u : v;
  const angle = radius === 0 ? 0 : isWide ? (Math.PI / 4) * (v / u) : Math.PI / 2 - (Math.PI / 4) * (u / v);
  into.across = radius * Math.cos(angle);
  into.up = radius * Math.sin(angle);
}

const keys = new Uint32Array(pairs);
const strides = new Uint32Array(pairs);

/** Gives every pair of random numbers its own order of cells in this pixel. */
function chooseOrders(pixel: number, { steps }: Grid): void {
  for (let pair = 0; pair < pairs; pair++) {
    const key = hash(pixel, pair * 977);
    keys[pair] = key;
    strides[pair] = steps[key % steps.length]!;
  }
}

/** Pairs of random numbers, each pair spread over a grid of side x side cells. */
function drawStratified(draws: Float64Array, s: number, { side, samples }: Grid): void {
  for (let pair = 0; pair < pairs; pair++) {
    const key = keys[pair]!;
    const cell = pair === 0 ? s : (s * strides[pair]! + (key >>> 8)) % samples;
    const jitter = hash(key, s);
    const row = (cell / side) | 0;
    draws[2 * pair] = (cell - row * side + (jitter & 0xffff) / 65536) / side;
    draws[2 * pair + 1] = (row + (jitter >>> 16) / 65536) / side;
  }
}

/** The names behind the IDs, for the header's manifest. */
export function idManifest(names: Iterable<string>): string {
  const entries = [...new Set(names)].sort().map((n) => [n, idHash(n).hash.toString(16).padStart(8, '0')]);
  return JSON.stringify(Object.fromEntries(entries));
}
