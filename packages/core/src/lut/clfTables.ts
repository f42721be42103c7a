import { ColourFileError } from '../config/place.ts';
import { largestCube } from '../transform/table3d.ts';
import type { Direction, Transform } from '../transform/transform.ts';
import { arrayOf, checkCount, type ClfNode } from './clfNode.ts';
import { group, redFastest } from './make.ts';
import { childOf } from './xml.ts';

/** A LUT1D, or the inverse of one, with its index map before it. Values beyond the floats are held at their ends; NaN counts as 0. */
export function readTable(n: ClfNode, direction: Direction): Transform {
  const { element } = n;
  const halfDomain = element.attributes['halfDomain'] === 'true';
  const { dimensions, values } = arrayOf(n, element.attributes['rawHalfs'] === 'true');
  const [length, components] = dimensions as [number, number];
  if (length < 2 || ![1, 3].includes(components) || (halfDomain && length !== 65536))
    throw new ColourFileError(`a table of ${dimensions.join(' x ')} cannot be read.`, element.place);
  checkCount(element, values, length * components);
  const top = direction === 'forward' ? n.outTop : n.inTop;
  const channel = (c: number) => Float32Array.from({ length }, (_, i) => finite(values[i * components + c]! / top));
  const first = channel(0);
  const lut: Transform = {
    type: 'lut1d',
    direction,
    table: {
      channels: components === 1 ? [first, first, first] : [first, channel(1), channel(2)],
      halfDomain,
      hueAdjust: element.attributes['hueAdjust']?.toLowerCase() === 'dw3',
    },
  };
  return withIndexMap(n, length, lut);
}

/** A LUT3D, or the inverse of one, with its index map before it. */
export function readCube(n: ClfNode, direction: Direction): Transform {
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
  const lut: Transform = {
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
  return withIndexMap(n, size, lut);
}

/**
 * An index map of version 2 (S-2014-006) says at which codes two entries of the table stand: "64@0 940@31". It becomes a range before the
 * table. Longer maps are refused, as the reference library does.
 */
function withIndexMap({ element, inTop }: ClfNode, length: number, lut: Transform): Transform {
  const map = childOf(element, 'IndexMap');
  if (!map) return lut;
  const numbers = map.text
    .split(/[\s@]+/)
    .filter((w) => w !== '')
    .map(Number);
  if (numbers.length !== 4 || numbers.some((x) => !Number.isFinite(x)))
    throw new ColourFileError(
      'only index maps of two pairs, such as "64@0 940@31", can be read.',
      map.place,
      'unsupported',
    );
  const [fromCode, fromEntry, toCode, toEntry] = numbers as [number, number, number, number];
  const last = length - 1;
  const range: Transform = {
    type: 'range',
    direction: 'forward',
    inLow: fromCode / inTop,
    inHigh: toCode / inTop,
    outLow: fromEntry / last,
    outHigh: toEntry / last,
    clamp: true,
  };
  return group([range, lut]);
}

const largestFloat = 3.4028234663852886e38;

function finite(x: number): number {
  return x !== x ? 0 : Math.min(Math.max(x, -largestFloat), largestFloat);
}
