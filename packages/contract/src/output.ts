import {
  compressions,
  encodingOfSpace,
  findSpace,
  framesOfTimecode,
  layerings,
  type CodeEncoding,
} from '@june-haze/core';
import { z } from 'zod';
import { fileNameSchema, outputFolderSchema, usualFileName, usualFolder } from './outputNames.ts';
import { sourceChangeSchema } from './source.ts';
import { viewingChangeSchema } from './viewing.ts';

/** Kinds of outputs, as the job file has them. */
export const outputKinds = ['exr', 'aces', 'dpx', 'png', 'jpeg', 'tiff', 'movie', 'sheet', 'passes'] as const;
export const movieCodecs = ['h264', 'vp9', 'prores'] as const;
export type MovieCodec = (typeof movieCodecs)[number];

/** The log space that is offered where no source came in one (common practice, no source). */
export const usualLog = 'ACEScct';

/** Kinds of codes that pictures can be written in beside the display's own: those of SDR from one of SDR, those of HDR from one of HDR. */
export const codesToChoose = [
  'srgb',
  'bt1886',
  'displayP3',
  'p3Cinema',
  'pq',
  'hlg',
] as const satisfies readonly CodeEncoding[];

/** A part of a picture, in its pixels. */
export const cropSchema = z.strictObject({
  x: z.number().int().min(0).max(65_535),
  y: z.number().int().min(0).max(65_535),
  width: z.number().int().min(1).max(65_536),
  height: z.number().int().min(1).max(65_536),
});
export const stepSchema = z.number().int().min(1).max(10_000);
export const widthSchema = z.number().int().min(1).max(65_536);

/** What is added to a frame's number to make that of its file. */
export const offsetSchema = z.number().int().min(-9_999_999).max(9_999_999);
export const rateSchema = z.number().positive().max(1000);
/** Hours, minutes, seconds and frames (SMPTE ST 12-1). */
export const timecodeSchema = z
  .string()
  .trim()
  .regex(/^([01]\d|2[0-3])(:[0-5]\d){2}:\d{2}$/, 'A time code is hours, minutes, seconds and frames: 01:00:00:00.');
export const ownerSchema = z.string().trim().max(200);
export const commentsSchema = z.string().trim().max(2000);

/** A pass of a source. */
export const chosenPassSchema = z.object({ sourceId: z.string().min(1).max(200), pass: z.string().min(1).max(500) });
export type ChosenPass = z.infer<typeof chosenPassSchema>;

/** Whose frames are taken first where several outputs are written. */
export const priorities = ['first', 'usual', 'last'] as const;

export const outputSettingsSchema = z.object({
  name: z
    .string()
    .trim()
    .min(1, 'An output needs a name.')
    .max(60)
    .regex(/^[\w -]+$/, 'Use letters, digits, spaces, - and _ in an output’s name.'),
  /** `aces`: the ACES container form, which settles samples and packing by itself. */
  kind: z.enum(outputKinds),
  /** EXR only: the type of its samples and how it is packed. */
  sampleType: z.enum(['half', 'float']),
  compression: z.enum(compressions),
  firstFrame: z.number().int().min(0).max(9_999_999),
  lastFrame: z.number().int().min(0).max(9_999_999),
  /** Every how many frames one is written. */
  step: stepSchema.default(1),
  /** A part of the shot's picture, in its pixels; null for all of it. */
  crop: cropSchema.nullable().default(null),
  /** EXR of a part only: its display window stays the shot's, the part is its data window. */
  keepWindow: z.boolean().default(false),
  /** How wide the files are; their height follows. Null for what the shot's pixels are. */
  width: widthSchema.nullable().default(null),
  /**
   * EXR and DPX: the space of its numbers; null for the working space, which a DPX cannot hold. PNG, JPEG and TIFF: a space of a display's codes that
   * they are in without the viewing; null for what is shown.
   */
  space: z.string().nullable().default(null),
  /** PNG and TIFF only: bits of a sample. */
  bits: z.union([z.literal(8), z.literal(16)]).default(8),
  /** Pictures only: the codes of another kind of display than the viewing's, that show the same light on it; null for its own. */
  codes: z.enum(codesToChoose).nullable().default(null),
  /** Movies only. */
  codec: z.enum(movieCodecs).default('h264'),
  /** Contact sheets only: pictures in a row, null for a sheet about as wide as a screen; and whether frames' numbers stand below them. */
  columns: z.number().int().min(1).max(200).nullable().default(null),
  labels: z.boolean().default(true),
  sheetFile: z.enum(['png', 'jpeg']).default('png'),
  /** JPEG and movies only: 100 is the best. ProRes has no choice of it. */
  quality: z.number().int().min(1).max(100).default(95),
  /** Pictures only: whether the viewing's look goes into the files. Off unless asked for. */
  bakeLook: z.boolean().default(false),
  /** Folders below the output folder, and the files' names without ending; see `nameWords`. */
  folder: outputFolderSchema.default(usualFolder),
  fileName: fileNameSchema.default(usualFileName),
  offset: offsetSchema.default(0),
  /** Frames a second that the files say; null for the shot's. No frame is made or left out for it. */
  rate: rateSchema.nullable().default(null),
  /** The time code of the first frame; null for the frame's own number. */
  timecode: timecodeSchema.nullable().default(null),
  /** EXR and ACES only: whether alpha is written where the total has one. */
  alpha: z.boolean().default(true),
  /**
   * PNG, TIFF and ProRes movies only: alpha goes into the file where the total has one, and colour is divided by it (PNG third edition, 4.3.4;
   * TIFF 6.0, section 18) before it is viewed.
   */
  transparent: z.boolean().default(false),
  /** 8-bit pictures only: what lies between two codes is spread over both by chance. */
  dither: z.boolean().default(false),
  /** Passes only: those that are written, sample by sample as they are, and the ledger's mattes; and how they lie in files. */
  passes: z.array(chosenPassSchema).max(1000).default([]),
  mattes: z.array(z.string().min(1).max(200)).max(200).default([]),
  layering: z.enum(layerings).default('together'),
  priority: z.enum(priorities).default('usual'),
  /** Said in the files, where their kind has a place for it. */
  owner: ownerSchema.default(''),
  comments: commentsSchema.default(''),
});
export type OutputSettings = z.infer<typeof outputSettingsSchema>;

/** Whether files of a kind hold codes of a display. */
export const isPictureKind = (kind: OutputSettings['kind']): boolean =>
  kind === 'png' || kind === 'jpeg' || kind === 'tiff' || kind === 'movie' || kind === 'sheet';

/** Whether all frames of an output become one file, that is put together when all are there. */
export const isOneFile = ({ kind }: Pick<OutputSettings, 'kind'>): boolean => kind === 'movie' || kind === 'sheet';

/** What kind of file an output's pictures lie in: a contact sheet is a PNG or a JPEG. */
export const fileKindOf = ({
  kind,
  sheetFile,
}: Pick<OutputSettings, 'kind' | 'sheetFile'>): Exclude<OutputSettings['kind'], 'sheet'> =>
  kind === 'sheet' ? sheetFile : kind;

/** Whether an output's files can be packed better or worse. */
export const hasQuality = (settings: Pick<OutputSettings, 'kind' | 'sheetFile' | 'codec'>): boolean =>
  fileKindOf(settings) === 'jpeg' || (settings.kind === 'movie' && settings.codec !== 'prores');

/** Of pictures that go back as they came, without the viewing: the codes of their space. Undefined for what goes through the viewing, and for light. */
export const codesWithoutView = ({ kind, space }: Pick<OutputSettings, 'kind' | 'space'>): CodeEncoding | undefined =>
  isPictureKind(kind) && !isOneFile({ kind }) && space !== null ? codesOfSpace(space) : undefined;

/** What a space's numbers are as a display's codes; undefined for one whose numbers no display takes, a camera's curve of BT.709 among them. */
export function codesOfSpace(space: string): CodeEncoding | undefined {
  const found = findSpace(space);
  return found && found.encoding !== 'rec709' ? encodingOfSpace(found.name) : undefined;
}

/** Whether an output's files hold what is shown; the others hold light, numbers that lead to it, or passes as they came. */
export const holdsPictures = (settings: Pick<OutputSettings, 'kind' | 'space'>): boolean =>
  isPictureKind(settings.kind) && codesWithoutView(settings) === undefined;
/** Whether a kind of file can hold samples of more than 8 bits. */
export const holdsDeepSamples = (kind: OutputSettings['kind']): boolean => kind === 'png' || kind === 'tiff';

/** Whether an output's files can have alpha beside colour that is not multiplied by it. */
export const mayHoldStraightAlpha = ({ kind, codec }: Pick<OutputSettings, 'kind' | 'codec'>): boolean =>
  holdsDeepSamples(kind) || (kind === 'movie' && codec === 'prores');

/** Whether an output's files have it. */
export const holdsStraightAlpha = (settings: Pick<OutputSettings, 'kind' | 'codec' | 'transparent'>): boolean =>
  mayHoldStraightAlpha(settings) && settings.transparent;

/** Whether a movie's codec would have to halve a side of an odd number of pixels. With alpha ProRes has colour at every pixel. */
export function halvesOddSide(
  { kind, codec, alpha }: Pick<OutputSettings, 'kind' | 'codec'> & { readonly alpha: boolean },
  { width, height }: { readonly width: number; readonly height: number },
): boolean {
  if (kind !== 'movie' || codec === 'vp9' || (codec === 'prores' && alpha)) return false;
  return width % 2 > 0 || (codec === 'h264' && height % 2 > 0);
}

/** Whether an output's files are of 8-bit codes between which chance decides. */
export const isDithered = ({ kind, bits, dither }: Pick<OutputSettings, 'kind' | 'bits' | 'dither'>): boolean =>
  dither && (kind === 'jpeg' || (holdsDeepSamples(kind) && bits === 8));

type Range = Pick<OutputSettings, 'firstFrame' | 'lastFrame' | 'step'>;
/** How many frames an output writes. */
export const countOfFrames = ({ firstFrame, lastFrame, step }: Range): number =>
  Math.max(0, Math.floor((lastFrame - firstFrame) / step) + 1);
/** A frame's place among those that are written, from 0. */
export const placeOfFrame = ({ firstFrame, step }: Range, frame: number): number => (frame - firstFrame) / step;
/** The frame at a place. */
export const frameAtPlace = ({ firstFrame, step }: Range, place: number): number => firstFrame + place * step;

/** The time code of a frame as a count of frames: that of the first and the frame's place behind it, or the frame's own number. */
export const timecodeFrame = (
  settings: Range & Pick<OutputSettings, 'timecode'>,
  rate: number,
  frame: number,
): number =>
  settings.timecode === null ? frame : (framesOfTimecode(settings.timecode, rate) ?? 0) + placeOfFrame(settings, frame);

/** The part of the shot's picture that an output shows, and the size of its files: a movie's height is even, as its codecs need it. */
export function sizeOfOutput(
  { crop, width, kind }: Pick<OutputSettings, 'crop' | 'width' | 'kind'>,
  shot: { readonly width: number; readonly height: number },
): { crop: { x: number; y: number; width: number; height: number }; width: number; height: number } {
  const part = crop ?? { x: 0, y: 0, width: shot.width, height: shot.height };
  if (width === null) return { crop: part, width: part.width, height: part.height };
  const height = (part.height * width) / part.width;
  const whole = kind === 'movie' ? 2 * Math.round(height / 2) : Math.round(height);
  return { crop: part, width, height: Math.max(1, whole) };
}

/** Whether an output's files stand in the whole picture of the shot. */
export const isWhole = ({
  crop,
  keepWindow,
}: {
  readonly crop?: OutputSettings['crop'] | undefined;
  readonly keepWindow?: boolean | undefined;
}): boolean => !crop || keepWindow === true;

/** A rectangle of pixels, its last column and row included, as EXR has it. */
export interface FileWindow {
  readonly xMin: number;
  readonly yMin: number;
  readonly xMax: number;
  readonly yMax: number;
}

const windowOf = (x: number, y: number, width: number, height: number): FileWindow => ({
  xMin: x,
  yMin: y,
  xMax: x + width - 1,
  yMax: y + height - 1,
});

/**
 * The windows of an EXR output's files: of a part that keeps the shot's window the data window lies in it, else both are the picture. `between`:
 * in another size the part would begin between two pixels.
 */
export function windowsOfOutput(
  settings: Pick<OutputSettings, 'crop' | 'width' | 'kind' | 'keepWindow'>,
  shot: { readonly width: number; readonly height: number },
): { readonly data: FileWindow; readonly display: FileWindow; readonly between: boolean } {
  const { crop, width, height } = sizeOfOutput(settings, shot);
  const own = windowOf(0, 0, width, height);
  if (settings.kind !== 'exr' || !settings.crop || !settings.keepWindow)
    return { data: own, display: own, between: false };
  const [across, down] = [width / crop.width, height / crop.height];
  const [x, y, w, h] = [crop.x * across, crop.y * down, shot.width * across, shot.height * down];
  return {
    data: windowOf(Math.round(x), Math.round(y), width, height),
    display: windowOf(0, 0, Math.round(w), Math.round(h)),
    between: ![x, y, w, h].every((v) => Math.abs(v - Math.round(v)) < 1e-6),
  };
}

/** The ending of an output's files. */
export function extensionOf(settings: Pick<OutputSettings, 'kind' | 'codec' | 'sheetFile'>): string {
  const kind = fileKindOf(settings);
  if (kind === 'movie') return { h264: 'mp4', vp9: 'webm', prores: 'mov' }[settings.codec];
  return { exr: 'exr', aces: 'exr', passes: 'exr', dpx: 'dpx', png: 'png', jpeg: 'jpg', tiff: 'tif' }[kind];
}

export const outputSchema = outputSettingsSchema.extend({
  id: z.string(),
  /** Names with hash marks for the frame, below the output folder; what is one file has none. */
  pattern: z.string(),
});
export type Output = z.infer<typeof outputSchema>;

export const pictureDifferenceSchema = z.object({
  maxCode: z.number(),
  meanCode: z.number(),
  at: z.tuple([z.number(), z.number()]),
  deltaE: z.object({ mean: z.number(), p95: z.number(), p99: z.number(), max: z.number() }),
});

/** The written file decoded again, against what the viewer showed. */
export const readBackSchema = z.object({
  tagged: pictureDifferenceSchema,
  ignoring: pictureDifferenceSchema,
  /** What the file's own tags say, in words. */
  tags: z.string(),
  /** Largest difference of alpha; null where the file has none. */
  alpha: z.number().nullable().default(null),
  /** How it was judged, in words with the figure that counts; runs from before this was kept have none. */
  judged: z.string().default(''),
  proved: z.boolean(),
});
export type ReadBack = z.infer<typeof readBackSchema>;

/** A frame, or some of what becomes one file, that were tried through the whole of an output, and thrown away. */
export const triedFrameSchema = z.object({
  frame: z.number().int(),
  /** How many were tried, from it on; the figures are of all. */
  count: z.number().int().default(1),
  milliseconds: z.number(),
  bytes: z.number(),
  /** Of several, the one that is furthest off. */
  readBack: readBackSchema,
  /** Shares of pixels that the file cannot hold as they are: cut off below or above, or no finite number. */
  clipping: z.object({ below: z.number(), above: z.number(), notFinite: z.number() }),
  /** A movie or a contact sheet to look at, by its name; null of other kinds. */
  whole: z.string().nullable().default(null),
});
export type TriedFrame = z.infer<typeof triedFrameSchema>;
/** As many frames as two seconds of fast ones. */
export const mostTried = 120;
export const tryFrameSchema = z.object({
  frame: z.number().int().min(0).max(9_999_999),
  count: z.number().int().min(1).max(mostTried).default(1),
});
export type TryFrame = z.infer<typeof tryFrameSchema>;

export const runFrameSchema = z.object({
  frame: z.number().int(),
  /** A frame that is being written is finished whole, also when its run is stopped. */
  state: z.enum(['waiting', 'writing', 'done', 'failed', 'cancelled']),
  message: z.string().nullable(),
  milliseconds: z.number().nullable(),
  bytes: z.number().nullable(),
  readBack: readBackSchema.nullable(),
  /** The process that has it in hand or had it last: its machine and number. */
  by: z.string().nullable().default(null),
});
export type RunFrame = z.infer<typeof runFrameSchema>;

export const runSchema = z.object({
  id: z.string(),
  outputId: z.string(),
  /** A run that is paused goes on where it stopped. */
  state: z.enum(['running', 'paused', 'done', 'failed', 'cancelled']),
  /** Why the whole of it failed, where no frame did: what becomes one file could not be put together. */
  message: z.string().nullable().default(null),
  startedAt: z.string(),
  finishedAt: z.string().nullable(),
  /** What has changed since it was written, in words; empty when the files would be the same now. */
  changedSince: z.array(z.string()),
  frames: z.array(runFrameSchema),
});
export type Run = z.infer<typeof runSchema>;

/** A line that somebody accepted, in its words, and why. */
export const acceptedSchema = z.object({ text: z.string(), reason: z.string(), at: z.string() });
export type Accepted = z.infer<typeof acceptedSchema>;
/** Accepts a line as it is, or takes that back. */
export const acceptSchema = z.object({
  text: z.string().min(1).max(2000),
  reason: z.string().trim().min(3, 'Say in a few words why it may be so.').max(500).nullable(),
});

/** Whether a line keeps a run from beginning. */
export const keepsFromWriting = ({ weight, accepted }: PreCheckItem): boolean =>
  weight === 'stop' || (weight === 'ask' && accepted === undefined);

/** One line of the list shown before writing. `mend` puts it right: changes of the output, of the shot's viewing, or of a source. */
export const preCheckItemSchema = z.object({
  /** `ask`: it keeps a run from beginning until it is put right, or a person accepts it with a reason. */
  weight: z.enum(['note', 'warning', 'ask', 'stop']),
  text: z.string(),
  /** Why a person accepts it, for as long as it says the same words. */
  accepted: acceptedSchema.omit({ text: true }).optional(),
  mend: z
    .object({
      words: z.string(),
      settings: outputSettingsSchema.partial().optional(),
      viewing: viewingChangeSchema.optional(),
      source: z.object({ id: z.string(), change: sourceChangeSchema }).optional(),
    })
    .optional(),
});
export type PreCheckItem = z.infer<typeof preCheckItemSchema>;
export const preCheckSchema = z.object({ items: z.array(preCheckItemSchema), existing: z.number().int() });
export const startRunSchema = z.object({ overwrite: z.boolean() });

/** What a hand-over wrote, below the output folder; `unsaid`: why there is no job file. */
export const handOverSchema = z.object({ page: z.string(), job: z.string().nullable(), unsaid: z.string().nullable() });
export type WrittenHandOver = z.infer<typeof handOverSchema>;
