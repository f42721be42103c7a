import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { ColourConfig } from '../../src/config/colourConfig.ts';
import { parseConfig } from '../../src/config/parseConfig.ts';
import { builtinStyleSteps } from '../../src/transform/builtin/styles.ts';
import type { ColourStep } from '../../src/colour/steps.ts';
import { run, type Rgb } from '../colour/run.ts';

/** One question to both libraries. */
export interface Question {
  name: string;
  from?: string;
  to?: string;
  display?: string;
  view?: string;
  looks?: string;
  named?: string;
  builtin?: string;
  inverse?: boolean;
  context?: Record<string, string>;
  /** The exact inverse of tables instead of the reference's fast one. */
  exact?: boolean;
  values: Rgb[];
}

export interface Written {
  text: string;
  files: Readonly<Record<string, string | Uint8Array>>;
  path: string;
}

/** Writes a config and its files to a new folder. */
export function write(text: string, files: Readonly<Record<string, string | Uint8Array>> = {}): Written {
  const folder = mkdtempSync(join(tmpdir(), 'june-config-'));
  const path = join(folder, 'config.ocio');
  writeFileSync(path, text);
  for (const [name, content] of Object.entries(files)) {
    mkdirSync(dirname(join(folder, name)), { recursive: true });
    writeFileSync(join(folder, name), content);
  }
  return { text, files, path };
}

/** A config of one space "t" with a transform from the reference, and whatever else is given. */
export function withTransform(transform: string, version = '2'): string {
  return `ocio_profile_version: ${version}
search_path: luts
strictparsing: false
roles:
  default: ref
  reference: ref
file_rules:
  - !<Rule> {name: Default, colorspace: default}
displays:
  screen:
    - !<View> {name: plain, colorspace: ref}
active_displays: []
active_views: []
colorspaces:
  - !<ColorSpace>
    name: ref
    isdata: false
  - !<ColorSpace>
    name: t
    isdata: false
    from_reference: ${transform}
`.replace(version.startsWith('1') ? /file_rules:\n.*\n/ : /(?!)/, '');
}

export function open({ text, files }: Written, context: Readonly<Record<string, string>> = {}): ColourConfig {
  const bytes = (path: string) => {
    const content = files[path];
    return typeof content === 'string' ? new TextEncoder().encode(content) : content;
  };
  return new ColourConfig(parseConfig(text, 'config.ocio'), { read: bytes }, new Map(Object.entries(context)));
}

export function ourSteps(config: ColourConfig | undefined, q: Question): ColourStep[] {
  const direction = q.inverse ? 'inverse' : 'forward';
  if (q.builtin) return builtinStyleSteps(q.builtin, direction);
  if (q.named) return config!.named(q.named, direction);
  if (q.display) return config!.view(q.from!, { display: q.display, view: q.view!, looks: q.looks }, direction);
  return q.inverse ? config!.conversion(q.to!, q.from!) : config!.conversion(q.from!, q.to!);
}

export type Answer = Rgb[] | { error: string };

/** What the reference library answers. */
export function askReference(written: Written | undefined, questions: readonly Question[]): Answer[] {
  const jobs = questions.map((q) => ({ ...q, config: written?.path }));
  return askReferenceJobs(jobs) as Answer[];
}

export function askReferenceJobs(jobs: readonly object[]): unknown[] {
  const script = join(process.cwd(), 'packages/core/test/config/reference.py');
  const out = execFileSync('/usr/bin/python3', [script], { input: JSON.stringify(jobs), maxBuffer: 1 << 29 });
  // Python writes infinities and NaN by name; an overflowing number and null stand for them here.
  const text = out
    .toString()
    .replace(/\bInfinity\b/g, '1e999')
    .replace(/\bNaN\b/g, 'null');
  return JSON.parse(text) as unknown[];
}

/** The worst value by which ours passes absolute + relative · |expected|, with where; both in error counts as agreement. */
export function worst(
  written: Written | undefined,
  q: Question,
  answer: Answer,
  absolute: number,
  relative: number,
): { excess: number; at?: Rgb; got?: Rgb; want?: Rgb; note?: string } {
  let got: Rgb[];
  try {
    got = run(ourSteps(written && open(written, q.context), q), q.values);
  } catch (e) {
    const note = (e as Error).message;
    return 'error' in answer ? { excess: -1, note } : { excess: Infinity, note };
  }
  if ('error' in answer) return { excess: Infinity, note: `the reference refuses: ${answer.error}` };
  let out: { excess: number; at?: Rgb; got?: Rgb; want?: Rgb } = { excess: -Infinity };
  got.forEach((g, i) => {
    g.forEach((x, c) => {
      const want = answer[i]![c] ?? NaN;
      let excess = Math.abs(x - want) - absolute - relative * Math.abs(want);
      if (!Number.isFinite(want) || Number.isNaN(x))
        excess = Object.is(x, want) || (want !== want && x !== x) ? -1 : Infinity;
      if (excess > out.excess) out = { excess, at: q.values[i]!, got: g, want: answer[i]! };
    });
  });
  return out;
}
