import type { Box } from '../exr/types.ts';
import type { Pass } from '../sequence/passes.ts';
import type { Evidence } from './evidence.ts';

/** Kinds of files that are read. */
export const fileKinds = ['exr', 'png', 'jpeg', 'tiff', 'dpx', 'hdr', 'movie'] as const;
export type FileKind = (typeof fileKinds)[number];

/** Files of a kind, in words. */
export const kindNames: Readonly<Record<FileKind, string>> = {
  exr: 'EXR files',
  png: 'PNG pictures',
  jpeg: 'JPEG pictures',
  tiff: 'TIFF pictures',
  dpx: 'DPX files',
  hdr: 'Radiance pictures',
  movie: 'movies',
};

/** How colour relates to alpha. */
export const alphaKinds = ['none', 'premultiplied', 'straight'] as const;
/** The EXR attribute (a string, one of the kinds) that says how A is meant. */
export const alphaAttribute = 'alpha';
export type AlphaKind = (typeof alphaKinds)[number];

/** Types of stored samples; a file may mix them. */
export type StoredType = 'half' | 'float' | 'uint' | 'mixed' | 'uint8' | 'uint10' | 'uint12' | 'uint16';

/** What one file says of itself: its header and tags, no pixels. Plain data; travels between threads. */
export interface FileFacts {
  readonly kind: FileKind;
  readonly bytes: number;
  /** Milliseconds since 1970. */
  readonly modifiedAt: number;
  /** The display window's size. */
  readonly width: number;
  readonly height: number;
  readonly displayWindow: Box;
  /** Of the first part. */
  readonly dataWindow: Box;
  readonly pixelAspect: number;
  /** Frames per second, where the file says so, and what in it said so. */
  readonly rate: number | null;
  readonly rateFrom: string | null;
  readonly timecode: string | null;
  readonly codec: string;
  readonly sampleType: StoredType;
  readonly alpha: AlphaKind;
  readonly passes: readonly Pass[];
  readonly parts: number;
  /** Attributes as a person reads them. */
  readonly attributes: Readonly<Record<string, string>>;
  /** How each part is stored, in words. */
  readonly layout: readonly string[];
  /** What its tags say of its colours. */
  readonly evidence: readonly Evidence[];
  readonly view: 'left' | 'right' | null;
  /** Chunks that are not there: the file is cut short. */
  readonly missingChunks: number;
  /** 0 … 1: how much of it can be read. */
  readonly readable: number;
  /** Of a movie: its frames, in order from 0. */
  readonly frames: number | null;
  /** Of a movie: what a person should know about it. */
  readonly notes: readonly string[];
  /** Full or legal range of codes, where that is a question. */
  readonly range: 'full' | 'legal' | null;
}

/** What the kind of file suggests, the weakest evidence. Common practice, no source. */
export function kindEvidence(kind: FileKind, sampleType: StoredType, tagged: boolean): Evidence {
  const from = 'kind of file' as const;
  switch (kind) {
    case 'exr':
      return tagged
        ? { from, says: 'an EXR is linear', about: 'linear' }
        : {
            from,
            says: 'an EXR is linear; without chromaticities it means Rec.709 primaries',
            space: 'Linear Rec.709',
          };
    case 'hdr':
      return { from, says: 'a Radiance picture is linear', space: 'Linear Rec.709' };
    case 'dpx':
      return { from, says: 'a DPX mostly holds a log curve, and does not say which', weight: 0.2 };
    case 'movie':
      return { from, says: 'a movie is encoded for video', space: 'Rec.709' };
    case 'tiff':
      if (sampleType === 'float')
        return { from, says: 'a TIFF of floats is mostly linear', space: 'Linear Rec.709', weight: 0.3 };
      return { from, says: 'a TIFF of integers is mostly encoded', space: 'sRGB' };
    default:
      return { from, says: `a ${kind.toUpperCase()} is encoded for a screen`, space: 'sRGB' };
  }
}
