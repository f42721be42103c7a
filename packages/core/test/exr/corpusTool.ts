import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, renameSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import type { Plane } from '../../src/exr/plane.ts';

// The measure is the OpenEXR library itself, Debian's build of it: corpus.cpp writes with it and reads with it.

/** The program, compiled once a text and library: unit tests and interface tests share it. */
function compiled(): string {
  const source = join(process.cwd(), 'packages/core/test/exr/corpus.cpp');
  const pkg = (...args: string[]) => execFileSync('pkg-config', [...args, 'OpenEXR'], { encoding: 'utf8' }).trim();
  const hash = createHash('sha256').update(readFileSync(source)).update(pkg('--modversion')).digest('hex').slice(0, 16);
  const tool = join(process.cwd(), 'var/corpus', hash);
  if (existsSync(tool)) return tool;
  mkdirSync(dirname(tool), { recursive: true });
  // Under another name until it is whole: two tests may compile at once.
  const partial = `${tool}.${process.pid}`;
  const flags = pkg('--cflags', '--libs').split(/\s+/);
  execFileSync('g++', ['-O1', '-o', partial, source, ...flags], { stdio: 'pipe' });
  renameSync(partial, tool);
  return tool;
}

/** Builds the corpus program and gives its verbs; `close` removes what it made. */
export function buildCorpusTool() {
  const folder = mkdtempSync(join(tmpdir(), 'june-corpus-'));
  const tool = compiled();
  return {
    folder,
    /** Every codec, type, layout and window: the files' paths. */
    make: () => JSON.parse(execFileSync(tool, ['make', folder], { encoding: 'utf8' })) as string[],
    /** Has the library read files; throws with its complaint. */
    dump: (files: readonly string[]) => void execFileSync(tool, ['dump', ...files], { stdio: 'pipe' }),
    /** The library's own checker; throws with what it says. */
    check: (files: readonly string[]) => void execFileSync(tool, ['check', ...files], { stdio: 'pipe' }),
    close: () => rmSync(folder, { recursive: true, force: true }),
  };
}

/** What the library read of a file, plane by plane. */
export class Dump {
  private readonly bytes: Uint8Array;
  private at = 0;
  constructor(file: string) {
    this.bytes = new Uint8Array(readFileSync(`${file}.raw`));
  }

  /** The next plane, of the same type and size as ours. */
  next<P extends Plane>(like: P): P {
    const end = this.at + like.byteLength;
    if (end > this.bytes.length) throw new Error('the library read fewer samples');
    const copy = this.bytes.slice(this.at, end);
    this.at = end;
    return new (like.constructor as new (b: ArrayBuffer) => P)(copy.buffer);
  }

  get rest(): number {
    return this.bytes.length - this.at;
  }
}

export function sameBits(a: Plane, b: Plane): boolean {
  const [x, y] = [a, b].map((p) => Buffer.from(p.buffer, p.byteOffset, p.byteLength));
  return Buffer.compare(x!, y!) === 0;
}
