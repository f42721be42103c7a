/** Files of one numbered sequence: the same name but for the frame number. */
export interface FrameSequence {
  /** With hash marks for the number: `landing.####.exr`, one mark for each digit of the shortest. A still keeps its own name. */
  readonly pattern: string;
  readonly padding: number;
  /** Ascending; empty for a still. */
  readonly frames: readonly number[];
  /** Numbers between the first and the last that are absent, given the sequence's step. */
  readonly missing: readonly number[];
  readonly step: number;
  /** The number in a still's name, where it has one that could count frames. */
  readonly number?: number;
}

/** A name cut around its frame number. */
interface NumberedName {
  readonly name: string;
  readonly before: string;
  /** With its minus sign. */
  readonly digits: string;
  readonly after: string;
}

/** A number right before the extension, or, less likely, one between separators with words behind it. */
const atTheEnd = /^(.*?)((?<=[._]|^)-\d+|\d+)(\.[^.\d][^.]*)$/;
const inTheMiddle = /^(.*[._-])(\d{3,})([._-][^\d].*\.[^.\d][^.]*)$/;
/** `v003` counts versions, not frames. */
const versionMark = /(^|[^a-z])v$/i;

/** Numbers further apart than this many steps are not one sequence. */
const widestGap = 10_000;

/**
 * Groups file names of one folder into sequences. The frame number stands before the extension (`name.0001.exr`, `name_1.exr`,
 * `name0001.exr`, `name.-0005.exr`) or between other words (`name.0001.left.exr`); `v003` is a version. Names padded to
 * different widths are different sequences; numbers that outgrew their padding belong to the narrower one. A number that stands alone
 * makes a still. Naming habits are common practice, no source.
 */
export function findSequences(names: readonly string[]): FrameSequence[] {
  const groups = new Map<string, NumberedName[]>();
  const stills: FrameSequence[] = [];
  for (const name of names) {
    const cut = cutName(name);
    if (!cut) {
      stills.push(still(name));
      continue;
    }
    const key = `${cut.before}\0${cut.after}`;
    const group = groups.get(key);
    if (group) group.push(cut);
    else groups.set(key, [cut]);
  }
  const sequences: FrameSequence[] = [];
  for (const group of groups.values()) {
    for (const [padding, members] of byPadding(group)) {
      for (const run of withoutGulfs(members)) {
        if (run.length === 1) stills.push(still(run[0]!.name, loneNumber(run[0]!)));
        else sequences.push(sequenceOf(run, padding));
      }
    }
  }
  return [...sequences, ...stills];
}

const still = (name: string, number?: number): FrameSequence => ({
  pattern: name,
  padding: 0,
  frames: [],
  missing: [],
  step: 1,
  ...(number === undefined ? {} : { number }),
});

/** The number of a name without siblings; one or two digits at a word's end (`kettle2`) count no frames. */
function loneNumber({ before, digits }: NumberedName): number | undefined {
  return width(digits) >= 3 || before === '' || /[._-]$/.test(before) ? Number(digits) : undefined;
}

function cutName(name: string): NumberedName | undefined {
  for (const form of [atTheEnd, inTheMiddle]) {
    const match = form.exec(name);
    if (!match) continue;
    const [, before, digits, after] = match as unknown as [string, string, string, string];
    if (versionMark.test(before) || digits.length > 12) continue;
    return { name, before, digits, after };
  }
  return undefined;
}

/** How many digits a name's number has, without its sign. */
const width = (digits: string) => digits.replace('-', '').length;

/** Widths of padding, each with its names: numbers with leading zeros set them, the others go to the widest that they fill. */
function byPadding(group: readonly NumberedName[]): Map<number, NumberedName[]> {
  const padded = new Set(group.filter((n) => /^-?0\d/.test(n.digits)).map((n) => width(n.digits)));
  const widths = [...padded].sort((a, b) => b - a);
  const found = new Map<number, NumberedName[]>();
  const plain: NumberedName[] = [];
  const add = (padding: number, name: NumberedName) => {
    const those = found.get(padding);
    if (those) those.push(name);
    else found.set(padding, [name]);
  };
  for (const name of group) {
    const own = width(name.digits);
    const filled = widths.find((p) => p <= own);
    if (filled !== undefined) add(filled, name);
    else plain.push(name);
  }
  const narrowest = plain.reduce((n, name) => Math.min(n, width(name.digits)), Infinity);
  for (const name of plain) add(narrowest, name);
  return found;
}

/** Numbers that lie absurdly far apart are dates or the like: they make runs of their own. */
function withoutGulfs(members: readonly NumberedName[]): NumberedName[][] {
  const sorted = [...members].sort((a, b) => Number(a.digits) - Number(b.digits));
  const gaps = sorted.slice(1).map((m, i) => Number(m.digits) - Number(sorted[i]!.digits));
  const smallest = gaps.reduce((n, gap) => Math.max(1, Math.min(n, gap)), Infinity);
  const runs: NumberedName[][] = [[]];
  sorted.forEach((m, i) => {
    if (i > 0 && gaps[i - 1]! > widestGap * smallest) runs.push([]);
    runs.at(-1)!.push(m);
  });
  return runs;
}

function sequenceOf(run: readonly NumberedName[], padding: number): FrameSequence {
  const frames = run.map((n) => Number(n.digits));
  const step = stepOf(frames);
  const present = new Set(frames);
  const missing: number[] = [];
  for (let n = frames[0]!; n < frames.at(-1)!; n += step) if (!present.has(n)) missing.push(n);
  const { before, after } = run[0]!;
  return { pattern: `${before}${'#'.repeat(padding)}${after}`, padding, frames, missing, step };
}

/** The smallest distance between neighbours, when every distance is a multiple of it. */
export function stepOf(numbers: readonly number[]): number {
  const gaps = numbers.slice(1).map((n, i) => n - numbers[i]!);
  const smallest = gaps.length ? gaps.reduce((n, gap) => Math.min(n, gap), Infinity) : 1;
  return gaps.every((g) => g % smallest === 0) ? smallest : 1;
}

/** The file name of a frame: hash marks become the number, padded to their count. A pattern without marks is itself. */
export function nameOfFrame(pattern: string, frame: number): string {
  const digits = (marks: string) => `${frame < 0 ? '-' : ''}${String(Math.abs(frame)).padStart(marks.length, '0')}`;
  return pattern.replace(/#+(?=[^#]*$)/, digits);
}
