import type { Job, JobOutput } from './job.ts';
import {
  codesOfSpace,
  codesWithoutView,
  hasQuality,
  holdsDeepSamples,
  holdsPictures,
  holdsStraightAlpha,
  isDithered,
  isOneFile,
  isPictureKind,
  mayHoldStraightAlpha,
  outputSettingsSchema,
  type OutputSettings,
} from './output.ts';
import { fileNameSchema, usualFileName } from './outputNames.ts';

/** An output as job files have it. `frames` are the job's, `pattern` is where its files lie from there, `nameOf` what the job calls a source. */
export function jobOutputOf(
  o: OutputSettings,
  {
    frames,
    workingSpace,
    pattern,
    nameOf,
  }: {
    readonly frames: readonly [first: number, last: number];
    readonly workingSpace: string;
    readonly pattern: string;
    readonly nameOf: (id: string) => string;
  },
): JobOutput {
  const light = o.kind === 'exr' || o.kind === 'dpx';
  return {
    name: o.name,
    kind: o.kind,
    space: light ? (o.space ?? workingSpace) : codesWithoutView(o) ? o.space : null,
    ...(o.kind === 'exr' ? { sampleType: o.sampleType, compression: o.compression } : {}),
    ...(o.kind === 'passes'
      ? {
          compression: o.compression,
          passes: o.passes.map((p) => ({ source: nameOf(p.sourceId), pass: p.pass })),
          ...(o.mattes.length ? { mattes: o.mattes } : {}),
          layering: o.layering,
        }
      : {}),
    ...(holdsDeepSamples(o.kind) && o.bits === 16 ? { sampleType: 'uint16' as const } : {}),
    ...(o.firstFrame === frames[0] && o.lastFrame === frames[1]
      ? {}
      : { frames: [o.firstFrame, o.lastFrame] as [number, number] }),
    ...(o.step === 1 ? {} : { step: o.step }),
    ...(o.crop ? { crop: o.crop, ...(o.kind === 'exr' && o.keepWindow ? { keepWindow: true } : {}) } : {}),
    ...(o.width === null ? {} : { width: o.width }),
    ...(holdsPictures(o) && o.codes ? { codes: o.codes } : {}),
    ...(o.kind === 'movie' ? { codec: o.codec } : {}),
    ...(o.kind === 'sheet' ? { columns: o.columns ?? undefined, labels: o.labels, sheetFile: o.sheetFile } : {}),
    ...(hasQuality(o) ? { quality: o.quality } : {}),
    ...(o.offset ? { offset: o.offset } : {}),
    ...(o.rate === null ? {} : { rate: o.rate }),
    ...(o.timecode === null ? {} : { timecode: o.timecode }),
    ...alphaOf(o),
    ...(isDithered(o) ? { dither: true } : {}),
    ...(o.owner ? { owner: o.owner } : {}),
    ...(o.comments ? { comments: o.comments } : {}),
    pattern,
  };
}

/** Whether alpha is written, where that is not what a job's kind of file does by itself. */
function alphaOf(o: OutputSettings): { alpha?: boolean } {
  if (o.kind === 'tiff' || o.kind === 'movie') return holdsStraightAlpha(o) ? { alpha: true } : {};
  const written = o.kind === 'png' ? holdsStraightAlpha(o) : o.alpha || (o.kind !== 'exr' && o.kind !== 'aces');
  return written ? {} : { alpha: false };
}

/** Whether a job's output writes alpha where its total has one: EXR and PNG unless they say otherwise, TIFF and ProRes where it is asked for. */
export function writesAlpha({ kind, codec = 'h264', alpha }: Pick<JobOutput, 'kind' | 'codec' | 'alpha'>): boolean {
  if (kind === 'tiff' || kind === 'movie') return mayHoldStraightAlpha({ kind, codec }) && alpha === true;
  return (kind === 'exr' || kind === 'aces' || kind === 'png') && alpha !== false;
}

/**
 * A job's output as the application has it, the way back; `sourceId` is what it calls a source of the job. Undefined for what it has no output for:
 * light through the viewing, codes of a space that is no display's.
 */
export function settingsOfJobOutput(
  output: JobOutput,
  { frames: all, working, viewing }: Pick<Job, 'frames' | 'working' | 'viewing'>,
  sourceId: (name: string) => string,
): OutputSettings | undefined {
  const { kind, space, sampleType, alpha, passes, pattern, codec, quality, frames = all, ...same } = output;
  const light = kind === 'exr' || kind === 'dpx';
  if (light && space === null) return undefined;
  if (space !== null && isPictureKind(kind) && (isOneFile({ kind }) || !codesOfSpace(space))) return undefined;
  const parsed = outputSettingsSchema.safeParse({
    ...same,
    kind,
    sampleType: sampleType === 'float' ? 'float' : 'half',
    compression: output.compression ?? 'zip',
    firstFrame: frames[0],
    lastFrame: frames[1],
    space: light && space === working ? null : space,
    bits: holdsDeepSamples(kind) && sampleType === 'uint16' ? 16 : 8,
    codec,
    quality: quality ?? usualQuality(kind),
    bakeLook: Boolean(viewing?.look || viewing?.lookFile),
    fileName: fileNameOf(pattern),
    alpha: isPictureKind(kind) || alpha !== false,
    transparent: isPictureKind(kind) && writesAlpha(output),
    passes: passes?.map((p) => ({ sourceId: sourceId(p.source), pass: p.pass })),
  });
  return parsed.success ? parsed.data : undefined;
}

/** Quality of jobs' files that do not say (common practice for delivery and review, no source). */
export const usualQuality = (kind: OutputSettings['kind']): number => (kind === 'movie' ? 70 : 95);

/** What a job's pattern calls files, without folders and ending. */
function fileNameOf(pattern: string): string {
  const name = fileNameSchema.safeParse(
    pattern
      .split('/')
      .at(-1)!
      .replace(/\.\w+$/, ''),
  );
  return name.success ? name.data : usualFileName;
}
