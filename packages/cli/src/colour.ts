import {
  builtinStyleSteps,
  ColourConfig,
  conversion,
  findSpace,
  Heap,
  kernels,
  prepareSteps,
  requireSpace,
  ShotColour,
  UnknownNameError,
  type ColourStep,
  type Direction,
} from '@june-haze/core';
import { openConfig } from '@june-haze/files';
import { standardInput } from './standardInput.ts';

export interface ColourOptions {
  config?: string;
  from?: string;
  to?: string;
  display?: string;
  view?: string;
  look?: string;
  named?: string;
  builtin?: string;
  rule?: string;
  context?: string[];
  inverse?: boolean;
  list?: boolean;
}

/** `june colour`: lists a config, applies its file rules, or takes colours through it. */
export async function colour(options: ColourOptions): Promise<void> {
  const print = (value: unknown) => void process.stdout.write(`${JSON.stringify(value)}\n`);
  const config = options.builtin === undefined ? openChosen(options) : undefined;
  if (options.list) {
    // What leads nowhere is told beside; what works is listed all the same.
    for (const { message } of config?.problems() ?? []) process.stderr.write(`${message.replace(/\s*\n\s*/g, ' ')}\n`);
    return print(config ? listConfig(config) : listBuiltin());
  }
  if (options.rule !== undefined) return print(ruleFor(config, options.rule));
  const steps = stepsOf(options, config);
  print(run(steps, parseColours(await standardInput())));
}

/** The config of a path, with its variables from the environment and from --context; undefined for the built-in one. */
function openChosen({ config, context = [] }: ColourOptions): ColourConfig | undefined {
  if (config === undefined) throw new Error('Say which config: --config FILE, or --config builtin.');
  if (config === 'builtin') return undefined;
  const given = context.map((pair) => {
    const at = pair.indexOf('=');
    if (at < 1) throw new Error(`--context "${pair}" must be NAME=VALUE.`);
    return [pair.slice(0, at), pair.slice(at + 1)] as const;
  });
  const opened = openConfig(config);
  const declared = opened.document.environment;
  // A config that declares variables listens to those alone; one that declares none listens to all.
  const outside = Object.entries(process.env).filter(
    (e): e is [string, string] => e[1] !== undefined && (!declared || declared.has(e[0])),
  );
  return openConfig(config, new Map([...outside, ...given]));
}

/** Steps that the options ask for. */
export function stepsOf(options: ColourOptions, config: ColourConfig | undefined): ColourStep[] {
  const { from, to, display, view, look, named, builtin } = options;
  const direction: Direction = options.inverse ? 'inverse' : 'forward';
  if (builtin !== undefined) return builtinStyleSteps(builtin, direction);
  if (named !== undefined) {
    if (!config) throw new UnknownNameError('named transform', named, ['none']);
    return config.named(named, direction);
  }
  if (!from) throw new Error('Say which space the numbers are in: --from SPACE.');
  if (to !== undefined) {
    if (config) return options.inverse ? config.conversion(to, from) : config.conversion(from, to);
    return options.inverse
      ? conversion(requireSpace(to), requireSpace(from))
      : conversion(requireSpace(from), requireSpace(to));
  }
  if (!display || !view) throw new Error('Say where the numbers go: --to SPACE, or --display DISPLAY --view VIEW.');
  if (config) return config.view(from, { display, view, looks: look }, direction);
  if (look) throw new Error(`There is no look named "${look}"; the built-in config has none.`);
  const shot = new ShotColour();
  return options.inverse ? shot.undoView(from, display, view) : shot.viewFrom(from, display, view);
}

function ruleFor(config: ColourConfig | undefined, file: string): { colorSpace: string; rule: string } {
  if (config) {
    const match = config.ruleFor(file);
    if (!match) throw new Error(`${file}: no rule of the config fits, and it has no default role.`);
    return { colorSpace: match.written, rule: match.rule };
  }
  const words = file
    .split(/[/\\]/)
    .at(-1)!
    .split(/[._\s]+/);
  const named = words.map(findSpace).find((s) => s !== undefined);
  if (named) return { colorSpace: named.name, rule: 'name in the file name' };
  const linear = /\.(exr|hdr)$/i.test(file);
  return { colorSpace: linear ? 'Linear Rec.709' : 'sRGB', rule: 'kind of file' };
}

function listBuiltin() {
  const shot = new ShotColour();
  return {
    colorSpaces: shot.spaces().map(({ name, aliases, family, isData, linear }) => ({
      name,
      aliases,
      family,
      encoding: linear ? 'scene-linear' : family === 'display' ? 'sdr-video' : family,
      isData,
    })),
    displays: shot.displays(),
    looks: [],
    roles: { scene_linear: 'ACEScg', data: 'Raw', color_picking: 'sRGB', aces_interchange: 'ACES2065-1' },
    namedTransforms: [],
  };
}

function listConfig(config: ColourConfig) {
  return {
    colorSpaces: config.activeSpaces().map(({ name, aliases, family, encoding, isData }) => ({
      name,
      aliases,
      family,
      encoding,
      isData,
    })),
    displays: config.activeDisplays().map((d) => ({ name: d.name, views: d.views.map((v) => v.name) })),
    looks: config.document.looks.map((l) => l.name),
    roles: Object.fromEntries(config.document.roles),
    namedTransforms: config.activeNamedTransforms().map((n) => n.name),
  };
}

/** Colours as JSON, each of three numbers. */
function parseColours(text: string): number[][] {
  let values: unknown;
  try {
    values = JSON.parse(text);
  } catch {
    values = undefined;
  }
  const colour = (v: unknown) => Array.isArray(v) && v.length >= 3 && v.every((x) => typeof x === 'number');
  if (!Array.isArray(values) || !values.every(colour))
    throw new Error('Standard input must be JSON like [[0.18,0.18,0.18]].');
  return values as number[][];
}

function run(steps: readonly ColourStep[], values: number[][]): number[][] {
  const n = values.length;
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
