/** A word of a name or of what a person wrote, brought to one form. */
export interface Word {
  readonly text: string;
  /** How much it says: versions and words that stand everywhere say little. */
  readonly weight: number;
}

/** Spellings of one thing, in the order in which they are replaced; standards' names and common practice, no source. */
const spellings: readonly (readonly [RegExp, string])[] = [
  [/\b(?:itu[-\s]?r?[-\s]?)?(?:rec|bt|itu)[.\s_-]?(709|2020|2100|1886|601)\b/g, ' rec$1 '],
  [/\blin[_\s-]?ap1(?:[_\s-]scene)?\b|\bap1\b|\baces[\s_-]?cg\b/g, ' acescg '],
  [/\baces[\s_-]?2065(?:[\s_-]?1)?\b|\blin[_\s-]?ap0(?:[_\s-]scene)?\b|\bap0\b/g, ' aces2065 '],
  [/\b(?:dci[\s_-]?)?p3[\s_-]?(?:\(?d65\)?)?\b/g, ' p3 '],
  [/\bun[\s_-]?tone[\s_-]?mapped\b|\bno tone ?mapp(?:ing|er)\b|\btone ?mapp(?:ing|er):? (?:off|none)\b/g, ' untoned '],
  [/\brrt\b|\bodt\b|\boutput(?= ?[-(_ ])/g, ' aces '],
  [/\bgamma[\s_-]?(2\.2|2\.4|2\.6|1\.8)\b|\bg(22|24|26|18)\b/g, ' gamma$1$2 '],
];

/** Short forms of words. */
const shortForms: Readonly<Record<string, string>> = {
  lin: 'linear',
  tx: 'texture',
  disp: 'display',
  med: 'medium',
  hi: 'high',
  lo: 'low',
  std: 'standard',
  contr: 'contrast',
  vid: 'video',
  cin: 'cinema',
  untonemapped: 'untoned',
  gamma22: 'gamma2.2',
  gamma24: 'gamma2.4',
  gamma26: 'gamma2.6',
  gamma18: 'gamma1.8',
};

/** Words that name the kind of thing and not which. */
const kindWords = new Set(
  'view display displays look looks color colour space colorspace colourspace transform device monitor screen the a an of with and in for as on at to by is was set it its our my render renderer rendered use used using through utility default'.split(
    ' ',
  ),
);
/** Words that stand in many names: they tell little by themselves. */
const commonWords = new Set('sdr video linear scene standard nits nit contrast'.split(' '));

/** The words of a text, in order, each once; words of kind fall away. */
export function wordsOf(text: string): Word[] {
  // Words that are joined by a change of case are parted, but for names such as ACEScg and sRGB.
  let plain = text.replace(/(?<=[a-z]{2})(?=[A-Z][a-z]{2})/g, ' ').toLowerCase();
  for (const [pattern, form] of spellings) plain = plain.replace(pattern, form);
  const found = plain.match(/[a-z]+\d*(?:\.\d+)?[a-z]*|\d+(?:\.\d+)?/g) ?? [];
  const words = new Map<string, Word>();
  for (const raw of found) {
    const text = shortForms[raw] ?? raw.replace(/^v(\d+(?:\.\d+)?)$/, '$1');
    if (!kindWords.has(text) && !words.has(text)) words.set(text, { text, weight: weightOf(text) });
  }
  return [...words.values()];
}

function weightOf(text: string): number {
  if (/^\d/.test(text)) return 0.3;
  return commonWords.has(text) ? 0.5 : 1;
}

/** 0 … 1: how far two words are the same: letter by letter, one the beginning of the other, or one letter wrong. */
export function likeness(a: string, b: string): number {
  if (a === b) return 1;
  if (/^\d/.test(a) || /^\d/.test(b)) return 0;
  const [short, long] = a.length < b.length ? [a, b] : [b, a];
  if (short.length >= 3 && long.startsWith(short) && !/\d/.test(long.slice(short.length))) return 0.8;
  return short.length >= 5 && long.length - short.length <= 1 && oneApart(short, long) ? 0.8 : 0;
}

/** Whether one letter is changed, missing or added. Numbers in words count: rec709 is not rec708. */
function oneApart(short: string, long: string): boolean {
  if (short.replace(/\D/g, '') !== long.replace(/\D/g, '')) return false;
  let i = 0;
  while (i < short.length && short[i] === long[i]) i++;
  return short.length === long.length ? short.slice(i + 1) === long.slice(i + 1) : short.slice(i) === long.slice(i + 1);
}
