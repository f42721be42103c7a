import type { Direction } from '../transform/transform.ts';

/** Looks that an adjustment bakes in: a LUT or CDL of the Library, then looks of the config ("+dusk, -warm"). */
export interface BakedLook {
  readonly look?: string | null | undefined;
  readonly lookFile?: { readonly id: string; readonly name: string; readonly space: string } | null | undefined;
}

/** One look of an expression, with its direction. */
export interface LookToken {
  readonly name: string;
  readonly direction: Direction;
}

/**
 * Reads an expression of looks: `+a, -b` runs a, then b turned round; `|` parts the expression into options, of which the first
 * whose files are there is taken. Commas and colons separate alike. No look gives one empty option.
 */
export function parseLooks(text: string): LookToken[][] {
  return text.split('|').map((option) =>
    option
      .split(/[,:]/)
      .map((s) => s.trim())
      .filter((s) => s !== '')
      .map((s) => {
        const name = s.replace(/^[+-]\s*/, '');
        return { name, direction: s.startsWith('-') ? 'inverse' : 'forward' } as const;
      }),
  );
}
