import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import {
  ap1,
  Heap,
  kernels,
  openBundledConfig,
  prepareSteps,
  rateFraction,
  writeExr,
  type ExrAttribute,
  type Plane,
} from '@june-haze/core';
import { encodePng, writeWhole, zlibCodec } from '@june-haze/files';
import { ternConfig } from './config.ts';
import { idManifest, type FramePlanes } from './frame.ts';
import { deck, things, water } from './scene.ts';

/** A file's channels by name, and how they are stored. */
export interface FileToSave {
  readonly path: string;
  readonly channels: ReadonlyMap<string, Float32Array>;
  readonly width: number;
  readonly height: number;
  readonly type: 'half' | 'float' | 'as Tern stores it';
  readonly compression: 'none' | 'zip';
  readonly attributes: Readonly<Record<string, ExrAttribute>>;
}

/** Channels that must keep their exact numbers stay float; light is half, as renderers write it. */
const exact = /^(depth|position|normal|crypto_object00)\./;

/** Writes an EXR of one part. */
export async function saveChannels(file: FileToSave): Promise<void> {
  const { width, height, channels: planes, compression, attributes } = file;
  const heap = new Heap(kernels());
  const n = width * height;
  const [wide, narrow] = [heap.allocatePlane(n), heap.allocate(n * 2)];
  const stored = file.type === 'as Tern stores it' ? undefined : file.type;
  const channels = [...planes.keys()].map((c) => ({
    name: c,
    type: stored ?? (exact.test(c) ? ('float' as const) : ('half' as const)),
  }));
  const packed = channels.map(({ name: channel, type }): Plane => {
    const plane = planes.get(channel)! as Float32Array<ArrayBuffer>;
    if (type === 'float') return plane;
    heap.floats(wide, n).set(plane);
    heap.kernels.floatToHalf(wide, narrow, n);
    return heap.halves(narrow, n).slice() as Uint16Array<ArrayBuffer>;
  });
  const window = { xMin: 0, yMin: 0, xMax: width - 1, yMax: height - 1 };
  const part = { compression, dataWindow: window, displayWindow: window, channels, attributes };
  await writeWhole(file.path, (sink) =>
    writeExr(
      sink,
      [part],
      (_, top, bottom) => packed.map((p) => p.subarray(top * width, (bottom + 1) * width) as Plane),
      zlibCodec,
    ),
  );
}

/** What Tern writes into every header. */
export function ternAttributes(rate: number): Record<string, ExrAttribute> {
  const names = [...things.map((t) => t.name), deck.name, water.name];
  return {
    framesPerSecond: { type: 'rational', value: rateFraction(rate) },
    software: { type: 'string', value: 'Tern, the stand-in renderer' },
    // Cryptomatte specification 1.2, "Metadata"; the key is the first seven digits of the layer name's hash.
    'cryptomatte/d593dd7/name': { type: 'string', value: 'crypto_object' },
    'cryptomatte/d593dd7/hash': { type: 'string', value: 'MurmurHash3_32' },
    'cryptomatte/d593dd7/conversion': { type: 'string', value: 'uint32_to_float32' },
    'cryptomatte/d593dd7/manifest': { type: 'string', value: idManifest(names) },
  };
}

/** Writes one frame as a multi-layer EXR, ZIP, ACEScg. */
export async function saveFrame(
  folder: string,
  name: string,
  planes: FramePlanes,
  width: number,
  height: number,
  rate: number,
): Promise<void> {
  await saveChannels({
    path: join(folder, name),
    channels: planes,
    width,
    height,
    type: 'as Tern stores it',
    compression: 'zip',
    attributes: {
      ...ternAttributes(rate),
      chromaticities: { type: 'chromaticities', value: ap1 },
      colorInteropID: { type: 'string', value: 'lin_ap1_scene' },
    },
  });
}

const ternBundle = () => new Map([...ternConfig()].map(([path, text]) => [path, new TextEncoder().encode(text)]));

/** Writes the renderer's config beside its frames. */
export async function saveConfig(folder: string): Promise<void> {
  mkdirSync(join(folder, 'luts'), { recursive: true });
  for (const [path, bytes] of ternBundle()) await writeWhole(join(folder, path), (sink) => sink.write(0, bytes));
}

/** The approved picture: the beauty through the renderer's view, as its "save picture" would bake it. */
export async function saveApproved(path: string, planes: FramePlanes, width: number, height: number): Promise<void> {
  const heap = new Heap(kernels());
  const n = width * height;
  const process = prepareSteps(
    openBundledConfig(ternBundle(), 'Tern').view('ACEScg', { display: 'sRGB', view: 'Haze' }),
    heap,
  );
  const [r, g, b] = ['R', 'G', 'B'].map((c) => {
    const at = heap.allocatePlane(n);
    heap.floats(at, n).set(planes.get(c)!);
    return at;
  }) as [number, number, number];
  const codes = heap.allocate(n * 4);
  process(r, g, b, n);
  heap.kernels.packCodes(r, g, b, codes, n);
  const png = await encodePng(heap.bytes(codes, n * 4).slice(), width, height, 'srgb');
  await writeWhole(path, (sink) => sink.write(0, png));
}
