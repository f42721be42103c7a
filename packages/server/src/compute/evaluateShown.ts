import { prepareSteps, recodeSteps, type Plan } from '@june-haze/core';
import {
  codesWithoutView,
  holdsDeepSamples,
  holdsStraightAlpha,
  isDithered,
  isOneFile,
  isPictureKind,
  sizeOfOutput,
} from '@june-haze/contract';
import { prepareClipping, type Clipping } from './clipping.ts';
import { threadHeap } from './evaluateFrame.ts';
import { packSamples } from './packSamples.ts';
import { inBands, isResized, resizedTotal, type OnBand } from './resizedTotal.ts';
import { displayEncodingOf, encodingOf, type ProofTask, type WrittenFrame } from './writeTask.ts';

/**
 * The total and what the viewing shows of it, in the size of the output's files. `evaluate` gives the rows of the shot's total, in any order. The
 * total is premultiplied, in the working space; what is shown lies over black, but for files of straight alpha: there its colour is divided by it.
 */
export async function evaluateShown(
  task: Pick<ProofTask, 'workingSpace' | 'viewing' | 'colour' | 'settings' | 'width' | 'height' | 'pictures'> & {
    readonly plan: Pick<Plan, 'hasAlpha'>;
  },
  evaluate: (onBand: OnBand) => Promise<unknown>,
): Promise<WrittenFrame> {
  const size = sizeOfOutput(task.settings, task);
  const { width, height } = size;
  const heap = threadHeap();
  const mark = heap.mark();
  const steps = [
    ...task.colour.view(task.workingSpace, task.viewing),
    ...recodeSteps(displayEncodingOf(task), encodingOf(task)),
  ];
  const view = prepareSteps(steps, heap);
  const shown = new Uint8Array(width * height * 4);
  const { kind, bits } = task.settings;
  const isDeep = isOneFile(task.settings) || (holdsDeepSamples(kind) && bits === 16) || isDithered(task.settings);
  const deep = isDeep ? new Uint16Array(width * height * 3) : undefined;
  const total = [0, 1, 2, 3].map(() => new Float32Array(width * height));
  const coded = (task.settings.kind === 'dpx' || codesWithoutView(task.settings)) && task.settings.space;
  const way = coded ? task.colour.conversion(task.workingSpace, coded) : steps;
  const count = prepareClipping(task.settings, way, heap);
  const clipping: Clipping | undefined = task.pictures === undefined ? undefined : { below: 0, above: 0, notFinite: 0 };
  const straight = task.plan.hasAlpha && holdsStraightAlpha(task.settings);
  const onBand: OnBand = (row, rows, quad, h) => {
    const n = rows * width;
    quad.forEach((p, c) => total[c]!.set(h.floats(p, n), row * width));
    if (clipping) count(quad, n, clipping);
    if (straight) for (let c = 0; c < 3; c++) h.kernels.dividePlanes(quad[c]!, quad[3], n);
    view(quad[0], quad[1], quad[2], n);
    if (deep) packSamples(h, quad, n, { samples: deep, channels: 3, from: row * width });
    const inner = h.mark();
    const codes = h.allocate(n * 4);
    h.kernels.packCodes(quad[0], quad[1], quad[2], codes, n);
    shown.set(h.bytes(codes, n * 4), row * width * 4);
    h.release(inner);
  };
  try {
    if (isResized(size, task)) await inBands(heap, await resizedTotal(task, size, evaluate), size, onBand);
    else await evaluate(onBand);
  } finally {
    heap.release(mark);
  }
  const hasAlpha = straight || (task.plan.hasAlpha && !isPictureKind(kind) && task.settings.alpha);
  return { width, height, shown, deep, total, hasAlpha, clipping };
}
