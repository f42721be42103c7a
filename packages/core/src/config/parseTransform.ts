import type { Vector3 } from '../colour/matrix.ts';
import type { Interpolation, Transform } from '../transform/transform.ts';
import { Fields } from './fields.ts';
import { parseGrading } from './parseGrading.ts';
import { ColourFileError } from './place.ts';
import type { ConfigNode } from './yamlTree.ts';

export interface ParseOptions {
  /** Version 1 configs clamp in some transforms where version 2 does not. */
  readonly majorVersion: number;
}

const directions = ['forward', 'inverse'] as const;
const interpolations = ['unknown', 'nearest', 'linear', 'tetrahedral', 'cubic', 'best', 'default'] as const;
const deepest = 100;

/** Reads one transform. Throws a ColourFileError that names the transform, the field and the line. */
export function parseTransform(node: ConfigNode, options: ParseOptions, depth = 0): Transform {
  const tag = node.tag ?? '';
  if (depth > deepest) throw new ColourFileError('transforms are nested too deeply.', node.place);
  const read = readers[tag];
  if (!read)
    throw new ColourFileError(
      tag ? `"${tag}" is not a transform that can be read.` : 'a transform needs a tag such as !<MatrixTransform>.',
      node.place,
    );
  const fields = new Fields(node, tag);
  return {
    ...read(fields, options, depth),
    direction: fields.word('direction', directions, 'forward'),
    place: node.place,
  };
}

type Shape = Transform extends infer T ? (T extends Transform ? Omit<T, 'direction' | 'place'> : never) : never;

const readers: Readonly<Record<string, (f: Fields, o: ParseOptions, depth: number) => Shape>> = {
  MatrixTransform: (f) => {
    const m = f.numbers('matrix', [16]) ?? [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];
    const offset = f.numbers('offset', [4]) ?? [0, 0, 0, 0];
    return {
      type: 'matrix',
      matrix: [m[0]!, m[1]!, m[2]!, m[4]!, m[5]!, m[6]!, m[8]!, m[9]!, m[10]!],
      offset: three(offset),
    };
  },
  ExponentTransform: (f, o) => ({
    type: 'exponent',
    value: spread(f.numbers('value', [1, 4]), 1),
    // Version 1 clamps too, but drops a transform whose exponents are all 1 before it can.
    negatives:
      o.majorVersion < 2
        ? (f.numbers('value') ?? [1]).every((v) => v === 1)
          ? 'pass_thru'
          : 'clamp'
        : f.word('style', ['clamp', 'mirror', 'pass_thru'] as const, 'clamp'),
  }),
  ExponentWithLinearTransform: (f) => ({
    type: 'exponentWithLinear',
    gamma: spread(f.numbers('gamma', [1, 4]), 1),
    offset: spread(f.numbers('offset', [1, 4]), 0),
    negatives: f.word('style', ['linear', 'mirror'] as const, 'linear'),
  }),
  LogTransform: (f) => ({ type: 'log', base: f.number('base') ?? 2, ...plainLog }),
  LogAffineTransform: (f) => ({ type: 'log', base: f.number('base') ?? 2, ...sides(f) }),
  LogCameraTransform: (f) => {
    const linBreak = f.numbers('lin_side_break', [1, 3]);
    if (!linBreak) throw new ColourFileError('LogCameraTransform has no "lin_side_break".', f.node.place);
    const slope = f.numbers('linear_slope', [1, 3]);
    return {
      type: 'log',
      base: f.number('base') ?? 2,
      ...sides(f),
      linBreak: spread(linBreak, 0),
      linearSlope: slope && spread(slope, 1),
    };
  },
  RangeTransform: (f) => ({
    type: 'range',
    inLow: f.number('min_in_value'),
    inHigh: f.number('max_in_value'),
    outLow: f.number('min_out_value'),
    outHigh: f.number('max_out_value'),
    clamp: f.word('style', ['Clamp', 'noClamp'] as const, 'Clamp') === 'Clamp',
  }),
  CDLTransform: (f, o) => ({
    type: 'cdl',
    powerCutsNegatives: o.majorVersion < 2,
    slope: spread(f.numbers('slope', [3]), 1),
    offset: spread(f.numbers('offset', [3]), 0),
    power: spread(f.numbers('power', [3]), 1),
    saturation: f.number('sat') ?? f.number('saturation') ?? 1,
    clamp: f.word('style', ['noclamp', 'asc'] as const, 'noclamp') === 'asc',
  }),
  AllocationTransform: (f) => ({
    type: 'allocation',
    allocation: f.word('allocation', ['uniform', 'lg2'] as const, 'uniform'),
    variables: f.numbers('vars') ?? [],
  }),
  FileTransform: (f) => ({
    type: 'file',
    source: f.requiredText('src'),
    correction: f.text('cccid'),
    cdlClamp: f.word('cdl_style', ['noclamp', 'asc'] as const, 'noclamp') === 'asc',
    interpolation: interpolation(f),
  }),
  ColorSpaceTransform: (f) => ({
    type: 'space',
    from: f.requiredText('src'),
    to: f.requiredText('dst'),
    dataBypass: f.truth('data_bypass', true),
  }),
  LookTransform: (f) => ({
    type: 'look',
    from: f.requiredText('src'),
    to: f.requiredText('dst'),
    looks: f.text('looks') ?? '',
  }),
  DisplayViewTransform: (f) => ({
    type: 'displayView',
    from: f.requiredText('src'),
    display: f.requiredText('display'),
    view: f.requiredText('view'),
    looksBypass: f.truth('looks_bypass', false),
    dataBypass: f.truth('data_bypass', true),
  }),
  GroupTransform: (f, o, depth) => {
    const node = f.get('children');
    if (node && node.kind !== 'list')
      throw new ColourFileError('GroupTransform: "children" must be a list of transforms.', node.place);
    return { type: 'group', children: (node?.items ?? []).map((n) => parseTransform(n, o, depth + 1)) };
  },
  FixedFunctionTransform: (f) => ({
    type: 'fixedFunction',
    style: f.requiredText('style'),
    parameters: f.numbers('params') ?? [],
  }),
  ExposureContrastTransform: (f) => ({
    type: 'exposureContrast',
    style: f.word('style', ['linear', 'video', 'log'] as const, 'linear'),
    exposure: f.number('exposure') ?? 0,
    contrast: f.number('contrast') ?? 1,
    gamma: f.number('gamma') ?? 1,
    pivot: f.number('pivot') ?? 0.18,
    logExposureStep: f.number('log_exposure_step') ?? 0.088,
    logMidGrey: f.number('log_midway_gray') ?? 0.435,
  }),
  BuiltinTransform: (f) => ({ type: 'builtin', style: f.requiredText('style') }),
  GradingPrimaryTransform: (f) => parseGrading.primary(f),
  GradingRGBCurveTransform: (f) => parseGrading.curve(f),
  GradingToneTransform: (f) => parseGrading.tone(f),
};

const plainLog = {
  linSlope: [1, 1, 1] as Vector3,
  linOffset: [0, 0, 0] as Vector3,
  logSlope: [1, 1, 1] as Vector3,
  logOffset: [0, 0, 0] as Vector3,
};

function sides(f: Fields) {
  return {
    linSlope: spread(f.numbers('lin_side_slope', [1, 3]), 1),
    linOffset: spread(f.numbers('lin_side_offset', [1, 3]), 0),
    logSlope: spread(f.numbers('log_side_slope', [1, 3]), 1),
    logOffset: spread(f.numbers('log_side_offset', [1, 3]), 0),
  };
}

function interpolation(f: Fields): Interpolation | undefined {
  const word = f.word('interpolation', interpolations, 'default');
  return word === 'unknown' || word === 'default' ? undefined : word;
}

function three(values: readonly number[]): Vector3 {
  return [values[0]!, values[1]!, values[2]!];
}

/** One number for all channels, or one each. */
function spread(values: readonly number[] | undefined, otherwise: number): Vector3 {
  if (!values) return [otherwise, otherwise, otherwise];
  return values.length === 1 ? [values[0]!, values[0]!, values[0]!] : three(values);
}
