import { ColourFileError } from '../config/place.ts';
import type { Transform } from '../transform/transform.ts';
import { pickCorrection } from './cdl.ts';
import { readClf } from './clf.ts';
import { readCsp } from './csp.ts';
import { readCube } from './cube.ts';
import { readSpi1d, readSpi3d, readSpimtx } from './spi.ts';
import { read3dl } from './threeDl.ts';

/** What a file transform may choose inside a file. */
export interface LutChoice {
  /** Which correction of a .ccc or .cdl file. */
  readonly correction?: string | undefined;
  /** Whether a CDL clamps as the ASC formula has it. */
  readonly cdlClamp?: boolean;
}

type Reader = (bytes: Uint8Array, file: string, options: LutChoice) => Transform;
const corrections: Reader = (bytes, file, o) => pickCorrection(bytes, file, o.correction, o.cdlClamp ?? false);

/** Readers by extension. */
const readers: Readonly<Record<string, Reader>> = {
  cube: readCube,
  spi1d: readSpi1d,
  spi3d: readSpi3d,
  spimtx: readSpimtx,
  csp: readCsp,
  '3dl': read3dl,
  clf: readClf,
  ctf: readClf,
  cc: corrections,
  ccc: corrections,
  cdl: corrections,
};

export const lutExtensions: readonly string[] = Object.keys(readers);

/** Reads a LUT, matrix or CDL file of any kind, by its extension or, failing that, by how it begins. Throws a ColourFileError. */
export function readLut(bytes: Uint8Array, file: string, options: LutChoice = {}): Transform {
  const extension = file.slice(file.lastIndexOf('.') + 1).toLowerCase();
  const reader = readers[extension] ?? byBeginning(bytes);
  if (!reader)
    throw new ColourFileError('this is no LUT or CDL file that can be read.', { file, line: 0 }, 'unsupported');
  return reader(bytes, file, options);
}

function byBeginning(bytes: Uint8Array): Reader | undefined {
  const start = new TextDecoder('latin1').decode(bytes.subarray(0, 2048));
  if (/^\s*SPILUT/i.test(start)) return readSpi3d;
  if (/^\s*Version\s+1\s*[\r\n]+\s*From/i.test(start)) return readSpi1d;
  if (/^\s*CSPLUTV100/i.test(start)) return readCsp;
  if (/LUT_[13]D_SIZE/.test(start)) return readCube;
  if (/<ProcessList/.test(start)) return readClf;
  if (/<Color(Correction|DecisionList)/.test(start)) return corrections;
  return undefined;
}
