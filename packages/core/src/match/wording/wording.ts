import type { ShotColour } from '../../config/shotColour.ts';
import { readNote, type NoteField, type ReadNote } from './note.ts';
import { likeness, wordsOf, type Word } from './words.ts';

/** What a renderer's words mean in a config; null where they say nothing. */
export interface WordingRow {
  readonly space: string | null;
  readonly display: string | null;
  readonly view: string | null;
  readonly look: string | null;
  readonly exposure: number | null;
  readonly gamma: number | null;
  /** 0 … 1; under 0.5 nothing fits. */
  readonly score: number;
  readonly why: string;
}

/** What a row means, in a line. */
export const wordingTitle = ({ space, display, view, look, exposure, gamma }: WordingRow): string =>
  [
    space,
    display,
    view,
    look && `look ${look}`,
    exposure !== null && `exposure ${exposure}`,
    gamma !== null && `gamma ${gamma}`,
  ]
    .filter(Boolean)
    .join(' · ') || 'nothing';

/** From here on a row fits. */
export const wordingFits = 0.5;

/** Something with names that words may mean: a space, a look, or a view on its display. */
interface Item {
  readonly kind: 'space' | 'look' | 'view';
  readonly space?: string;
  readonly look?: string;
  readonly display?: string;
  readonly view?: string;
  /** Words of its name, by name: the name itself, then aliases. */
  readonly names: readonly (readonly Word[])[];
  /** Words of its display's name: a row tells a display only where one of them is said. */
  readonly displayWords: readonly Word[];
  /** Words of what stands behind it: a view's transform, the space that it ends in. They explain words, and need not be said. */
  readonly behind: readonly Word[];
  readonly inactive: boolean;
  /** How likely it is meant beside others that fit as well. */
  readonly likely: number;
  /** Built in, and not of the config. */
  readonly beside?: boolean;
}

/** Rows for what a person wrote, best first. Everything of the config may be meant, inactive items too. Never empty. */
export function matchWording(text: string, colour: ShotColour): WordingRow[] {
  const note = readNote(text);
  const trims = { exposure: note.exposure, gamma: note.gamma };
  const nothing: WordingRow = {
    space: null,
    display: null,
    view: null,
    look: null,
    ...trims,
    score: 0,
    why: 'Nothing in these words is known here.',
  };
  if (!note.words.length) return [trimsOnly(note, nothing)];
  const items = itemsOf(colour);
  const best = (kind: Item['kind'], most: number) =>
    items
      .filter((i) => i.kind === kind)
      .map((item) => ({ item, own: scoreOf(note, [item]) }))
      .filter(({ own }) => own.score > 0)
      .sort((a, b) => b.own.score - a.own.score)
      .slice(0, most)
      .map(({ item }) => item);
  const [views, spaces, looks] = [best('view', 12), best('space', 8), best('look', 4)];
  const rows: WordingRow[] = [];
  for (const view of [undefined, ...views])
    for (const space of [undefined, ...spaces])
      for (const look of [undefined, ...looks]) {
        const chosen = [view, space, look].filter((i) => i !== undefined);
        if (!chosen.length) continue;
        if (chosen.length > 1 && chosen.some((item) => addsLittle(note, chosen, item))) continue;
        const { score, why, displaySaid } = scoreOf(note, chosen);
        rows.push({
          space: space?.space ?? null,
          display: displaySaid ? (view?.display ?? null) : null,
          view: view?.view ?? null,
          look: look?.look ?? null,
          ...trims,
          score,
          why,
        });
      }
  rows.sort((a, b) => b.score - a.score);
  const distinct = rows.filter((r, i) => rows.findIndex((o) => sameMeaning(o, r)) === i);
  return distinct.length ? distinct.slice(0, rowsTold) : [nothing];
}

const rowsTold = 8;

const sameMeaning = (a: WordingRow, b: WordingRow) =>
  a.space === b.space && a.display === b.display && a.view === b.view && a.look === b.look;

const trimsOnly = ({ exposure, gamma }: ReadNote, nothing: WordingRow): WordingRow =>
  exposure === null && gamma === null ? nothing : { ...nothing, score: 1, why: 'Only trims are said.' };

function itemsOf(colour: ShotColour): Item[] {
  const { config } = colour;
  const spaces = colour.spaces().map(({ name, aliases, linear, origin }): Item => ({
    kind: 'space',
    space: name,
    names: namesOf(name, aliases),
    displayWords: [],
    behind: [],
    inactive: false,
    likely: linear ? linearShare : encodedShare,
    beside: config !== undefined && origin === 'builtin',
  }));
  const active = new Set(colour.displays().flatMap((d) => d.views.map((v) => `${d.name}\n${v}`)));
  const document = config?.document;
  const views = document
    ? document.displays.flatMap((d) =>
        d.views.map((v) => ({
          display: d.name,
          view: v.name,
          behind: [v.viewTransform, v.space, v.description].filter(Boolean).join(' '),
        })),
      )
    : colour.displays().flatMap((d) => d.views.map((view) => ({ display: d.name, view, behind: '' })));
  const viewItems = views.map(({ display, view, behind }): Item => ({
    kind: 'view',
    display,
    view,
    names: [wordsOf(`${display} ${view}`)],
    displayWords: wordsOf(display),
    behind: wordsOf(behind.replaceAll('<USE_DISPLAY_NAME>', '')),
    inactive: !active.has(`${display}\n${view}`),
    likely: active.has(`${display}\n${view}`) ? 1 : inactiveShare,
  }));
  const looks = colour.looks().map(({ name }): Item => ({
    kind: 'look',
    look: name,
    names: [wordsOf(name)],
    displayWords: [],
    behind: [],
    inactive: false,
    likely: 1,
  }));
  const known = new Set(spaces.map((s) => s.space));
  const inactive = (document?.spaces ?? [])
    .filter((s) => !known.has(s.name))
    .map(({ name, aliases }): Item => ({
      kind: 'space',
      space: name,
      names: namesOf(name, aliases),
      displayWords: [],
      behind: [],
      inactive: true,
      likely: encodedShare * inactiveShare,
    }));
  return [...spaces, ...inactive, ...viewItems, ...looks];
}

/** A name, without the family that some configs put before it, and aliases. */
function namesOf(name: string, aliases: readonly string[]): Word[][] {
  const [, own] = /^[^-]+ - (.+)$/.exec(name) ?? [];
  return [name, ...(own ? [own] : []), ...aliases].map(wordsOf);
}

/** Which kinds of items words under a heading may mean: programs part display and view differently. */
const meantBy: Readonly<Record<NoteField, readonly Item['kind'][]>> = {
  space: ['space'],
  display: ['view'],
  view: ['view'],
  look: ['look', 'view'],
};

/** What stands behind an item explains a word a little less than its name does. */
const behindShare = 0.75;
/** A row that says more than the words do is a little less likely, the more so the less of its names is said. */
const [base, named] = [0.6, 0.4];
const inactiveShare = 0.97;
/** Renderers name views more often than spaces, and linear spaces more often than encoded ones; a config's own come before built-in ones. */
const [linearShare, encodedShare, besideShare] = [0.97, 0.85, 0.9];
/** Words that contradict each other: of two versions, or of two ranges, only one is meant. */
const opposites: readonly (readonly [RegExp, RegExp])[] = [
  [/^(sdr)$/, /^(hdr|pq|hlg|st2084)$/],
  [/^(linear)$/, /^(log|texture|gamma[\d.]*|encoded)$/],
];
const contradictionShare = 0.75;

/** What an item must explain beyond what the others do, in weights of words. */
const leastAdded = 0.25;

/** Whether the other items explain the words as well without one of them. */
function addsLittle(note: ReadNote, items: readonly Item[], item: Item): boolean {
  const others = items.filter((i) => i !== item);
  const most = (word: ReadNote['words'][number], of: readonly Item[]) =>
    Math.max(...of.map((i) => explainedBy(word, i, bestName(note.words, i))));
  return note.words.reduce((n, w) => n + w.weight * (most(w, items) - most(w, others)), 0) < leastAdded;
}

/** Words that nothing explains weigh more than their share. */
const unknownPower = 1.2;

/** How well items together explain a note: the share of its words that they explain, and of their names that is said. */
function scoreOf({ words }: ReadNote, items: readonly Item[]): { score: number; why: string; displaySaid: boolean } {
  const best = items.map((item) => bestName(words, item));
  let [explained, all] = [0, 0];
  const unknown: string[] = [];
  for (const word of words) {
    const most = Math.max(...items.map((item, i) => explainedBy(word, item, best[i]!)));
    explained += word.weight * most;
    all += word.weight;
    if (most < 0.5) unknown.push(word.text);
  }
  const said = items.map((item, i) => shareSaid(words, item, best[i]!));
  const share = said.reduce((n, s) => n + s, 0) / items.length;
  const likely = items.reduce((n, i) => n * likelihood(words, i), 1);
  const contrary = best.some((name) => contradicts(words, name)) ? contradictionShare : 1;
  const score = (explained / all) ** unknownPower * (base + named * share) * likely * contrary;
  const found = words.filter((w) => !unknown.includes(w.text)).map((w) => w.text);
  const why = [
    found.length ? `${found.join(', ')} found in ${items.map(nameOf).join(' and ')}` : 'nothing found',
    ...(unknown.length ? [`${unknown.join(', ')} not found`] : []),
    ...(items.some((i) => i.inactive) ? ['it is not active in this config'] : []),
    ...(contrary < 1 ? ['the words contradict its name'] : []),
  ].join('; ');
  const displaySaid = items.some(
    (i) =>
      i.kind === 'view' &&
      words.some((w) => w.under !== 'space' && i.displayWords.some((d) => likeness(w.text, d.text) >= 0.8)),
  );
  return { score, why, displaySaid };
}

/** How likely an item is meant, whatever its words: under its own heading a space is. */
function likelihood(words: ReadNote['words'], { kind, likely, beside }: Item): number {
  const told = kind === 'space' && words.some((w) => w.under === 'space');
  return (told ? 1 : likely) * (beside ? besideShare : 1);
}

const nameOf = ({ space, look, display, view }: Item): string => space ?? look ?? `${display} / ${view}`;

/** The name of an item, of its own and its aliases, of which most is said. */
function bestName(words: ReadNote['words'], item: Item): readonly Word[] {
  const [first, ...others] = item.names;
  return others.reduce((a, b) => (shareSaid(words, item, b) > shareSaid(words, item, a) ? b : a), first ?? []);
}

function explainedBy(word: ReadNote['words'][number], item: Item, name: readonly Word[]): number {
  if (word.under && !meantBy[word.under].includes(item.kind)) return 0;
  const own = name.reduce((n, w) => Math.max(n, likeness(word.text, w.text)), 0);
  const further = item.behind.reduce((n, w) => Math.max(n, likeness(word.text, w.text)), 0);
  return Math.max(own, behindShare * further);
}

/** The share of a name's words, by what they say, that a note has. */
function shareSaid(words: ReadNote['words'], item: Item, name: readonly Word[]): number {
  let [said, all] = [0, 0];
  for (const { text, weight } of name) {
    const fitting = words.filter((w) => !w.under || meantBy[w.under].includes(item.kind));
    said += weight * fitting.reduce((n, w) => Math.max(n, likeness(w.text, text)), 0);
    all += weight;
  }
  return all ? said / all : 0;
}

/** Whether a name says the opposite of a word: another version of the same thing, HDR for SDR. */
function contradicts(words: readonly Word[], name: readonly Word[]): boolean {
  const versions = (of: readonly Word[]) => of.filter((w) => /^\d\.\d$/.test(w.text)).map((w) => w.text);
  const [said, own] = [versions(words), versions(name)];
  if (said.length && own.length && !said.some((v) => own.includes(v))) return true;
  const has = (of: readonly Word[], form: RegExp) => of.some((w) => form.test(w.text));
  return opposites.some(
    ([a, b]) => (has(words, a) && !has(words, b) && has(name, b)) || (has(words, b) && !has(words, a) && has(name, a)),
  );
}
