import { sampleBytes, type Plane } from '@june-haze/core';
import { planesHeaderSchema, type PlanesHeader } from './pixels.ts';

/**
 * The answer to a request for planes, in the order of its wants: the length of a header (32 bits, little-endian), the header as JSON, and the
 * samples of its channels, one plane after the other, little-endian, rows from the top.
 */
export function headerBytes(header: PlanesHeader): Uint8Array<ArrayBuffer> {
  const text = new TextEncoder().encode(JSON.stringify(header));
  const bytes = new Uint8Array(4 + text.length);
  new DataView(bytes.buffer).setUint32(0, text.length, true);
  bytes.set(text, 4);
  return bytes;
}

/** A want's answer: its header, and its planes unless the header says why there are none. */
export interface PlanesAnswer {
  readonly header: PlanesHeader;
  readonly planes: readonly Plane[];
}

/**
 * Reads an answer piece by piece as it comes, each plane into memory of its own that `allocate` gives (which may be shared between threads).
 */
export class PlanesReader {
  private readonly answers: PlanesAnswer[] = [];
  private readonly targets: Iterator<Uint8Array, void>;
  private target: Uint8Array;
  private at = 0;
  private between = true;

  constructor(allocate: (bytes: number) => ArrayBufferLike) {
    this.targets = this.parts(allocate);
    this.target = this.targets.next().value!;
  }

  add(piece: Uint8Array): void {
    for (let from = 0; from < piece.length;) {
      const count = Math.min(this.target.length - this.at, piece.length - from);
      this.target.set(piece.subarray(from, from + count), this.at);
      from += count;
      this.at += count;
      this.between = false;
      while (this.at === this.target.length) {
        this.at = 0;
        this.target = this.targets.next().value!;
      }
    }
  }

  /** What was answered. Throws where the answer ended early. */
  end(): readonly PlanesAnswer[] {
    if (!this.between) throw new Error('The answer ended early; it is asked for again with the next picture.');
    return this.answers;
  }

  /** What is to be filled next. */
  private *parts(allocate: (bytes: number) => ArrayBufferLike): Generator<Uint8Array, void> {
    for (;;) {
      this.between = true;
      const length = new Uint8Array(4);
      yield length;
      const text = new Uint8Array(new DataView(length.buffer).getUint32(0, true));
      yield text;
      const header = planesHeaderSchema.parse(JSON.parse(new TextDecoder().decode(text)));
      const planes: Plane[] = [];
      const [n, types] = 'error' in header ? [0, []] : [header.width * header.height, header.types];
      for (const type of types) {
        const memory = allocate(n * sampleBytes[type]);
        yield new Uint8Array(memory, 0, n * sampleBytes[type]);
        if (type === 'half') planes.push(new Uint16Array(memory, 0, n));
        else planes.push(type === 'float' ? new Float32Array(memory, 0, n) : new Uint32Array(memory, 0, n));
      }
      this.answers.push({ header, planes });
    }
  }
}
