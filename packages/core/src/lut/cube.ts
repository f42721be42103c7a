import type { Vector3 } from '../colour/matrix.ts';
import { ColourFileError } from '../config/place.ts';
import type { Transform } from '../transform/transform.ts';
import { largestCube } from '../transform/table3d.ts';
import { cube, fitDomain, group, table1d } from './make.ts';
import { endFault, longestTable, numbersOf, sizeOf, textLines, type TextLine } from './text.ts';

/**
 * .cube: a 1D table, a cube, or a 1D shaper before a cube; the domain as DOMAIN_MIN and DOMAIN_MAX or as input ranges. Red is fastest.
 * Source: "Cube LUT Specification", version 1.0 (2013), and the shaper keywords that several programs write.
 */
export function readCube(bytes: Uint8Array, file: string): Transform {
  const header = { size1: 0, size3: 0, low: [0, 0, 0], high: [1, 1, 1], range1: [0, 1], range3: [0, 1] };
  const rows: TextLine[] = [];
  for (const line of textLines(bytes, file)) {
    if (/^[-+.\d]/.test(line.text)) {
      rows.push(line);
      continue;
    }
    const key = line.words[0]!.toUpperCase();
    if (/^nan|^inf/i.test(key) && !/^[A-Z_]{4,}$/.test(key)) rows.push(line);
    else readKeyword(key, line, header);
  }
  const { size1, size3 } = header;
  if (!size1 && !size3) throw endFault(file, 'neither LUT_1D_SIZE nor LUT_3D_SIZE is given.');
  const wanted = size1 + size3 ** 3;
  if (rows.length !== wanted) {
    const place = rows.length > wanted ? rows[wanted]!.place : { file, line: 0 };
    throw new ColourFileError(`${wanted} rows of values are needed, ${rows.length} are there.`, place);
  }
  const children: Transform[] = [];
  const domain = () => fitDomain(header.low as unknown as Vector3, header.high as unknown as Vector3);
  if (header.low.some((l, c) => !(header.high[c]! > l))) throw endFault(file, 'DOMAIN_MAX must lie above DOMAIN_MIN.');
  const fitRange = ([low, high]: readonly number[]) => fitDomain([low!, low!, low!], [high!, high!, high!]);
  if (size1) {
    const channels = [0, 1, 2].map(() => new Float32Array(size1)) as [Float32Array, Float32Array, Float32Array];
    for (let i = 0; i < size1; i++) {
      const row = numbersOf(rows[i]!, 0, 3);
      for (let c = 0; c < 3; c++) channels[c]![i] = row[c]!;
    }
    children.push(...fitRange(header.range1), ...(size3 ? [] : domain()), table1d(channels));
  }
  if (size3) {
    const values = new Float32Array(size3 ** 3 * 3);
    for (let i = 0; i < size3 ** 3; i++) values.set(numbersOf(rows[size1 + i]!, 0, 3), i * 3);
    children.push(...fitRange(header.range3), ...domain(), cube(size3, values, false));
  }
  return group(children);
}

function readKeyword(
  key: string,
  line: TextLine,
  header: { size1: number; size3: number; low: number[]; high: number[]; range1: number[]; range3: number[] },
): void {
  switch (key) {
    case 'TITLE':
      return;
    case 'LUT_1D_SIZE':
      header.size1 = sizeOf(line, 1, 2, longestTable, 'the size');
      return;
    case 'LUT_3D_SIZE':
      header.size3 = sizeOf(line, 1, 2, largestCube, 'the size');
      return;
    case 'DOMAIN_MIN':
      header.low = numbersOf(line, 1, 3);
      return;
    case 'DOMAIN_MAX':
      header.high = numbersOf(line, 1, 3);
      return;
    case 'LUT_1D_INPUT_RANGE':
      header.range1 = numbersOf(line, 1, 2);
      return;
    case 'LUT_3D_INPUT_RANGE':
      header.range3 = numbersOf(line, 1, 2);
      return;
    case 'LUT_IN_VIDEO_RANGE':
    case 'LUT_OUT_VIDEO_RANGE':
      throw new ColourFileError(`${key}: tables over legal-range codes cannot be read.`, line.place, 'unsupported');
    default:
      throw new ColourFileError(`"${line.words[0]}" is no keyword of a .cube file.`, line.place);
  }
}
