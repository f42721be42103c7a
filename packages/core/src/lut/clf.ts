import type { Matrix3, Vector3 } from '../colour/matrix.ts';
import { ColourFileError } from '../config/place.ts';
import { opposite, type Direction, type Transform } from '../transform/transform.ts';
import { clfGrading } from './clfGrading.ts';
import { readLog } from './clfLog.ts';
import { arrayOf, checkCount, clfNode, ones, perChannel, zeros, type ClfNode } from './clfNode.ts';
import { readCube, readTable } from './clfTables.ts';
import { group } from './make.ts';
import { childOf, elementNumbers, parseXml, type Element } from './xml.ts';

/**
 * .clf (Common LUT Format, Academy S-2014-006 and its version 3) and .ctf: a ProcessList of nodes. Descriptions are passed over; a node
 * that is not known is a fault with its line.
 */
export function readClf(bytes: Uint8Array, file: string): Transform {
  const root = parseXml(bytes, file);
  if (root.name !== 'ProcessList') throw new ColourFileError('the file must hold a <ProcessList>.', root.place);
  checkVersion(root);
  const children: Transform[] = [];
  for (const element of root.children) {
    if (['Description', 'InputDescriptor', 'OutputDescriptor', 'Info'].includes(element.name)) continue;
    const read = readers[element.name.toLowerCase()];
    if (!read)
      throw new ColourFileError(`<${element.name}> is not a node that can be read.`, element.place, 'unsupported');
    if (element.attributes['bypass'] === 'true') continue;
    const transform = read(clfNode(element));
    children.push({ ...transform, place: element.place });
  }
  return group(children);
}

/** CLF goes up to version 3 (S-2014-006 and its successor), .ctf up to 2. */
function checkVersion(root: Element): void {
  for (const [key, newest] of [
    ['compCLFversion', 3],
    ['version', 2],
  ] as const) {
    const text = root.attributes[key];
    if (text === undefined) continue;
    const match = /^(\d+)(\.\d+)*$/.exec(text.trim());
    if (!match || Number(match[1]) > newest)
      throw new ColourFileError(`${key} "${text}" is not a version that can be read.`, root.place, 'unsupported');
  }
}

const readers: Readonly<Record<string, (n: ClfNode) => Transform>> = {
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
  // Names of early .ctf versions.
  aces: readFixedFunction,
  function: readFixedFunction,
  reference: readReference,
  exposurecontrast: readExposureContrast,
  gradingprimary: (n) => clfGrading(n.element, 'primary'),
  gradingrgbcurve: (n) => clfGrading(n.element, 'curve'),
  gradingtone: (n) => clfGrading(n.element, 'tone'),
};

function readMatrix(n: ClfNode): Transform {
  const { dimensions, values } = arrayOf(n);
  const [rows, columns] = dimensions as [number, number];
  if (![3, 4].includes(rows) || ![3, 4, 5].includes(columns))
    throw new ColourFileError(`a matrix of ${dimensions.join(' x ')} cannot be read.`, n.element.place);
  checkCount(n.element, values, rows * columns);
  // Up to version 1.2 of .ctf, "4 4 3" was three rows of three numbers and an offset.
  const early = dimensions[2] === 3 && rows === 4;
  const offsetColumn = early ? 3 : columns > rows ? columns - 1 : undefined;
  const at = (row: number, column: number) => values[row * columns + column]!;
  const k = n.inTop / n.outTop;
  const matrix = [0, 1, 2].flatMap((row) => [0, 1, 2].map((c) => at(row, c) * k)) as unknown as Matrix3;
  // The offsets stand in the last column of 3x4 and 4x5 arrays.
  const offset = [0, 1, 2].map((row) =>
    offsetColumn === undefined ? 0 : at(row, offsetColumn) / n.outTop,
  ) as unknown as Vector3;
  return { type: 'matrix', direction: 'forward', matrix, offset };
}

function readRange(n: ClfNode): Transform {
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

function readExponent({ element, style }: ClfNode, tag: string, key: string): Transform {
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

function readCdl({ element, style }: ClfNode): Transform {
  const name = style.toLowerCase().replace(/^v1\.2_/, '');
  const known = ['', 'fwd', 'rev', 'fwdnoclamp', 'revnoclamp', 'noclampfwd', 'noclamprev'];
  if (!known.includes(name))
    throw new ColourFileError(`the CDL style "${style}" is not known.`, element.place, 'unsupported');
  const sop = childOf(element, 'SOPNode');
  const sat = childOf(element, 'SatNode');
  const three = (key: string, otherwise: Vector3) => {
    if (!sop) return otherwise;
    const child = childOf(sop, key);
    if (!child) throw new ColourFileError(`<SOPNode> has no <${key}>.`, sop.place);
    return elementNumbers(child, 3) as unknown as Vector3;
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

function readFixedFunction({ element, style }: ClfNode): Transform {
  const name = style.toLowerCase();
  // "Surround" is the early name of the Rec. 2100 one.
  const bare = name === 'surround' ? 'rec2100surround' : name.replace(/(fwd|rev)$/, '');
  const aces = /^(redmod|glow|darktodim|gamutcomp)\d+$/.test(bare) ? `aces_${bare}` : bare;
  const written = element.attributes['params'] ?? childOf(element, 'ACESParams')?.attributes['gamma'] ?? '';
  const parameters = written.trim().split(/\s+/).filter(Boolean).map(Number);
  const direction: Direction = name.endsWith('rev') || reversed[bare] ? 'inverse' : 'forward';
  return { type: 'fixedFunction', direction, style: reversed[bare] ?? aces, parameters };
}

/** Another file at this point, found as a config's file transform would be. An alias names nothing that can be found. */
function readReference({ element }: ClfNode): Transform {
  const { path, inverted } = element.attributes;
  if (!path) throw new ColourFileError('a reference by alias cannot be followed.', element.place, 'unsupported');
  return {
    type: 'file',
    direction: inverted === 'true' ? 'inverse' : 'forward',
    source: path,
    correction: undefined,
    cdlClamp: false,
    interpolation: undefined,
  };
}

function readExposureContrast({ element, style }: ClfNode): Transform {
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
