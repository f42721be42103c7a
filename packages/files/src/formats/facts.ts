import { open } from 'node:fs/promises';
import {
  dpxEvidence,
  dpxHeaderBytes,
  exrFacts,
  FormatError,
  iccEvidence,
  openExr,
  pngEvidence,
  pngPixelAspect,
  readDpxHeader,
  readRadianceHeader,
  tiffTags,
  type AlphaKind,
  type FileFacts,
  type FileKind,
  type StoredType,
} from '@june-haze/core';
import { pictureLibrary } from './pictureLibrary.ts';
import { openSource } from '../byteSource.ts';
import { withSideManifests } from './sideManifests.ts';
import { kindOfBytes, kindOfName, kindWords } from './kind.ts';
import { movieFacts } from '../movies/movieFacts.ts';
import { onePicture, type CommonFacts } from './onePicture.ts';

/** Bytes that are read of a picture for its tags; more than an ICC profile and all chunks before the pixels. */
const headBytes = 256 * 1024;

/** The file is another kind of picture than its name says. */
export class ForeignFile extends FormatError {
  readonly found: FileKind | undefined;

  constructor(file: string, said: FileKind, found: FileKind | undefined) {
    super(
      file,
      found
        ? `this is ${kindWords[found]}, not ${kindWords[said]} as its name says.`
        : `this is not ${kindWords[said]}; its first bytes are those of no known kind.`,
    );
    this.name = 'ForeignFile';
    this.found = found;
  }
}

/**
 * What a file says of itself: header and tags, no pixels. `name` is what errors call it. Throws an ExrError or FormatError for what is
 * not there, is empty, is of another kind than its name says (ForeignFile), or cannot be read.
 */
export async function readFacts(path: string, name: string): Promise<FileFacts> {
  const said = kindOfName(name);
  if (!said) throw new FormatError(name, 'files of this kind are not brought in.');
  const { head, bytes, modifiedAt } = await readHead(path, name);
  if (bytes === 0) throw new FormatError(name, 'the file is empty.');
  const found = kindOfBytes(head);
  if (found !== said) throw new ForeignFile(name, said, found);
  const common = { kind: said, bytes, modifiedAt };
  switch (said) {
    case 'exr': {
      const source = await openSource(path, name);
      try {
        const facts = await exrFacts(await openExr(source), modifiedAt);
        return { ...facts, attributes: await withSideManifests(facts.attributes, path) };
      } finally {
        await source.close();
      }
    }
    case 'dpx':
      return dpxFacts(head, name, common);
    case 'hdr':
      return radianceFacts(head, name, common);
    case 'movie':
      return movieFacts(path, name, common);
    default:
      return pictureFacts(path, name, head, { ...common, kind: said });
  }
}

async function readHead(path: string, name: string): Promise<{ head: Buffer; bytes: number; modifiedAt: number }> {
  const source = await openSource(path, name);
  try {
    const head = Buffer.from(await source.read(0, Math.min(headBytes, source.size)));
    return { head, bytes: source.size, modifiedAt: source.modifiedAt };
  } finally {
    await source.close();
  }
}

function dpxFacts(head: Uint8Array, name: string, common: CommonFacts): FileFacts {
  const header = readDpxHeader(head.length < dpxHeaderBytes ? new Uint8Array(0) : head, name);
  return onePicture(common, {
    width: header.width,
    height: header.height,
    channels: header.channels.includes('A') ? ['R', 'G', 'B', 'A'] : header.channels,
    alpha: header.channels.includes('A') ? 'straight' : 'none',
    sampleType: `uint${header.bits}` as StoredType,
    codec: 'none',
    evidence: dpxEvidence(header),
    attributes: header.attributes,
    pixelAspect: header.pixelAspect,
    rate: header.rate,
    rateFrom: header.rate === null ? null : 'the DPX header',
    timecode: header.timecode,
    range: 'full',
  });
}

function radianceFacts(head: Uint8Array, name: string, common: CommonFacts): FileFacts {
  const header = readRadianceHeader(head, name);
  return onePicture(common, {
    width: header.width,
    height: header.height,
    channels: ['R', 'G', 'B'],
    alpha: 'none',
    sampleType: 'float',
    codec: 'rgbe',
    evidence: header.evidence,
    attributes: header.attributes,
    pixelAspect: header.pixelAspect,
  });
}

const depths: Readonly<Record<string, StoredType>> = { uchar: 'uint8', ushort: 'uint16', float: 'float' };

async function pictureFacts(
  path: string,
  name: string,
  head: Buffer,
  common: CommonFacts & { kind: 'png' | 'jpeg' | 'tiff' },
): Promise<FileFacts> {
  const sharp = await pictureLibrary();
  const meta = await sharp(path, { limitInputPixels: 2 ** 31 })
    .metadata()
    .catch((error: Error) => {
      throw new FormatError(name, `it cannot be read (${error.message.split('\n')[0]}).`);
    });
  const { kind } = common;
  const stored = depths[meta.depth ?? ''];
  if (!stored) throw new FormatError(name, `samples of type ${meta.depth} are not read.`);
  const tiff = kind === 'tiff' ? tiffTags(await wholeDirectory(path, head)) : undefined;
  const evidence = [...(kind === 'png' ? pngEvidence(head) : []), ...(meta.icc ? iccEvidence(meta.icc) : [])];
  const alpha: AlphaKind = !meta.hasAlpha ? 'none' : tiff?.extraSamples === 1 ? 'premultiplied' : 'straight';
  const turned = (meta.orientation ?? 1) > 1;
  const grey = (meta.channels ?? 3) < 3;
  return onePicture(common, {
    width: meta.width,
    height: meta.height,
    channels: [...(grey ? ['Y'] : ['R', 'G', 'B']), ...(meta.hasAlpha ? ['A'] : [])],
    alpha,
    sampleType: stored,
    codec: tiff ? tiff.compression : kind,
    evidence,
    attributes: {
      ...(tiff?.software ? { software: tiff.software } : {}),
      ...(meta.icc ? { 'ICC profile': `${meta.icc.length} bytes` } : {}),
    },
    pixelAspect: kind === 'png' ? pngPixelAspect(head) : 1,
    notes: turned
      ? [`Its Exif data turns it (orientation ${meta.orientation}); it is brought in as it is stored.`]
      : [],
  });
}

/** A TIFF's directory may lie behind its pixels. */
async function wholeDirectory(path: string, head: Buffer): Promise<Buffer> {
  const start = head.length >= 8 ? (head[0] === 0x49 ? head.readUInt32LE(4) : head.readUInt32BE(4)) : 0;
  if (start + 4096 < head.length) return head;
  const handle = await open(path, 'r');
  try {
    const { size } = await handle.stat();
    // Sparse copy: the head and the directory where they lie; what lies between is not needed.
    const length = Math.min(size, start + 65536);
    if (length > 1 << 30) return head;
    const whole = Buffer.alloc(length);
    head.copy(whole);
    if (start < length) await handle.read(whole, start, length - start, start);
    return whole;
  } finally {
    await handle.close();
  }
}
