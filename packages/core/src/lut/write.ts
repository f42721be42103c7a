/** Values of a LUT file's table are written with so many decimals: a millionth, far below a code of sixteen bits. */
const decimals = 6;

const numbers = (values: ArrayLike<number>, at: number) =>
  [0, 1, 2].map((c) => values[at + c]!.toFixed(decimals)).join(' ');

/** A title as LUT files hold it: one line without quotation marks. */
const plain = (title: string) => title.replaceAll('"', '').replace(/\s+/g, ' ').trim();

/**
 * A cube over 0 … 1 as a .cube file (Cube LUT Specification 1.0: keywords, then values with red changing fastest). `values` are three a
 * node, red fastest; `comments` say what a person must know.
 */
export function writeCube(
  title: string,
  size: number,
  values: ArrayLike<number>,
  comments: readonly string[] = [],
): string {
  const lines = [
    ...comments.map((c) => `# ${plain(c)}`),
    `TITLE "${plain(title)}"`,
    `LUT_3D_SIZE ${size}`,
    'DOMAIN_MIN 0 0 0',
    'DOMAIN_MAX 1 1 1',
  ];
  for (let i = 0; i < 3 * size ** 3; i += 3) lines.push(numbers(values, i));
  return `${lines.join('\n')}\n`;
}

const escaped = (text: string) => plain(text).replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;');

/**
 * A cube over 0 … 1 as a Common LUT Format file (Academy S-2014-006, version 3: LUT3D, whose array changes blue fastest). `values` are
 * three a node, red fastest.
 */
export function writeClf(
  { title, input, output }: { readonly title: string; readonly input: string; readonly output: string },
  size: number,
  values: ArrayLike<number>,
): string {
  const rows: string[] = [];
  for (let r = 0; r < size; r++)
    for (let g = 0; g < size; g++)
      for (let b = 0; b < size; b++) rows.push(numbers(values, 3 * (r + size * (g + size * b))));
  return `<?xml version="1.0" encoding="UTF-8"?>
<ProcessList compCLFversion="3" id="june-haze-view" name="${escaped(title)}">
<InputDescriptor>${escaped(input)}</InputDescriptor>
<OutputDescriptor>${escaped(output)}</OutputDescriptor>
<LUT3D id="cube" interpolation="tetrahedral" inBitDepth="32f" outBitDepth="32f">
<Array dim="${size} ${size} ${size} 3">
${rows.join('\n')}
</Array>
</LUT3D>
</ProcessList>
`;
}

/** Offsets of a .spimtx file count in 65,535ths, as the reference colour library reads them. */
const spimtxOffset = 65535;

/** A matrix as a .spimtx file: three rows of three numbers and an offset. */
export const writeSpimtx = (matrix: ArrayLike<number>, offset: ArrayLike<number> = [0, 0, 0]): string =>
  [0, 1, 2]
    .map((row) => {
      const factors = [0, 1, 2].map((c) => matrix[3 * row + c]!.toFixed(9)).join(' ');
      return `${factors} ${offset[row] ? (spimtxOffset * offset[row]).toFixed(6) : '0'}\n`;
    })
    .join('');
