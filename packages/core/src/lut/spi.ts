import type { Matrix3, Vector3 } from '../colour/matrix.ts';
import { ColourFileError } from '../config/place.ts';
import { largestCube } from '../transform/table3d.ts';
import type { Transform } from '../transform/transform.ts';
import { cube, fitDomain, group, table1d } from './make.ts';
import { endFault, longestTable, numbersOf, sizeOf, textLines } from './text.ts';

/** .spi1d: `Version 1`, `From low high`, `Length n`, `Components c`, then rows in braces. */
export function readSpi1d(bytes: Uint8Array, file: string): Transform {
  let [low, high, length, components] = [0, 1, 0, 0];
  const rows: number[][] = [];
  let within = false;
  for (const line of textLines(bytes, file)) {
    const key = line.words[0]!.toLowerCase();
    if (key === '{') within = true;
    else if (key === '}') within = false;
    else if (within) rows.push(numbersOf(line, 0, components));
    else if (key === 'version') {
      if (line.words[1] !== '1')
        throw new ColourFileError(`version ${line.words[1]} cannot be read; version 1 can.`, line.place);
    } else if (key === 'from') [low, high] = numbersOf(line, 1, 2) as [number, number];
    else if (key === 'length') length = sizeOf(line, 1, 2, longestTable, 'the length');
    else if (key === 'components') components = sizeOf(line, 1, 1, 3, 'the number of components');
    else throw new ColourFileError(`"${line.words[0]}" is no keyword of a .spi1d file.`, line.place);
  }
  if (!length || !components) throw endFault(file, 'Length and Components must be given.');
  if (rows.length !== length) throw endFault(file, `${length} rows of values are needed, ${rows.length} are there.`);
  if (!(high > low)) throw endFault(file, 'the range after From must rise.');
  const channel = (c: number) => Float32Array.from(rows, (row) => row[c] ?? 0);
  const first = channel(0);
  const channels = components === 1 ? ([first, first, first] as const) : ([first, channel(1), channel(2)] as const);
  return group([...fitDomain([low, low, low], [high, high, high]), table1d(channels)]);
}

/** .spi3d: `SPILUT 1.0`, `3 3`, three sizes, then rows "ri gi bi r g b" in any order. */
export function readSpi3d(bytes: Uint8Array, file: string): Transform {
  const lines = textLines(bytes, file);
  const [head, , sizes] = lines;
  if (!head || !/^SPILUT/i.test(head.text)) throw endFault(file, 'the file must start with SPILUT 1.0.');
  if (!sizes) throw endFault(file, 'the sizes are missing.');
  const [r, g, b] = [0, 1, 2].map((i) => sizeOf(sizes, i, 2, largestCube, 'the size')) as [number, number, number];
  if (r !== g || g !== b) throw new ColourFileError(`a cube needs three equal sizes, not ${r} ${g} ${b}.`, sizes.place);
  const values = new Float32Array(r ** 3 * 3);
  const rows = lines.slice(3);
  if (rows.length < r ** 3) throw endFault(file, `${r ** 3} rows of values are needed, ${rows.length} are there.`);
  for (const row of rows) {
    const n = numbersOf(row);
    if (n.length < 6) throw new ColourFileError('three indices and three values were expected here.', row.place);
    const [ri, gi, bi] = n as [number, number, number];
    if ([ri, gi, bi].some((i) => !Number.isInteger(i) || i < 0 || i >= r))
      throw new ColourFileError(`the index ${ri} ${gi} ${bi} lies outside the cube.`, row.place);
    values.set(n.slice(3, 6), ((bi * r + gi) * r + ri) * 3);
  }
  return cube(r, values, false);
}

/** .spimtx: three rows of three factors and an offset in 16-bit codes. */
export function readSpimtx(bytes: Uint8Array, file: string): Transform {
  const n = textLines(bytes, file).flatMap((line) => numbersOf(line));
  if (n.length !== 12) throw endFault(file, `12 numbers are needed, ${n.length} are there.`);
  const matrix = [n[0], n[1], n[2], n[4], n[5], n[6], n[8], n[9], n[10]] as unknown as Matrix3;
  const offset = [n[3]! / 65535, n[7]! / 65535, n[11]! / 65535] as unknown as Vector3;
  return { type: 'matrix', direction: 'forward', matrix, offset };
}
