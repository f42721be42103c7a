import { execFile } from 'node:child_process';
import { promisify } from 'node:util';
import { codePointEvidence, FormatError, type FileFacts, type StoredType } from '@june-haze/core';
import { isVideo } from './videoCodes.ts';
import { onePicture, type CommonFacts } from '../formats/onePicture.ts';

const run = promisify(execFile);

/** What the movie library says of a stream, as far as it is used. */
interface Stream {
  readonly codec_name?: string;
  readonly profile?: string;
  readonly width?: number;
  readonly height?: number;
  readonly pix_fmt?: string;
  readonly sample_aspect_ratio?: string;
  readonly r_frame_rate?: string;
  readonly avg_frame_rate?: string;
  readonly nb_frames?: string;
  readonly nb_read_packets?: string;
  readonly duration?: string;
  readonly color_range?: string;
  readonly color_transfer?: string;
  readonly color_primaries?: string;
  readonly color_space?: string;
  readonly field_order?: string;
  readonly tags?: Readonly<Record<string, string>>;
  readonly side_data_list?: readonly { readonly rotation?: number }[];
}

/** Names of the movie library to code points of ITU-T H.273. */
const primaryCodes: Readonly<Record<string, number>> = {
  bt709: 1,
  bt470bg: 5,
  smpte170m: 6,
  bt2020: 9,
  smpte431: 11,
  smpte432: 12,
};
const transferCodes: Readonly<Record<string, number>> = {
  bt709: 1,
  gamma22: 4,
  bt470m: 4,
  gamma28: 5,
  smpte170m: 6,
  linear: 8,
  'iec61966-2-1': 13,
  'bt2020-10': 14,
  'bt2020-12': 15,
  smpte2084: 16,
  'arib-std-b67': 18,
};

/** What a movie says of itself, by way of ffprobe. Throws a FormatError when there is no picture in it or it cannot be read. */
export async function movieFacts(path: string, name: string, common: CommonFacts): Promise<FileFacts> {
  const stream = await probe(path, name);
  const rate = ratio(stream.r_frame_rate);
  const average = ratio(stream.avg_frame_rate) ?? rate;
  const variable = rate !== undefined && average !== undefined && Math.abs(average / rate - 1) > 0.01;
  const constant = variable ? average : rate;
  const frames = Number(stream.nb_read_packets ?? stream.nb_frames);
  const rotation = stream.side_data_list?.find((d) => d.rotation)?.rotation ?? 0;
  const turned = Math.abs(rotation) % 180 === 90;
  const [width, height] = turned ? [stream.height, stream.width] : [stream.width, stream.height];
  if (!width || !height || !frames) throw new FormatError(name, 'there is no picture in this movie.');
  const format = stream.pix_fmt ?? '';
  const alpha = /^(yuva|rgba|bgra|argb|abgr|gbrap|ya)/.test(format);
  const aspect = ratio(stream.sample_aspect_ratio?.replace(':', '/'));
  const range = stream.color_range === 'pc' ? 'full' : isVideo(format) ? 'legal' : 'full';
  const number = (x: number) => String(Number(x.toFixed(3)));
  return onePicture(common, {
    width,
    height,
    channels: alpha ? ['R', 'G', 'B', 'A'] : ['R', 'G', 'B'],
    alpha: alpha ? 'straight' : 'none',
    sampleType: storedType(format),
    codec: stream.codec_name ?? 'unknown',
    evidence: codePointEvidence(
      primaryCodes[stream.color_primaries ?? ''] ?? 2,
      transferCodes[stream.color_transfer ?? ''] ?? 2,
      'video tags',
    ),
    attributes: attributesOf(stream),
    pixelAspect: aspect && aspect > 0 ? aspect : 1,
    rate: constant ?? null,
    rateFrom:
      constant === undefined ? null : variable ? 'the movie’s average, its own rate varies' : 'the movie’s stream',
    timecode: stream.tags?.timecode ?? null,
    frames,
    range,
    notes: [
      ...(variable ? [`Its rate varies; it is taken as a constant ${number(average)} frames a second.`] : []),
      ...(rotation ? [`It is turned by ${rotation}° for display, as its own data ask.`] : []),
      ...(stream.field_order && !['progressive', 'unknown'].includes(stream.field_order)
        ? ['It is interlaced; its fields are not separated.']
        : []),
    ],
  });
}

async function probe(path: string, name: string): Promise<Stream> {
  // A movie may name other files and addresses; none is followed.
  const wanted = [
    '-v',
    'error',
    '-protocol_whitelist',
    'file',
    '-select_streams',
    'v:0',
    '-count_packets',
    '-show_streams',
    '-of',
    'json',
  ];
  let text: string;
  try {
    text = (await run('ffprobe', [...wanted, `file:${path}`], { timeout: 60_000, maxBuffer: 16 << 20 })).stdout;
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    if (code === 'ENOENT')
      throw new FormatError(name, 'movies need ffmpeg, which is not installed; npm start installs it.');
    throw new FormatError(name, 'this movie cannot be read; it is damaged or not whole.');
  }
  const [stream] = (JSON.parse(text) as { streams?: Stream[] }).streams ?? [];
  if (!stream) throw new FormatError(name, 'there is no picture in this movie.');
  return stream;
}

function ratio(text: string | undefined): number | undefined {
  const [over, under = 1] = text?.split('/').map(Number) ?? [];
  return over !== undefined && over > 0 && under > 0 ? over / under : undefined;
}

function storedType(format: string): StoredType {
  if (/f32/.test(format)) return 'float';
  const bits = Number(/(9|10|12|14|16)(le|be)?$/.exec(format)?.[1] ?? (/48|64/.test(format) ? 16 : 8));
  return bits <= 8 ? 'uint8' : bits <= 10 ? 'uint10' : bits <= 12 ? 'uint12' : 'uint16';
}

function attributesOf(stream: Stream): Record<string, string> {
  const found: Record<string, string> = {};
  const keep = (name: string, value: string | undefined) => value && (found[name] = value);
  keep('codec', [stream.codec_name, stream.profile].filter(Boolean).join(', '));
  keep('pixel format', stream.pix_fmt);
  keep('colour range', stream.color_range);
  keep('colour primaries', stream.color_primaries);
  keep('transfer', stream.color_transfer);
  keep('matrix', stream.color_space);
  keep('field order', stream.field_order);
  for (const [key, value] of Object.entries(stream.tags ?? {})) keep(key, value);
  return found;
}
