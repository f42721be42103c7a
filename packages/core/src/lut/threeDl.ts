import { ColourFileError } from '../config/place.ts';
import { largestCube } from '../transform/table3d.ts';
import type { Transform } from '../transform/transform.ts';
import { cube, group, table1d } from './make.ts';
import { endFault, numbersOf, textLines } from './text.ts';

/** The bit depth that integers up to `most` are taken to have: even depths from 8 to 16, values up to twice as high allowed. */
function likelyDepth(most: number): number {
  for (let depth = 8; depth <= 16; depth += 2) if (most <= 2 ** (depth + 1) - 1) return depth;
  return 16;
}

/** .3dl: a row of shaper codes, then rows of three codes, blue fastest; or a `Mesh` line with the sizes as powers of two. */
export function read3dl(bytes: Uint8Array, file: string): Transform {
  const rows: number[][] = [];
  let shaper: number[] | undefined;
  let meshDepth: number | undefined;
  for (const line of textLines(bytes, file)) {
    const key = line.words[0]!.toLowerCase();
    if (key.startsWith('<')) throw new ColourFileError('this is no text .3dl file.', line.place);
    if (key === 'mesh') {
      const [, depth] = numbersOf(line, 1, 2);
      meshDepth = depth;
    } else if (/^(3dmesh|[a-z])/i.test(key))
      continue; // 3DMESH, LUT8, gamma: notes for other programs
    else if (!shaper && line.words.length > 3) shaper = numbersOf(line);
    else rows.push(numbersOf(line, 0, 3));
  }
  const size = Math.round(Math.cbrt(rows.length));
  if (size < 2 || size > largestCube || size ** 3 !== rows.length)
    throw endFault(file, `${rows.length} rows of values make no cube.`);
  const most = rows.reduce((m, row) => Math.max(m, row[0]!, row[1]!, row[2]!), 0);
  const scale = 2 ** (meshDepth ?? likelyDepth(most)) - 1;
  const values = new Float32Array(rows.length * 3);
  rows.forEach((row, i) => values.set([row[0]! / scale, row[1]! / scale, row[2]! / scale], i * 3));
  const children: Transform[] = [];
  if (shaper) {
    const shaperMost = Math.max(...shaper);
    const shaperScale = 2 ** likelyDepth(shaperMost) - 1;
    const table = Float32Array.from(shaper, (x) => x / shaperScale);
    // A shaper within a code or two of a straight line is one.
    const straight = table.every((x, i) => Math.abs(x - i / (table.length - 1)) * shaperScale <= 2);
    if (!straight) children.push(table1d([table, table, table]));
  }
  return group([...children, cube(size, values, true)]);
}
