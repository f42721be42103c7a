import type { Size } from '../ledger/sizes.ts';

/** Where a contact sheet's pictures lie. */
export interface SheetLayout extends Size {
  readonly columns: number;
  readonly rows: number;
  /** Pixels between pictures, and around all of them. */
  readonly gap: number;
  /** How many pixels a dot of a label's digits is wide; 0 without labels. */
  readonly dot: number;
  readonly cell: Size;
  /** The upper left pixel of a picture, by its place. */
  at(index: number): { readonly x: number; readonly y: number };
}

/** How wide a sheet is beside its height where nobody chose its columns: that of most screens (common practice, no source). */
const usualAspect = 16 / 9;
/** Codes of the ground and of labels, of 255: what disturbs pictures least, and what is read on it (chosen, no source). */
const [ground, ink] = [24, 160];

/** Digits as five dots in each of seven rows, a bit each, the leftmost the highest: our own. */
const digits: Readonly<Record<string, readonly number[]>> = {
  '0': [14, 17, 17, 17, 17, 17, 14],
  '1': [4, 12, 4, 4, 4, 4, 14],
  '2': [14, 17, 1, 2, 4, 8, 31],
  '3': [30, 1, 1, 14, 1, 1, 30],
  '4': [2, 6, 10, 18, 31, 2, 2],
  '5': [31, 16, 30, 1, 1, 17, 14],
  '6': [14, 16, 16, 30, 17, 17, 14],
  '7': [31, 1, 2, 4, 4, 8, 8],
  '8': [14, 17, 17, 14, 17, 17, 14],
  '9': [14, 17, 17, 15, 1, 1, 14],
  '-': [0, 0, 0, 14, 0, 0, 0],
};
const [digitWidth, digitHeight] = [6, 7];

/**
 * Lays pictures of one size out in rows, from the left and from above. Columns that are left out make the sheet about as wide as a screen; never more
 * of them than there are pictures.
 */
export function sheetLayout(
  count: number,
  cell: Size,
  { columns, labels }: { readonly columns: number | null; readonly labels: boolean },
): SheetLayout {
  const wanted = columns ?? Math.round(Math.sqrt((count * usualAspect * cell.height) / cell.width));
  const across = Math.min(count, Math.max(1, wanted));
  const rows = Math.ceil(count / across);
  const gap = Math.max(2, Math.round(cell.width / 40));
  const dot = labels ? Math.max(1, Math.round(cell.width / 160)) : 0;
  const step = { x: cell.width + gap, y: cell.height + gap + (dot ? digitHeight * dot + gap : 0) };
  return {
    columns: across,
    rows,
    gap,
    dot,
    cell,
    width: gap + across * step.x,
    height: gap + rows * step.y,
    at: (index) => ({ x: gap + (index % across) * step.x, y: gap + Math.floor(index / across) * step.y }),
  };
}

/** An empty sheet: red, green and blue codes of 8 bits. */
export const emptySheet = ({ width, height }: SheetLayout): Uint8Array<ArrayBuffer> =>
  new Uint8Array(width * height * 3).fill(ground);

/** Puts a picture (red, green and blue of 8 bits) into its place, and its number below. */
export function drawOnSheet(
  sheet: Uint8Array,
  layout: SheetLayout,
  index: number,
  picture: Uint8Array,
  label: string,
): void {
  const { width, cell, gap, dot } = layout;
  const { x, y } = layout.at(index);
  const row = cell.width * 3;
  for (let line = 0; line < cell.height; line++)
    sheet.set(picture.subarray(line * row, (line + 1) * row), ((y + line) * width + x) * 3);
  if (!dot) return;
  // Whole digits only: what does not fit below its picture is left out.
  const fits = Math.floor(cell.width / (digitWidth * dot));
  [...label].slice(0, fits).forEach((digit, place) => {
    const left = x + place * digitWidth * dot;
    drawDigit(sheet, width, digits[digit] ?? [], { left, top: y + cell.height + gap, dot });
  });
}

function drawDigit(
  sheet: Uint8Array,
  width: number,
  rows: readonly number[],
  { left, top, dot }: { readonly left: number; readonly top: number; readonly dot: number },
): void {
  rows.forEach((bits, line) => {
    for (let column = 0; column < 5; column++) {
      if (!(bits & (16 >> column))) continue;
      for (let y = 0; y < dot; y++) {
        const from = ((top + line * dot + y) * width + left + column * dot) * 3;
        sheet.fill(ink, from, from + dot * 3);
      }
    }
  });
}

/** A picture cut out of a sheet that was decoded: RGBA of 8 bits. */
export function cutFromSheet(rgba: Uint8Array, layout: SheetLayout, index: number): Uint8Array<ArrayBuffer> {
  const { width, cell } = layout;
  const { x, y } = layout.at(index);
  const out = new Uint8Array(cell.width * cell.height * 4);
  for (let line = 0; line < cell.height; line++) {
    const from = ((y + line) * width + x) * 4;
    out.set(rgba.subarray(from, from + cell.width * 4), line * cell.width * 4);
  }
  return out;
}
