import { codecModuleBase64 } from '../../kernel/codecModule.generated.ts';
import { compileModule } from '../../kernel/load.ts';
import { Heap } from '../../kernel/heap.ts';

/** The codec module's functions; see codecs/ for what they do. Those that return a number return 0 when the bytes are sound. */
export interface CodecKernels {
  readonly memory: { readonly buffer: ArrayBufferLike; grow(pages: number): number };
  restoreBytes(src: number, dst: number, n: number): void;
  splitBytes(src: number, dst: number, scratch: number, n: number): void;
  /** Returns the bytes written. */
  packRuns(src: number, n: number, dst: number): number;
  markValues(at: number, n: number, seen: number, bitmap: number): void;
  forwardWavelet(at: number, nx: number, ox: number, ny: number, oy: number, largest: number): void;
  countValues(at: number, n: number, counts: number): void;
  buildCodes(lengths: number, symbols: number, codes: number): void;
  /** Returns the bits written. */
  packSymbols(at: number, n: number, codes: number, repeat: number, dst: number): number;
  unpackRuns(src: number, length: number, dst: number, size: number): number;
  unpackHuffman(src: number, length: number, dst: number, n: number, scratch: number): number;
  inverseWavelet(at: number, nx: number, ox: number, ny: number, oy: number, largest: number): void;
  applyTable(at: number, n: number, table: number): void;
  unpackPxr24Line(src: number, dst: number, n: number, kind: number): void;
  /** Returns the bytes written, 14 a block at most. */
  packBlocks44(src: number, nx: number, ny: number, dst: number, flat: number, exact: number): number;
  /** Returns the AC values written. */
  packDctBlocks(
    src: number,
    planeBytes: number,
    components: number,
    nx: number,
    ny: number,
    table: number,
    cosines: number,
    tolerances: number,
    dc: number,
    ac: number,
  ): number;
  /** Returns the bytes taken, -1 when they run out. */
  unpackBlocks44(src: number, length: number, dst: number, nx: number, ny: number, block: number): number;
  /** Returns the AC values taken, -1 when they run out. */
  unpackDctBlocks(
    ac: number,
    acCount: number,
    dc: number,
    first: number,
    second: number,
    third: number,
    components: number,
    nx: number,
    ny: number,
    table: number,
    scratch: number,
  ): number;
}

let shared: Heap<CodecKernels> | undefined;

/** The codec module's memory of this thread, empty. What an earlier chunk left there is given up. */
export function codecHeap(): Heap<CodecKernels> {
  shared ??= new Heap(compileModule(codecModuleBase64) as unknown as CodecKernels);
  shared.clear();
  return shared;
}
