import type { Kernels } from './kernels.ts';

const pageBytes = 65536;
const firstFree = 65536; // the module's own statics live below

/**
 * A bump allocator over a kernel module's memory. Allocations are 16-byte aligned and padded by 16 bytes, as the
 * kernels' contract asks. `mark()` and `release(mark)` free everything allocated in between.
 */
export class Heap<K extends Pick<Kernels, 'memory'> = Kernels> {
  readonly kernels: K;
  private next = firstFree;

  constructor(kernels: K) {
    this.kernels = kernels;
  }

  /** Reserves `bytes` and returns their offset. Contents are not cleared. Grows the memory when needed. */
  allocate(bytes: number): number {
    const at = this.next;
    // 32 spare bytes, so that kernels may work in whole vectors past the end.
    this.next = Math.ceil((at + bytes + 32) / 16) * 16;
    const missing = this.next - this.kernels.memory.buffer.byteLength;
    if (missing > 0) this.kernels.memory.grow(Math.ceil(missing / pageBytes));
    return at;
  }

  /** A plane of n floats. */
  allocatePlane(n: number): number {
    return this.allocate(n * 4);
  }

  /** Gives up everything. */
  clear(): void {
    this.next = firstFree;
  }

  /** Copies bytes in and returns where they are. */
  place(bytes: Uint8Array): number {
    const at = this.allocate(bytes.length);
    this.bytes(at, bytes.length).set(bytes);
    return at;
  }

  mark(): number {
    return this.next;
  }

  release(mark: number): void {
    this.next = mark;
  }

  /** Views are only good until the next allocation: growing the memory detaches them. */
  floats(pointer: number, n: number): Float32Array {
    return new Float32Array(this.kernels.memory.buffer, pointer, n);
  }

  halves(pointer: number, n: number): Uint16Array {
    return new Uint16Array(this.kernels.memory.buffer, pointer, n);
  }

  bytes(pointer: number, n: number): Uint8Array {
    return new Uint8Array(this.kernels.memory.buffer, pointer, n);
  }

  /** Copies a 3x3 matrix (row by row) in as float32 and returns its pointer. */
  placeFloats(values: ArrayLike<number>): number {
    const at = this.allocate(values.length * 4);
    this.floats(at, values.length).set(values);
    return at;
  }
}
