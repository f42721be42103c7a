import { join } from 'node:path';
import { conversion, diagonal3, encodeDpx, rec709, requireSpace, type ColourStep } from '@june-haze/core';
import { writeWhole } from '@june-haze/files';
import { renderFrame } from '../tern/frame.ts';
import { saveChannels, ternAttributes } from '../tern/save.ts';
import { isLight, passesOf, throughSteps } from './passes.ts';
import { fourDigits, progressOf, type FrameTask } from './task.ts';

/** The light of this morning is too warm: the grey card shows by how much. */
const tint: ColourStep = { kind: 'matrix', matrix: diagonal3(1.22, 1, 0.74) };

/** The file that stands for a finished frame: the last that is written of it. */
export const kettleFile = (frame: number): string => `plate_logc3.${fourDigits(frame)}.dpx`;

/** Shot Kettle: one file per pass in linear Rec.709, a chart and a grey card under tinted light, and a log plate of the sea. */
export async function makeKettle(task: FrameTask): Promise<void> {
  const { folder, frame, width, height } = task;
  const request = { width, height, progress: progressOf(task), seed: frame, side: 3 };
  const passes = passesOf(renderFrame({ ...request, view: 'kettle' }));
  for (const [pass, channels] of passes) {
    // Here the paints are taken for Rec.709 ones: a renderer that works in it knows no others.
    if (isLight(pass) && pass !== 'albedo') throughSteps(channels, [tint]);
    await saveChannels({
      path: join(folder, `kettle_${pass}.${fourDigits(frame)}.exr`),
      channels,
      width,
      height,
      type: isLight(pass) ? 'half' : 'float',
      compression: 'zip',
      attributes: { ...ternAttributes(24), chromaticities: { type: 'chromaticities', value: rec709 } },
    });
  }
  const sea = passesOf(renderFrame({ ...request, view: 'sea' })).get('beauty')!;
  throughSteps(sea, conversion(requireSpace('ACEScg'), requireSpace('LogC3')));
  const planes = ['R', 'G', 'B'].map((c) => sea.get(c)!) as [Float32Array, Float32Array, Float32Array];
  const bytes = encodeDpx({
    width,
    height,
    planes,
    rate: 24,
    transfer: 3,
    colorimetric: 3,
    creator: 'Tern, the stand-in renderer',
  });
  await writeWhole(join(folder, kettleFile(frame)), (sink) => sink.write(0, bytes));
}
