import {
  colourSpaces,
  conversion,
  displays,
  Heap,
  kernels,
  prepareSteps,
  requireSpace,
  viewSteps,
  type ColourStep,
} from '@june-haze/core';
import { standardInput } from './standardInput.ts';

interface ColourOptions {
  config: string;
  from?: string;
  to?: string;
  display?: string;
  view?: string;
  look?: string;
  inverse?: boolean;
  list?: boolean;
}

export async function colour(options: ColourOptions): Promise<void> {
  if (options.config !== 'builtin')
    throw new Error(`${options.config}: config files cannot be read yet; use --config builtin.`);
  if (options.list) {
    const spaces = colourSpaces.map(({ name, aliases, family, encoding, primaries: _ }) => ({
      name,
      aliases,
      family,
      encoding: encoding === 'linear' ? 'scene-linear' : encoding,
      isData: encoding === 'data',
    }));
    const roles = { scene_linear: 'ACEScg', data: 'Raw', color_picking: 'sRGB' };
    const listed = displays.map(({ name, views }) => ({ name, views }));
    process.stdout.write(
      `${JSON.stringify({ colorSpaces: spaces, displays: listed, looks: [], roles, namedTransforms: [] })}\n`,
    );
    return;
  }
  const steps = stepsOf(options);
  const values = JSON.parse(await standardInput()) as number[][];
  process.stdout.write(`${JSON.stringify(run(steps, values))}\n`);
}

function stepsOf({ from, to, display, view, look, inverse }: ColourOptions): ColourStep[] {
  if (!from) throw new Error('Say which space the numbers are in: --from SPACE.');
  if (look) throw new Error(`There is no look named "${look}"; the built-in config has none.`);
  if (to)
    return inverse
      ? conversion(requireSpace(to), requireSpace(from))
      : conversion(requireSpace(from), requireSpace(to));
  if (!display || !view) throw new Error('Say where the numbers go: --to SPACE, or --display DISPLAY --view VIEW.');
  if (inverse) throw new Error('Views cannot be turned round yet.');
  return viewSteps(requireSpace(from), { display, view, exposure: 0 });
}

function run(steps: readonly ColourStep[], values: number[][]): number[][] {
  const n = values.length;
  if (values.some((v) => !Array.isArray(v) || v.length < 3 || v.some((x) => typeof x !== 'number')))
    throw new Error('Standard input must be JSON like [[0.18,0.18,0.18]].');
  const heap = new Heap(kernels());
  const apply = prepareSteps(steps, heap);
  const planes = [0, 1, 2].map((c) => {
    const at = heap.allocatePlane(n);
    heap.floats(at, n).set(values.map((v) => v[c]!));
    return at;
  });
  apply(planes[0]!, planes[1]!, planes[2]!, n);
  const out = planes.map((p) => heap.floats(p, n));
  return values.map((_, i) => out.map((p) => p[i]!));
}
