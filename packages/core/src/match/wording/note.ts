import { wordsOf, type Word } from './words.ts';

/** The fields that a person may name. */
export type NoteField = 'space' | 'display' | 'view' | 'look';

/** What a person read off a renderer, taken apart: numbers of trims, and words, some of them under a heading. */
export interface ReadNote {
  readonly exposure: number | null;
  readonly gamma: number | null;
  /** Frames per second. */
  readonly rate: number | null;
  readonly words: readonly (Word & { readonly under: NoteField | undefined })[];
}

/** Headings that programs put before such words; common practice, no source. */
const headings: readonly (readonly [RegExp, NoteField])[] = [
  [/^(view ?(transform|lut)?|tone ?mapp(ing|er)|output transform|rendering transform|odt)$/i, 'view'],
  [/^(display ?(device)?|device|monitor|screen)$/i, 'display'],
  [/^(looks?|grade)$/i, 'look'],
  [/^((render(ing)?|working|input|scene|file)[ -]?)?(colou?r ?space|space|profile)$|^scene[ -]linear$/i, 'space'],
];

const number = '([+\\-−]?\\d+(?:[.,]\\d+)?)';
const exposureForms = [
  new RegExp(`\\b(?:exposure|exp|ev)\\b\\s*[:=]?\\s*${number}(?:\\s*(?:stops?|ev)\\b)?`, 'i'),
  new RegExp(`${number}\\s*(?:stops?|ev)\\b`, 'i'),
];
const gammaForm = new RegExp(`\\bgamma\\b\\s*[:=]?\\s*(\\d+(?:[.,]\\d+)?)`, 'i');
const rateForm = new RegExp(`${number}\\s*(?:fps|frames per second)\\b`, 'i');
/** Gammas of displays are names of curves, not trims. */
const curveGammas = new Set([1.8, 2.2, 2.4, 2.6]);

/** Takes a person's words apart: lines, or parts between semicolons, bars and commas, may begin with a heading and a colon. */
export function readNote(text: string): ReadNote {
  let rest = text;
  const take = (form: RegExp, keep: (value: number) => boolean = () => true): number | null => {
    const found = form.exec(rest);
    const value = found ? Number(found[1]!.replace('−', '-').replace(',', '.')) : NaN;
    if (!found || !Number.isFinite(value) || !keep(value)) return null;
    rest = rest.replace(found[0], ' ; ');
    return value;
  };
  const rate = take(rateForm);
  const exposure = take(exposureForms[0]!) ?? take(exposureForms[1]!);
  const gamma = take(gammaForm, (v) => !curveGammas.has(v));
  const words = rest.split(/[\n;|]|,(?!\d)/).flatMap((piece) => {
    const [, heading, own] = /^\s*([A-Za-z][A-Za-z \-]*?)\s*[:=]\s*(.+)$/.exec(piece) ?? [];
    const under = heading === undefined ? undefined : headings.find(([form]) => form.test(heading.trim()))?.[1];
    return wordsOf(under ? own! : piece).map((word) => ({ ...word, under }));
  });
  return { exposure, gamma, rate, words };
}
