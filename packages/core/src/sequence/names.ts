/** Files of one numbered sequence: the same name but for the frame number. */
export interface FrameSequence {
  /** With hash marks for the number: `landing.####.exr`. A still keeps its own name. */
  readonly pattern: string;
  readonly padding: number;
  /** Ascending; empty for a still. */
  readonly frames: readonly number[];
  /** Numbers between the first and the last that are absent, given the sequence's step. */
  readonly missing: readonly number[];
  readonly step: number;
}

const numbered = /^(.*?)(\d+)(\.[^.\d][^.]*)$/;

/** Groups file names of one folder into sequences, by the last number before the extension. */
export function findSequences(names: readonly string[]): FrameSequence[] {
  const groups = new Map<string, { prefix: string; suffix: string; frames: Map<number, number> }>();
  const stills: FrameSequence[] = [];
  for (const name of names) {
    const match = numbered.exec(name);
    if (!match) {
      stills.push({ pattern: name, padding: 0, frames: [], missing: [], step: 1 });
      continue;
    }
    const [, prefix, digits, suffix] = match as unknown as [string, string, string, string];
    const key = `${prefix}\0${suffix}`;
    const group = groups.get(key) ?? { prefix, suffix, frames: new Map<number, number>() };
    group.frames.set(Number(digits), digits.length);
    groups.set(key, group);
  }
  const sequences = [...groups.values()].map(({ prefix, suffix, frames }) => {
    const numbers = [...frames.keys()].sort((a, b) => a - b);
    const padding = Math.min(...frames.values());
    const step = stepOf(numbers);
    const present = new Set(numbers);
    const missing: number[] = [];
    for (let n = numbers[0]!; n < numbers.at(-1)!; n += step) if (!present.has(n)) missing.push(n);
    return { pattern: `${prefix}${'#'.repeat(padding)}${suffix}`, padding, frames: numbers, missing, step };
  });
  return [...sequences, ...stills];
}

/** The smallest distance between neighbours, when every distance is a multiple of it. */
function stepOf(numbers: readonly number[]): number {
  const gaps = numbers.slice(1).map((n, i) => n - numbers[i]!);
  const smallest = gaps.length ? Math.min(...gaps) : 1;
  return gaps.every((g) => g % smallest === 0) ? smallest : 1;
}

/** The file name of a frame: hash marks become the number, padded to their count. A pattern without marks is itself. */
export function nameOfFrame(pattern: string, frame: number): string {
  return pattern.replace(/#+(?=[^#]*$)/, (marks) => String(frame).padStart(marks.length, '0'));
}
