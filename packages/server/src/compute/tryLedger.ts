import type { Balance, Plan, Size } from '@june-haze/core';
import type { Viewing } from '@june-haze/contract';
import sharp from 'sharp';
import { colourOf, type ColourPlace } from '../library/store.ts';
import { evaluateFrame, type FrameFiles } from './evaluateFrame.ts';
import { show } from './show.ts';

/** How wide the small picture is, about. */
const pictureWidth = 176;

export interface TryTask extends Size {
  readonly plan: Plan;
  readonly files: FrameFiles;
  readonly colour: ColourPlace;
  readonly viewing: Viewing;
  readonly workingSpace: string;
}

/** Evaluates a frame of a ledger: its balance, where it has a beauty, and a small PNG through the viewing, as a data URL. */
export async function tryLedger(task: TryTask): Promise<{ balance: Balance | undefined; picture: string }> {
  const { plan, files, colour, viewing, workingSpace, ...size } = task;
  const step = Math.max(1, Math.floor(size.width / pictureWidth));
  const [width, height] = [Math.floor(size.width / step), Math.floor(size.height / step)];
  const sums = [0, 1, 2].map(() => new Float32Array(width * height));
  const { summary } = await evaluateFrame(plan, files, true, size, (row, rows, quad, heap) => {
    const planes = sums.map((_, c) => heap.floats(quad[c]!, rows * size.width));
    for (let y = 0; y < rows; y++) {
      const into = Math.floor((row + y) / step);
      if (into >= height) continue;
      for (let x = 0; x < width * step; x++) {
        const at = into * width + Math.floor(x / step);
        for (let c = 0; c < 3; c++) sums[c]![at]! += planes[c]![y * size.width + x]! / (step * step);
      }
    }
  });
  const rgba = show(sums, [{ steps: colourOf(colour).view(workingSpace, viewing) }]);
  const png = await sharp(rgba, { raw: { width, height, channels: 4 } })
    .removeAlpha()
    .png({ compressionLevel: 3 })
    .toBuffer();
  return { balance: summary?.balance, picture: `data:image/png;base64,${png.toString('base64')}` };
}
