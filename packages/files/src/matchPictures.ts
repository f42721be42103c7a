import { readFile } from 'node:fs/promises';
import {
  asFloats,
  FormatError,
  openExr,
  pictureChannels,
  readJpegCoding,
  type CodePicture,
  type LightPicture,
  type Pass,
  type Primaries,
  type ThreePlanes,
} from '@june-haze/core';
import { openSource } from './byteSource.ts';
import { decodeFile } from './formats/decode.ts';
import { readFacts } from './formats/facts.ts';
import { missingSentence, readPasses } from './readPasses.ts';

/** A frame's light, and what its file says of its primaries. */
export interface FrameLight {
  readonly light: LightPicture;
  readonly chromaticities: Primaries | undefined;
  readonly pass: Pass;
}

/**
 * The light of a pass over the display window; the beauty where none is named. Throws an ExrError or FormatError for a file that is none or
 * is cut short, and for a pass that is not in it.
 */
export async function readLight(path: string, name: string, layer?: string): Promise<FrameLight> {
  const facts = await readFacts(path, name);
  if (facts.kind !== 'exr') throw new FormatError(name, 'linear light is matched from EXR files.');
  const pass =
    layer === undefined
      ? (facts.passes.find((p) => p.role === 'beauty') ?? facts.passes[0])
      : facts.passes.find((p) => p.name === layer);
  if (!pass) throw new FormatError(name, layer === undefined ? 'it has no pass.' : `it has no layer "${layer}".`);
  const { colour, alpha } = pictureChannels(pass);
  const channels = alpha === undefined ? colour : [...colour, alpha];
  const read = await readPasses({ path, name, part: pass.part, channels, data: false, level: 0 });
  if (read.missing.length) throw new FormatError(name, missingSentence(read.missing));
  const [r, g, b, a] = read.planes.map(asFloats);
  const planes: ThreePlanes = [r!, g!, b!];
  return {
    light: { width: read.width, height: read.rows, planes, alpha: a },
    chromaticities: await exrChromaticities(path, name, pass.part),
    pass,
  };
}

/** The primaries that a part of an EXR says its numbers have; undefined where it says none. Throws an ExrError for a file that is none. */
export async function exrChromaticities(path: string, name: string, part: number): Promise<Primaries | undefined> {
  const source = await openSource(path, name);
  try {
    const found = (await openExr(source)).parts[part]?.attributes.get('chromaticities');
    return found?.value as Primaries | undefined;
  } finally {
    await source.close();
  }
}

/** A picture's codes as the file has them, untouched, and how a JPEG was coded. Throws a FormatError for what cannot be read. */
export async function readCodes(path: string, name: string): Promise<CodePicture> {
  const facts = await readFacts(path, name);
  if (facts.kind === 'exr' || facts.kind === 'hdr' || facts.kind === 'movie')
    throw new FormatError(name, 'a reference is a picture with its view in it: PNG, JPEG, TIFF or DPX.');
  const { width, height, planes } = await decodeFile(path, name, facts, 0, facts.range);
  const of = (channel: string) => planes[channel] ?? planes.Y!;
  const jpeg = facts.kind === 'jpeg' ? readJpegCoding(await readFile(path), name) : undefined;
  return { width, height, planes: [of('R'), of('G'), of('B')], ...(jpeg ? { jpeg } : {}) };
}
