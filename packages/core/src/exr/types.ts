import type { Primaries } from '../colour/primaries.ts';

/** Sample types by their number in the file layout (OpenEXR File Layout, "chlist"). */
export type SampleType = 'uint' | 'half' | 'float';
export const sampleTypes: readonly SampleType[] = ['uint', 'half', 'float'];
export const sampleBytes: Readonly<Record<SampleType, number>> = { uint: 4, half: 2, float: 4 };

/** Compression names by their number in the file layout. */
export const compressions = ['none', 'rle', 'zips', 'zip', 'piz', 'pxr24', 'b44', 'b44a', 'dwaa', 'dwab'] as const;
export type Compression = (typeof compressions)[number];

/** Whether a codec gives back every bit. */
export const isLossless = (codec: Compression): boolean => ['none', 'rle', 'zips', 'zip', 'piz'].includes(codec);

/** Lines per chunk by compression (OpenEXR File Layout, "Scan line blocks"). */
export const linesPerChunk: Readonly<Record<Compression, number>> = {
  none: 1,
  rle: 1,
  zips: 1,
  zip: 16,
  piz: 32,
  pxr24: 16,
  b44: 32,
  b44a: 32,
  dwaa: 32,
  dwab: 256,
};

/** Inclusive pixel bounds, as EXR's box2i. */
export interface Box {
  readonly xMin: number;
  readonly yMin: number;
  readonly xMax: number;
  readonly yMax: number;
}

export const boxWidth = (b: Box): number => b.xMax - b.xMin + 1;
export const boxHeight = (b: Box): number => b.yMax - b.yMin + 1;

export interface ExrChannel {
  readonly name: string;
  readonly type: SampleType;
  readonly xSampling: number;
  readonly ySampling: number;
  readonly perceptuallyLinear: boolean;
}

/** A header attribute: its type's name in the file and its decoded value; unknown types keep their bytes. */
export interface ExrAttribute {
  readonly type: string;
  readonly value: AttributeValue;
}
export type AttributeValue =
  | number
  | string
  | readonly number[]
  | readonly string[]
  | Box
  | Primaries
  | Uint8Array
  | readonly ExrChannel[]
  | { readonly [key: string]: number };

export interface ExrPart {
  readonly index: number;
  readonly name: string;
  /** 'scanlineimage', 'tiledimage', 'deepscanline' or 'deeptile'. */
  readonly type: string;
  readonly compression: Compression;
  readonly dataWindow: Box;
  readonly displayWindow: Box;
  readonly pixelAspect: number;
  readonly channels: readonly ExrChannel[];
  readonly attributes: ReadonlyMap<string, ExrAttribute>;
  /** Absolute file offset of every chunk by position; NaN where the table points nowhere. */
  readonly offsets: Float64Array;
}

export interface ExrFile {
  readonly source: ByteSource;
  readonly multiPart: boolean;
  readonly parts: readonly ExrPart[];
}

/** Bytes to read from: a file, a buffer, a network range. The name is what errors speak of. */
export interface ByteSource {
  readonly name: string;
  readonly size: number;
  /** Exactly `length` bytes from `offset`, good until the next read; rejects when they are not there. */
  read(offset: number, length: number): Promise<Uint8Array>;
  /** Bytes from `offset` on, into one piece of memory after the other; rejects when they are not there. Not every source can. */
  readInto?(offset: number, pieces: readonly Uint8Array[]): Promise<void>;
}

/** Bytes to write to, at any position. */
export interface ByteSink {
  write(position: number, bytes: Uint8Array): Promise<void>;
}

/** zlib streams (RFC 1950), given by the surroundings: native on the server, a package in the browser. */
export interface ByteCodec {
  /** Unpacks to exactly `size` bytes; throws when the stream is damaged or has another size. */
  inflate(packed: Uint8Array, size: number): Uint8Array;
  deflate(raw: Uint8Array): Uint8Array;
}

/** Something wrong with a file: the message names the file, what is wrong and where. */
export class ExrError extends Error {
  readonly file: string;
  constructor(file: string, what: string) {
    super(`${file}: ${what}`);
    this.name = 'ExrError';
    this.file = file;
  }
}
