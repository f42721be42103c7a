import { join } from 'node:path';
import { truncate, stat, unlink } from 'node:fs/promises';
import { ap1, conversion, requireSpace, type ExrAttribute } from '@june-haze/core';
import { encodeUntaggedPng, writeWhole } from '@june-haze/files';
import { renderFrame } from '../tern/frame.ts';
import { saveApproved, saveChannels, ternAttributes } from '../tern/save.ts';
import { passesOf, throughSteps } from './passes.ts';
import { fourDigits, progressOf, type FrameTask } from './task.ts';

/** Passes that come with this shot, a file each. */
const kept = ['beauty', 'diffuse_direct', 'specular_direct', 'emission', 'volume', 'depth', 'position'];
/** Which frame of the shot is missing, which is cut short, in which pixels are not numbers: counted from the first. */
const faults = { missing: 8, cut: 5, notNumbers: [2, 3, 4] };

/** The file that stands for a finished frame: the last that is written of it. */
export const lastBoatFile = (frame: number): string => `sky_plate.${fourDigits(frame)}.exr`;

/**
 * Shot Last boat, faulty on purpose: a frame is missing, one is cut short, emission has another size, some pixels are not numbers, depth runs
 * the wrong way, the sky plate is encoded for a screen, untagged and at 25 frames a second, and a picture was saved without encoding.
 */
export async function makeLastBoat(task: FrameTask): Promise<void> {
  const { folder, frame, first, width, height } = task;
  const number = frame - first;
  const request = { width, height, progress: progressOf(task), seed: frame, side: 3, view: 'lastBoat' as const };
  const planes = renderFrame(request);
  const passes = passesOf(planes);
  if (frame === first) {
    await saveApproved(join(folder, 'lastboat_approved.png'), planes, width, height);
    await savePicture(join(folder, 'boat_still.png'), passes.get('beauty')!, width, height);
  }
  const tags: Record<string, ExrAttribute> = {
    ...ternAttributes(24),
    chromaticities: { type: 'chromaticities', value: ap1 },
  };
  for (const pass of kept) {
    const path = join(folder, `lastboat_${pass}.${fourDigits(frame)}.exr`);
    let channels = passes.get(pass)!;
    let size = [width, height] as const;
    if (pass === 'depth') channels = turnedRound(channels);
    if (pass === 'specular_direct' && faults.notNumbers.includes(number)) spoil(channels.get('R')!);
    if (pass === 'emission') [channels, size] = [doubled(channels, width), [width * 2, height * 2]];
    const type = pass === 'depth' || pass === 'position' ? 'float' : 'half';
    await saveChannels({ path, channels, width: size[0], height: size[1], type, compression: 'zip', attributes: tags });
    if (number === faults.missing) await unlink(path);
    if (number === faults.cut && pass === 'beauty') await truncate(path, Math.floor((await stat(path)).size * 0.61));
  }
  const sky = passesOf(renderFrame({ ...request, view: 'sea' })).get('beauty')!;
  sky.delete('A');
  throughSteps(sky, conversion(requireSpace('ACEScg'), requireSpace('sRGB')));
  for (const plane of sky.values())
    plane.forEach((v, i) => (plane[i] = Math.round(Math.min(1, Math.max(0, v)) * 255) / 255));
  await saveChannels({
    path: join(folder, lastBoatFile(frame)),
    channels: sky,
    width,
    height,
    type: 'float',
    compression: 'none',
    attributes: { framesPerSecond: { type: 'rational', value: [25, 1] } },
  });
}

/** Depth as some habits have it: near is 1, far is 0, and so is the sky. */
function turnedRound(channels: ReadonlyMap<string, Float32Array>): Map<string, Float32Array> {
  return new Map([...channels].map(([name, plane]) => [name, plane.map((d) => (d > 1e6 ? 0 : 1 / (1 + d)))]));
}

/** 41 pixels of a glossy edge that a renderer could not work out. */
function spoil(plane: Float32Array): void {
  for (let i = 0; i < 41; i++) plane[Math.floor(plane.length * 0.6) + i * 3] = NaN;
}

/** Each pixel four times: the same picture at twice the size. */
function doubled(channels: ReadonlyMap<string, Float32Array>, width: number): Map<string, Float32Array> {
  return new Map(
    [...channels].map(([name, plane]) => {
      const wide = width * 2;
      const large = new Float32Array(plane.length * 4);
      for (let i = 0; i < large.length; i++)
        large[i] = plane[Math.floor(Math.floor(i / wide) / 2) * width + Math.floor((i % wide) / 2)]!;
      return [name, large];
    }),
  );
}

/** The beauty's numbers as codes, as a hasty "save as PNG" does it: no encoding, no tags. */
async function savePicture(
  path: string,
  channels: ReadonlyMap<string, Float32Array>,
  width: number,
  height: number,
): Promise<void> {
  const planes = ['R', 'G', 'B'].map((c) => channels.get(c)!);
  const codes = new Uint8Array(width * height * 4).fill(255);
  planes.forEach((plane, c) =>
    plane.forEach((v, i) => (codes[i * 4 + c] = Math.round(Math.min(1, Math.max(0, v)) * 255))),
  );
  const png = await encodeUntaggedPng(codes, width, height);
  await writeWhole(path, (sink) => sink.write(0, png));
}
