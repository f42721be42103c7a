import { compressions, findSpace, type Compression } from '@june-haze/core';
import { codesOfSpace, type OutputSettings } from './output.ts';
import { usualFileName } from './outputNames.ts';
import type { Shot } from './shot.ts';
import type { Source } from './source.ts';

/**
 * Settings of an output that goes back to where a source came from: its kind of file, space, samples, packing, size, numbers and the manner of its
 * names, over those of its frames that the shot has. Undefined where nothing can be written that way: a movie, or a space that its kind cannot hold.
 */
export function outputLikeSource(
  source: Source,
  shot: Pick<Shot, 'workingSpace' | 'firstFrame' | 'lastFrame' | 'width' | 'rate'>,
): Partial<OutputSettings> | undefined {
  const { declaredSpace: space } = source;
  if (space === null) return undefined;
  const kind = kindLike(source, space);
  if (!kind) return undefined;
  const firstFrame = source.still ? shot.firstFrame : Math.max(shot.firstFrame, source.firstFrame);
  const lastFrame = source.still ? shot.firstFrame : Math.min(shot.lastFrame, source.lastFrame);
  return {
    ...kind,
    firstFrame,
    lastFrame: Math.max(firstFrame, lastFrame),
    step: source.still ? 1 : source.step,
    width: source.width === shot.width ? null : source.width,
    crop: null,
    space: kind.kind === 'exr' && space === shot.workingSpace ? null : space,
    codes: null,
    rate: source.rate === null || source.rate === shot.rate ? null : source.rate,
    offset: source.still ? 0 : -source.offset,
    fileName: nameLike(source.pattern),
  };
}

function kindLike({ fileKind, sampleType, compression }: Source, space: string): Partial<OutputSettings> | undefined {
  const deep = sampleType === 'uint16';
  switch (fileKind) {
    case 'exr':
      return findSpace(space)
        ? {
            kind: 'exr',
            sampleType: sampleType === 'float' ? 'float' : 'half',
            compression: (compressions as readonly string[]).includes(compression)
              ? (compression as Compression)
              : 'zip',
          }
        : undefined;
    case 'dpx':
      return findSpace(space)?.family === 'log' ? { kind: 'dpx' } : undefined;
    case 'png':
    case 'tiff':
      return codesOfSpace(space) ? { kind: fileKind, bits: deep ? 16 : 8 } : undefined;
    case 'jpeg':
      return codesOfSpace(space) ? { kind: 'jpeg', quality: 95 } : undefined;
    default:
      return undefined;
  }
}

/** A source's name with the output's before its frame: `plate_v2.####` becomes `plate_v2_{output}.####`. */
function nameLike(pattern: string): string {
  const file = pattern
    .split('/')
    .at(-1)!
    .replace(/\.\w+$/, '');
  const cut = /^(.*?)([._ -]*)(#+)$/.exec(file);
  const [base, joint, marks] = cut ? [cut[1]!, cut[2] || '.', cut[3]!] : [file, '.', '####'];
  // What no name here may have gives way to the usual one.
  return /^[\p{L}\p{M}\p{N}][\p{L}\p{M}\p{N} ._-]*$/u.test(base) ? `${base}_{output}${joint}${marks}` : usualFileName;
}
