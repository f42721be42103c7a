import { readFile } from 'node:fs/promises';
import {
  acesContainerFaults,
  alphaAttribute,
  asFloats,
  channelOf,
  comparePictures,
  compareSamples,
  compareSomeRows,
  coveringCodes,
  decodeDpx,
  dpxEvidence,
  displayCodes,
  findSpace,
  isLossless,
  largestBlockDifference,
  linearSpaceOf,
  openExr,
  primariesMatrix,
  readChannels,
  recodePicture,
  rec709,
  toEightBits,
  requireSpace,
  viewSteps,
  type CodeEncoding,
  type ColourStep,
  type PictureDifference,
  type ExrPart,
  type Plane,
  type Primaries,
} from '@june-haze/core';
import {
  codesWithoutView,
  holdsPictures,
  isDithered,
  isPictureKind,
  type OutputSettings,
  type ReadBack,
} from '@june-haze/contract';
import { decodePicture, openSource, writeWhole, zlibCodec, type DecodedPicture } from '@june-haze/files';
import sharp from 'sharp';
import { show } from './show.ts';
import { displayEncodingOf, encodingOf, type ProofTask, type WrittenFrame } from './writeTask.ts';
import { spaceAttribute } from './exrTags.ts';
import { codesOfTotal, toHalves } from './writeLinear.ts';

/**
 * How far the mean of a JPEG's 8x8 block may stray, in code values: the rounding of Y, Cb and Cr to whole codes moves B by up to
 * 0.5 + 1.772 / 2 (ITU-T T.871 clause 7), and the quantised DC coefficient adds up to half a step, an eighth of a code at this quality or two.
 */
export const jpegBlockLimit = 2;
/** The same for EXR's lossy codecs: B44 rounds to six bits in a block's range, DWA cuts small detail; means stay (chosen, no source). */
const lossyBlockLimit = 2;

/**
 * What half a code of 10 bits may do to a shown code: in log codes a stop is 60 to 80 codes wide, so half a code is 0.6 % of light, and the
 * steepest views double it: 3 codes near white of 255 (reckoned; no source).
 */
const dpxCodeLimit = 3;

/**
 * The read-back proof: the written file decoded again by its own tags alone and shown through the view, against what the
 * viewer showed; and as a reader that ignores the tags shows it (linear numbers as Rec.709 light, pictures as sRGB).
 */
export async function prove(task: ProofTask, frame: WrittenFrame): Promise<ReadBack> {
  const { shown, width } = frame;
  const encoding = encodingOf(task);
  const { tagged, ignoring, tags, exact, alpha } = await readBackOf(task, frame);
  const difference = comparePictures(shown, tagged, width, encoding);
  const strayed = strayedOf(shown, ignoring, width, encoding, task.pictures !== undefined);
  if (task.pictures) await saveProofPictures(task.pictures, { ...task, ...frame }, { shown, tagged, ignoring });
  const { close, judged } = judge(task, shown, tagged, width, difference.maxCode);
  const covers = alpha === null || alpha <= alphaLimit(task.settings);
  return {
    tagged: figuresOf(difference),
    ignoring: figuresOf(strayed),
    tags,
    alpha,
    judged: [
      judged,
      ...(exact ? [] : ['its samples or tags are not the ones that were written']),
      ...(covers ? [] : [`its alpha differs by ${alpha.toFixed(3)}`]),
    ].join('; '),
    proved: close && exact && covers,
  };
}

/** One row in so many tells how far a reader goes astray that ignores the tags. */
const strayedRows = 32;

/** How far a reader goes astray that ignores the tags: nothing is proved by it, so that all pixels are compared only where its picture is kept. */
export const strayedOf = (
  shown: Uint8Array,
  ignoring: Uint8Array,
  width: number,
  encoding: CodeEncoding,
  isKept: boolean,
): PictureDifference => compareSomeRows(shown, ignoring, width, encoding, isKept ? 1 : strayedRows);

function readBackOf(task: ProofTask, frame: WrittenFrame) {
  if (holdsPictures(task.settings)) return readShownBack(task, frame);
  if (codesWithoutView(task.settings)) return readCodesBack(task, frame);
  return task.settings.kind === 'dpx' ? readDpxBack(task, frame) : readLinearBack(task, frame);
}

/** Keeps the three pictures of a proof, small, in a folder: in the codes of the viewing's display, as the page has its own. */
export async function saveProofPictures(
  folder: string,
  task: Pick<ProofTask, 'viewing' | 'colour' | 'settings' | 'width' | 'height'>,
  pictures: Readonly<Record<'shown' | 'tagged' | 'ignoring', Uint8Array>>,
): Promise<void> {
  const { width, height } = task;
  const save = async ([name, codes]: [string, Uint8Array]) => {
    const rgba = recodePicture(codes, encodingOf(task), displayEncodingOf(task));
    const small = await sharp(rgba, { raw: { width, height, channels: 4 } })
      .removeAlpha()
      .resize({ width: Math.min(width, 640) })
      .png()
      .toBuffer();
    await writeWhole(`${folder}/${name}.png`, (sink) => sink.write(0, small));
  };
  await Promise.all(Object.entries(pictures).map(save));
}

/** What is kept of a difference. */
export const figuresOf = ({ maxCode, meanCode, at: [x, y], deltaE }: PictureDifference): ReadBack['tagged'] => ({
  maxCode,
  meanCode,
  at: [x, y],
  deltaE,
});

/** One code value is what rounding to half or to 8 bits may do; a JPEG is lossy by intent and is judged by the means of its blocks. */
function judge(task: ProofTask, shown: Uint8Array, tagged: Uint8Array, width: number, maxCode: number) {
  const { kind, compression } = task.settings;
  if (kind === 'exr' && !isLossless(compression)) {
    const stray = largestBlockDifference(shown, tagged, width);
    return {
      close: stray <= lossyBlockLimit,
      judged: `${compression.toUpperCase()} is lossy: means of 8×8 blocks differ by ${stray.toFixed(2)} of at most ${lossyBlockLimit} code values`,
    };
  }
  if (codesWithoutView(task.settings))
    return {
      close: true,
      judged: `${kind === 'jpeg' ? `means of 8×8 blocks within ${jpegBlockLimit} code values` : 'every sample the rounding of its number'}; as shown largest difference ${maxCode} code values`,
    };
  if (kind === 'dpx') {
    const limit = dpxCodeLimit;
    return {
      close: maxCode <= limit,
      judged: `every sample within half a code of 10 bits; as shown largest difference ${maxCode} of at most ${limit} code values`,
    };
  }
  if (kind !== 'jpeg') return { close: maxCode <= 1, judged: `largest difference ${maxCode} of at most 1 code value` };
  const stray = largestBlockDifference(shown, tagged, width);
  return {
    close: stray <= jpegBlockLimit,
    judged: `lossy: means of 8×8 blocks differ by ${stray.toFixed(2)} of at most ${jpegBlockLimit} code values`,
  };
}

/** How far alpha may be off: a rounding to half for what is packed without loss, a 64th for what is not (chosen, no source); half a code of integers. */
function alphaLimit({ kind, compression, bits }: OutputSettings): number {
  if (isPictureKind(kind)) return 0.5 / (bits === 16 ? 65535 : 255) + 1e-6;
  return kind === 'exr' && !isLossless(compression) ? 1 / 64 : 1 / 2048;
}

/** Decodes an EXR by its own tags: its numbers, how their alpha is meant, and what they are. */
async function readLinearBack(task: ProofTask, { total, hasAlpha }: WrittenFrame) {
  const source = await openSource(task.path);
  try {
    const file = await openExr(source);
    const part = file.parts[0]!;
    const names = part.channels.some((c) => c.name === 'A') ? ['R', 'G', 'B', 'A'] : ['R', 'G', 'B'];
    const { planes } = await readChannels(file, 0, names, zlibCodec);
    const lossless = task.settings.kind === 'aces' || isLossless(task.settings.compression);
    const formed = task.settings.kind !== 'aces' || acesContainerFaults(part).length === 0;
    const exact =
      formed && names.length === (hasAlpha ? 4 : 3) && (!lossless || planes.every((p, c) => isWritten(p, total[c]!)));
    const meant = part.attributes.get(alphaAttribute)?.value === 'straight' ? 'straight' : 'premultiplied';
    const { says, ...seen } = seenByTags(task, part, planes, names.length === 4 ? meant : undefined);
    return {
      ...seen,
      tags: says,
      exact,
      alpha: hasAlpha && planes[3] ? largestApart(planes[3], total[3]!) : null,
    };
  } finally {
    await source.close();
  }
}

/** An EXR's light as a reader that goes by its tags sees it through the viewing, and as one that takes it for plain Rec.709 light. */
export function seenByTags(
  task: ProofTask,
  part: ExrPart,
  planes: readonly Plane[],
  alpha?: 'straight' | 'premultiplied',
): { tagged: Uint8Array; ignoring: Uint8Array; says: string } {
  const { steps, says } = taggedWay(task, part);
  const encoding = encodingOf(task);
  // Seen as plain Rec.709 light, in the display's own codes.
  const plain = encoding === 'bt1886' ? 'bt1886' : 'srgb';
  const untoned = { display: plain === 'bt1886' ? 'Rec.709' : 'sRGB', view: 'Untoned', exposure: 0 };
  const view = task.colour.view(task.workingSpace, task.viewing);
  return {
    tagged: show(planes, [{ steps, ...(alpha ? { alpha } : {}) }, { steps: view }]),
    ignoring: recodePicture(
      show(planes, [{ steps: viewSteps(requireSpace('Linear Rec.709'), untoned) }]),
      plain,
      encoding,
    ),
    says,
  };
}

/** Whether a plane holds just the samples that a total was written as; its zeros have their signs, a NaN is as good as another. */
function isWritten(plane: Plane, total: Float32Array): boolean {
  const want = plane instanceof Uint16Array ? toHalves(total) : total;
  for (let i = 0; i < want.length; i++) if (!Object.is(plane[i], want[i])) return false;
  return plane.length === want.length;
}

const largestApart = (plane: Plane, total: Float32Array): number => compareSamples(asFloats(plane), total).largest;

/** The way from a file's numbers to the working space by what its tags say. Without a tag there is nothing to go by but the working space. */
function taggedWay(task: ProofTask, part: ExrPart): { steps: readonly ColourStep[]; says: string } {
  const primaries = part.attributes.get('chromaticities')?.value as Primaries | undefined;
  const identity = part.attributes.get('colorInteropID')?.value;
  const named = part.attributes.get(spaceAttribute)?.value;
  const { colour } = task;
  const twin = colour.linearTwin(task.workingSpace);
  const found = primaries ? linearSpaceOf(primaries) : undefined;
  const coded = [named, identity].map((n) => (typeof n === 'string' ? findSpace(n) : undefined)).find((c) => c);
  const says = `chromaticities say ${found?.name ?? 'nothing known'}, colour identity says ${String(identity ?? 'nothing')}`;
  if (coded && coded.encoding !== 'linear')
    return { steps: colour.conversion(coded.name, task.workingSpace), says: `${says}, its space says ${coded.name}` };
  if (!twin || (found && found.name === twin.name)) return { steps: [], says };
  return { steps: [{ kind: 'matrix', matrix: primariesMatrix(primaries ?? rec709, twin.primaries) }], says };
}

/** Decodes a DPX by its own description; a reader that ignores it takes its numbers for sRGB codes. */
async function readDpxBack(task: ProofTask, { total }: WrittenFrame) {
  const { header, planes } = decodeDpx(await readFile(task.path), task.path);
  const named = dpxEvidence(header).find((e) => e.space !== undefined)?.space;
  const { colour } = task;
  const view = colour.view(task.workingSpace, task.viewing);
  const codes = ['R', 'G', 'B'].map((c) => planes[c]! as Float32Array<ArrayBuffer>);
  const steps = named === undefined ? [] : colour.conversion(named, task.workingSpace);
  const half = 0.5 / 1023 + 1e-6;
  const near = (plane: Float32Array, c: number) =>
    plane.every((x, i) => Math.abs(x - Math.min(1, Math.max(0, total[c]![i]! || 0))) <= half);
  return {
    tagged: show(codes, [{ steps }, { steps: view }]),
    ignoring: recodePicture(show(codes, [{ steps: [] }]), 'srgb', encodingOf(task)),
    tags: `transfer says logarithmic, description says ${named ?? 'nothing known'}`,
    exact: named === task.settings.space && codes.every(near),
    alpha: null,
  };
}

/**
 * Decodes codes that went back without the viewing, by their own tags, and shows them through it. Every sample is the rounding of its number; of a
 * JPEG the means of blocks are.
 */
async function readCodesBack(task: ProofTask, { total, width, hasAlpha }: WrittenFrame) {
  const picture = await decodePicture(await readFile(task.path));
  const wanted = codesOfTotal({ total });
  const { encoding, rgba, deep } = picture;
  const planes = [0, 1, 2].map((c) => (deep ? channelOf(deep, 3, c) : channelOf(rgba, 4, c)));
  const { colour } = task;
  const view = colour.view(task.workingSpace, task.viewing);
  const space = encoding && displayCodes[encoding].spaces[0]!;
  const steps = space === undefined ? [] : colour.conversion(space, task.workingSpace);
  const right = encoding !== undefined && encoding === codesWithoutView(task.settings);
  return {
    tagged: show(planes, [{ steps }, { steps: view }]),
    ignoring: recodePicture(show(planes, [{ steps: [] }]), 'srgb', encodingOf(task)),
    tags: `${picture.taggedBy} says ${encoding ? displayCodes[encoding].name : 'nothing that is known'}`,
    exact: right && codesHold(task.settings, picture, wanted, width) && hasAlpha === (picture.alpha !== undefined),
    alpha: picture.alpha && hasAlpha ? largestApart(picture.alpha, total[3]!) : null,
  };
}

/** Whether a picture's codes are the roundings of samples of 16 bits; of a JPEG, means of blocks within its limit. */
function codesHold(settings: OutputSettings, picture: DecodedPicture, wanted: Uint16Array, width: number): boolean {
  if (settings.kind !== 'jpeg' && (settings.bits === 16 || isDithered(settings)))
    return samplesHold(settings, picture, wanted);
  const codes = coveringCodes(toEightBits(wanted));
  if (settings.kind === 'jpeg') return largestBlockDifference(codes, picture.rgba, width) <= jpegBlockLimit;
  return picture.rgba.every((v, i) => i % 4 === 3 || v === codes[i]);
}

async function readShownBack(task: ProofTask, { deep, hasAlpha, total }: WrittenFrame) {
  const picture = await decodePicture(await readFile(task.path));
  const encoding = encodingOf(task);
  const asEncoding = (from: CodeEncoding) => recodePicture(picture.rgba, from, encoding);
  return {
    tagged: asEncoding(picture.encoding ?? 'srgb'),
    ignoring: asEncoding('srgb'),
    tags: `${picture.taggedBy} says ${picture.encoding ? displayCodes[picture.encoding].name : 'nothing that is known'}`,
    exact:
      picture.encoding === encoding &&
      (!deep || samplesHold(task.settings, picture, deep)) &&
      hasAlpha === (picture.alpha !== undefined),
    alpha: picture.alpha && hasAlpha ? largestApart(picture.alpha, total[3]!) : null,
  };
}

/** Whether a file holds the samples that it was made from: each of them, or of an 8-bit file between whose codes chance decides their mean. */
function samplesHold(settings: OutputSettings, picture: DecodedPicture, deep: Uint16Array): boolean {
  if (!isDithered(settings)) return holds(picture.deep, deep);
  // A JPEG is judged by its blocks.
  if (settings.kind === 'jpeg') return true;
  const n = deep.length / 3;
  // Four times the widest spread that the mean of so many errors has: each is below one code.
  const most = 4 * (0.5 / Math.sqrt(n));
  return [0, 1, 2].every((c) => {
    let apart = 0;
    for (let i = 0; i < n; i++) apart += picture.rgba[i * 4 + c]! - deep[i * 3 + c]! / 257;
    return Math.abs(apart / n) <= most;
  });
}

/** Whether a file's samples of 16 bits are those that were written. */
const holds = (found: Uint16Array | undefined, written: Uint16Array): boolean =>
  found !== undefined && Buffer.compare(bytesOf(found), bytesOf(written)) === 0;

const bytesOf = ({ buffer, byteOffset, byteLength }: Uint16Array) => Buffer.from(buffer, byteOffset, byteLength);
