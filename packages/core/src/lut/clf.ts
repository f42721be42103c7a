import type { Matrix3, Vector3 } from '../colour/matrix.ts';
import { ColourFileError } from '../config/place.ts';
import { largestCube } from '../transform/table3d.ts';
import { opposite, type Direction, type Transform } from '../transform/transform.ts';
import { halfToNumber } from '../image/half.ts';
import { clfGrading } from './clfGrading.ts';
import { group, redFastest } from './make.ts';
import { longestTable } from './text.ts';
import { childOf, elementNumbers, parseXml, type Element } from './xml.ts';

/** What the top code of each bit depth is, so that numbers come out relative to 1. */
const topCodes: Readonly<Record<string, number>> = {
  '8i': 255,
  '10i': 1023,
  '12i': 4095,
  '16i': 65535,
  '16f': 1,
  '32f': 1,
};

interface Node {
  readonly element: Element;
  readonly style: string;
  readonly inTop: number;
  readonly outTop: number;
}

/**
 * .clf (Common LUT Format, Academy S-2014-006 and its version 3) and .ctf: a ProcessList of nodes. Descriptions are passed over; a node
 * that is not known is a fault with its line.
 */
export function readClf(bytes: Uint8Array, file: string): Transform {
  const root = parseXml(bytes, file);
  if (root.name !== 'ProcessList') throw new ColourFileError('the file must hold a <ProcessList>.', root.place);
  const children: Transform[] = [];
  for (const element of root.children) {
    if (['Description', 'InputDescriptor', 'OutputDescriptor', 'Info'].includes(element.name)) continue;
    const read = readers[element.name.toLowerCase()];
    if (!read)
      throw new ColourFileError(`<${element.name}> is not a node that can be read.`, element.place, 'unsupported');
    if (element.attributes['bypass'] === 'true') continue;
    const transform = read({
      element,
      style: element.attributes['style'] ?? '',
      inTop: topCode(element, 'inBitDepth'),
      outTop: topCode(element, 'outBitDepth'),
    });
    children.push({ ...transform, place: element.place });
  }
  return group(children);
}

function topCode(element: Element, key: string): number {
  const depth = element.attributes[key];
  const top = topCodes[depth ?? '32f'];
  if (top === undefined) throw new ColourFileError(`${key} "${depth}" is no bit depth.`, element.place);
  return top;
}

const readers: Readonly<Record<string, (n: Node) => Transform>> = {
  matrix: readMatrix,
  lut1d: (n) => readTable(n, 'forward'),
  inverselut1d: (n) => readTable(n, 'inverse'),
  lut3d: (n) => readCube(n, 'forward'),
  inverselut3d: (n) => readCube(n, 'inverse'),
  range: readRange,
  log: readLog,
  exponent: (n) => readExponent(n, 'ExponentParams', 'exponent'),
  gamma: (n) => readExponent(n, 'GammaParams', 'gamma'),
  asc_cdl: readCdl,
  fixedfunction: readFixedFunction,
  exposurecontrast: readExposureContrast,
  gradingprimary: (n) => clfGrading(n.element, 'primary'),
  gradingrgbcurve: (n) => clfGrading(n.element, 'curve'),
  gradingtone: (n) => clfGrading(n.element, 'tone'),
};

/** An array with its dimensions checked. */
function arrayOf({ element }: Node, raw = false): { dimensions: number[]; values: number[] } {
  const array = childOf(element, 'Array');
  if (!array) throw new ColourFileError(`<${element.name}> has no <Array>.`, element.place);
  const dimensions = (array.attributes['dim'] ?? '').trim().split(/\s+/).map(Number);
  if (dimensions.some((d) => !Number.isInteger(d) || d < 1 || d > longestTable))
    throw new ColourFileError(`the dimensions "${array.attributes['dim'] ?? ''}" cannot be read.`, array.place);
  const values = elementNumbers(array);
  return { dimensions, values: raw ? values.map((v) => halfToNumber(v & 0xffff)) : values };
}

function checkCount(element: Element, values: readonly number[], wanted: number): void {
  if (values.length !== wanted)
    throw new ColourFileError(
      `<${element.name}>: ${wanted} values are needed, ${values.length} are there.`,
      element.place,
    );
}

function readMatrix(n: Node): Transform {
  const { dimensions, values } = arrayOf(n);
  const [rows, columns] = dimensions as [number, number];
  if (![3, 4].includes(rows) || ![3, 4, 5].includes(columns))
    throw new ColourFileError(`a matrix of ${dimensions.join(' x ')} cannot be read.`, n.element.place);
  checkCount(n.element, values, rows * columns);
  const at = (row: number, column: number) => values[row * columns + column]!;
  const k = n.inTop / n.outTop;
  const matrix = [0, 1, 2].flatMap((row) => [0, 1, 2].map((c) => at(row, c) * k)) as unknown as Matrix3;
  // The offsets stand in the last column of 3x4 and 4x5 arrays.
  const offset = [0, 1, 2].map((row) => (columns > rows ? at(row, columns - 1) / n.outTop : 0)) as unknown as Vector3;
  return { type: 'matrix', direction: 'forward', matrix, offset };
}

function readTable(n: Node, direction: Direction): Transform {
  const { element } = n;
  const halfDomain = element.attributes['halfDomain'] === 'true';
  const { dimensions, values } = arrayOf(n, element.attributes['rawHalfs'] === 'true');
  const [length, components] = dimensions as [number, number];
  if (length < 2 || ![1, 3].includes(components) || (halfDomain && length !== 65536))
    throw new ColourFileError(`a table of ${dimensions.join(' x ')} cannot be read.`, element.place);
  checkCount(element, values, length * components);
  const top = direction === 'forward' ? n.outTop : n.inTop;
  const channel = (c: number) => Float32Array.from({ length }, (_, i) => values[i * components + c]! / top);
  const first = channel(0);
  return {
    type: 'lut1d',
    direction,
    table: {
      channels: components === 1 ? [first, first, first] : [first, channel(1), channel(2)],
      halfDomain,
      hueAdjust: element.attributes['hueAdjust']?.toLowerCase() === 'dw3',
    },
  };
}

function readCube(n: Node, direction: Direction): Transform {
  const { element } = n;
  const { dimensions, values } = arrayOf(n);
  const size = dimensions[0]!;
  if (
    dimensions.length !== 4 ||
    dimensions[1] !== size ||
    dimensions[2] !== size ||
    dimensions[3] !== 3 ||
    size > largestCube
  )
    throw new ColourFileError(`a cube of ${dimensions.join(' x ')} cannot be read.`, element.place);
  checkCount(element, values, size ** 3 * 3);
  const top = direction === 'forward' ? n.outTop : n.inTop;
  const interpolation = element.attributes['interpolation']?.toLowerCase();
  return {
    type: 'lut3d',
    direction,
    table: {
      size,
      values: redFastest(
        size,
        Float32Array.from(values, (v) => v / top),
      ),
    },
    interpolation:
      interpolation === 'tetrahedral' ? 'tetrahedral' : interpolation === 'trilinear' ? 'linear' : undefined,
  };
}

function readRange(n: Node): Transform {
  const value = (name: string, top: number) => {
    const child = childOf(n.element, name);
    return child ? elementNumbers(child, 1)[0]! / top : undefined;
  };
  const range = {
    inLow: value('minInValue', n.inTop),
    inHigh: value('maxInValue', n.inTop),
    outLow: value('minOutValue', n.outTop),
    outHigh: value('maxOutValue', n.outTop),
  };
  return { type: 'range', direction: 'forward', ...range, clamp: n.style.toLowerCase() !== 'noclamp' };
}

const ones: Vector3 = [1, 1, 1];
const zeros: Vector3 = [0, 0, 0];

/** One number for each channel from elements that may name a channel. */
function perChannel(elements: readonly Element[], key: string, otherwise: number | undefined): Vector3 | undefined {
  const out: (number | undefined)[] = [otherwise, otherwise, otherwise];
  for (const element of elements) {
    const text = element.attributes[key];
    if (text === undefined) continue;
    const value = Number(text);
    if (Number.isNaN(value)) throw new ColourFileError(`${key} "${text}" is not a number.`, element.place);
    const channel = 'RGB'.indexOf((element.attributes['channel'] ?? '').toUpperCase() || '-');
    if (channel >= 0) out[channel] = value;
    else if (!element.attributes['channel']) out.fill(value);
  }
  return out.some((x) => x === undefined) ? undefined : (out as unknown as Vector3);
}

function readLog({ element, style }: Node): Transform {
  const name = style.toLowerCase();
  const plain = /^(anti)?log(2|10)$/.exec(name);
  if (plain)
    return {
      type: 'log',
      direction: plain[1] ? 'inverse' : 'forward',
      base: Number(plain[2]),
      linSlope: ones,
      linOffset: zeros,
      logSlope: ones,
      logOffset: zeros,
    };
  const match = /^(camera)?(lintolog|logtolin)$/.exec(name);
  if (!match) throw new ColourFileError(`the log style "${style}" is not known.`, element.place, 'unsupported');
  const parameters = element.children.filter((c) => c.name === 'LogParams');
  if (parameters.some((p) => 'gamma' in p.attributes || 'refWhite' in p.attributes))
    throw new ColourFileError(
      'log parameters of film scans (gamma, refWhite) cannot be read.',
      element.place,
      'unsupported',
    );
  const base = parameters.map((p) => p.attributes['base']).find((b) => b !== undefined);
  return {
    type: 'log',
    direction: match[2] === 'lintolog' ? 'forward' : 'inverse',
    base: Number(base ?? 2),
    linSlope: perChannel(parameters, 'linSideSlope', 1)!,
    linOffset: perChannel(parameters, 'linSideOffset', 0)!,
    logSlope: perChannel(parameters, 'logSideSlope', 1)!,
    logOffset: perChannel(parameters, 'logSideOffset', 0)!,
    linBreak: match[1] ? perChannel(parameters, 'linSideBreak', undefined) : undefined,
    linearSlope: match[1] ? perChannel(parameters, 'linearSlope', undefined) : undefined,
  };
}

function readExponent({ element, style }: Node, tag: string, key: string): Transform {
  const match = /^(basic|moncurve)(mirror|passthru)?(fwd|rev)$/.exec(style.toLowerCase());
  if (!match) throw new ColourFileError(`the exponent style "${style}" is not known.`, element.place, 'unsupported');
  const parameters = element.children.filter((c) => c.name === tag);
  const value = perChannel(parameters, key, 1)!;
  const direction: Direction = match[3] === 'fwd' ? 'forward' : 'inverse';
  if (match[1] === 'basic')
    return {
      type: 'exponent',
      direction,
      value,
      negatives: match[2] === 'mirror' ? 'mirror' : match[2] ? 'pass_thru' : 'clamp',
    };
  return {
    type: 'exponentWithLinear',
    direction,
    gamma: value,
    offset: perChannel(parameters, 'offset', 0)!,
    negatives: match[2] === 'mirror' ? 'mirror' : 'linear',
  };
}

function readCdl({ element, style }: Node): Transform {
  const name = style.toLowerCase().replace(/^v1\.2_/, '');
  const known = ['', 'fwd', 'rev', 'fwdnoclamp', 'revnoclamp', 'noclampfwd', 'noclamprev'];
  if (!known.includes(name))
    throw new ColourFileError(`the CDL style "${style}" is not known.`, element.place, 'unsupported');
  const sop = childOf(element, 'SOPNode');
  const sat = childOf(element, 'SatNode');
  const three = (key: string, otherwise: Vector3) => {
    const child = sop && childOf(sop, key);
    return child ? (elementNumbers(child, 3) as unknown as Vector3) : otherwise;
  };
  const saturation = sat && childOf(sat, 'Saturation');
  return {
    type: 'cdl',
    direction: name.includes('rev') ? 'inverse' : 'forward',
    slope: three('Slope', ones),
    offset: three('Offset', zeros),
    power: three('Power', ones),
    saturation: saturation ? elementNumbers(saturation, 1)[0]! : 1,
    clamp: !name.includes('noclamp'),
  };
}

/** Names of fixed functions here, and whether they are the inverse of the config format's. */
const reversed: Readonly<Record<string, string>> = {
  dimtodark10: 'aces_darktodim10',
  hsv_to_rgb: 'rgb_to_hsv',
  xyy_to_xyz: 'xyz_to_xyy',
  uvy_to_xyz: 'xyz_to_uvy',
  luv_to_xyz: 'xyz_to_luv',
};

function readFixedFunction({ element, style }: Node): Transform {
  const name = style.toLowerCase();
  const bare = name.replace(/(fwd|rev)$/, '');
  const aces = /^(redmod|glow|darktodim|gamutcomp)\d+$/.test(bare) ? `aces_${bare}` : bare;
  const parameters = (element.attributes['params'] ?? '').trim().split(/\s+/).filter(Boolean).map(Number);
  const direction: Direction = name.endsWith('rev') || reversed[bare] ? 'inverse' : 'forward';
  return { type: 'fixedFunction', direction, style: reversed[bare] ?? aces, parameters };
}

function readExposureContrast({ element, style }: Node): Transform {
  const match = /^(linear|video|log)(rev)?$/.exec(style.toLowerCase());
  const parameters = childOf(element, 'ECParams');
  if (!match || !parameters)
    throw new ColourFileError(`exposure and contrast "${style}" cannot be read.`, element.place);
  const value = (key: string, otherwise: number) => {
    const text = parameters.attributes[key];
    const number = text === undefined ? otherwise : Number(text);
    if (Number.isNaN(number)) throw new ColourFileError(`${key} "${text}" is not a number.`, parameters.place);
    return number;
  };
  return {
    type: 'exposureContrast',
    direction: match[2] ? opposite('forward') : 'forward',
    style: match[1] as 'linear' | 'video' | 'log',
    exposure: value('exposure', 0),
    contrast: value('contrast', 1),
    gamma: value('gamma', 1),
    pivot: value('pivot', 0.18),
    logExposureStep: value('logExposureStep', 0.088),
    logMidGrey: value('logMidGray', 0.435),
  };
}
