import {
  arePlainLevels,
  bakedLooks,
  displayCodes,
  findSpace,
  shareWords,
  sourcesOf,
  walkEntries,
  type CodeEncoding,
  type ColourSpace,
} from '@june-haze/core';
import {
  countOfFrames,
  holdsDeepSamples,
  holdsPictures,
  placeOfFrame,
  sizeOfOutput,
  usualLog,
  type OutputSettings,
  type PreCheckItem,
  type Shot,
} from '@june-haze/contract';
import { movieSays } from '@june-haze/files';
import type { WritingColours } from '../compute/colourTasks.ts';
import { filesInTheWay, lookName } from './outputs.ts';

/** What becomes of bad frames, in the words of the list before writing. */
const onFault = {
  stop: 'will fail; the others are written.',
  hold: 'will hold the last good one.',
  black: 'will be left black.',
} as const;

/** Bytes of an output's files if none of them could be packed at all: an alpha is reckoned with. */
function largestSize(shot: Shot, settings: OutputSettings): number {
  const { kind, sampleType, bits } = settings;
  const { width, height } = sizeOfOutput(settings, shot);
  const light = !holdsPictures(settings);
  const sample = light ? (kind === 'exr' && sampleType === 'float' ? 4 : 2) : holdsDeepSamples(kind) ? bits / 8 : 1;
  return width * height * (light ? 4 : 3) * sample * countOfFrames(settings);
}

const gigabytes = (bytes: number) => `${(bytes / 1e9).toFixed(bytes < 1e9 ? 2 : 1)} GB`;

/** What a source gives outside of the frames that it has. */
const beyondWords = {
  stop: 'writing fails',
  nothing: 'its rows rest',
  hold: 'its first and its last frame are held',
  loop: 'it begins again',
  thereAndBack: 'it runs there and back',
} as const;

const pacedWords = ({ reading: { speed } }: Shot['sources'][number]) =>
  [...(speed < 0 ? ['backwards'] : []), Math.abs(speed) > 1 ? 'frames are left out' : 'frames are repeated'].join(', ');

/** What the list before writing is made of. */
interface Asked {
  readonly shot: Shot;
  readonly settings: OutputSettings;
  readonly colours: WritingColours;
}

const stop = (text: string, mend?: PreCheckItem['mend']): PreCheckItem => ({
  weight: 'stop',
  text,
  ...(mend ? { mend } : {}),
});
const warning = (text: string, mend?: PreCheckItem['mend']): PreCheckItem => ({
  weight: 'warning',
  text,
  ...(mend ? { mend } : {}),
});
const note = (text: string): PreCheckItem => ({ weight: 'note', text });

/** What a person should know before files are written: what stops it, what is worth a second look, and what will be. */
export function preCheck(
  shot: Shot,
  settings: OutputSettings,
  pattern: string,
  outputFolder: string,
  colours: WritingColours,
  { clash, free }: { readonly clash?: string | undefined; readonly free?: number | undefined } = {},
): { items: PreCheckItem[]; existing: number } {
  const asked = { shot, settings, colours };
  const { document } = shot.ledger;
  const entries = [...walkEntries(document.entries)].filter((e) => e.enabled);
  const existing = filesInTheWay(outputFolder, pattern, settings).length;
  const off = shot.balances.filter((b) => !b.balanced).map((b) => b.share);
  const room = largestSize(shot, settings);
  const items = [
    ...(clash === undefined ? [] : [stop(clash)]),
    ...(entries.length ? [] : [stop('The ledger is empty: there is nothing to write. Build the picture first.')]),
    ...(settings.lastFrame < settings.firstFrame
      ? [stop(`The range ${settings.firstFrame}–${settings.lastFrame} runs backwards.`)]
      : []),
    ...sizeItems(asked),
    ...sourceItems(asked),
    ...bakedLooks(document).map(({ entry, look }) =>
      warning(`The look ${look} is baked into the entry ${entry}: it is in every file.`),
    ),
    ...(holdsPictures(settings) ? pictureItems(asked) : lightItems(asked)),
    ...(settings.kind === 'movie' ? movieItems(asked) : []),
    ...(off.length ? [note(`The total differs from the beauty by ${shareWords(Math.max(...off))}, as built.`)] : []),
    ...(free !== undefined && room > free
      ? [
          warning(
            `The files may take up to ${gigabytes(room)}, and ${gigabytes(free)} are free there; a frame that is tried tells more.`,
          ),
        ]
      : []),
    ...(existing
      ? [warning(`${existing} ${existing === 1 ? 'file is' : 'files are'} already there and would be replaced.`)]
      : []),
  ];
  return { items, existing };
}

/** What is left out of the shot's picture and range, and how it is made another size. */
function sizeItems({ shot, settings }: Asked): PreCheckItem[] {
  const { crop, step } = settings;
  const { crop: part, ...size } = sizeOfOutput(settings, shot);
  const outside = part.x + part.width > shot.width || part.y + part.height > shot.height;
  if (outside)
    return [
      stop(
        `The part of ${part.width}×${part.height} from ${part.x}, ${part.y} does not lie in ${shot.width}×${shot.height}.`,
        {
          words: 'Take all of it',
          settings: { crop: null },
        },
      ),
    ];
  const resized = size.width !== part.width || size.height !== part.height;
  return [
    ...(crop ? [note(`A part of the picture: ${part.width}×${part.height} from ${part.x}, ${part.y}.`)] : []),
    ...(resized
      ? [
          note(
            `${size.width}×${size.height}, filtered in light by Mitchell and Netravali’s cubic${size.width > part.width ? '; larger than its pixels are' : ''}.`,
          ),
        ]
      : []),
    ...(step > 1 ? [note(`One frame of every ${step}, ${countOfFrames(settings)} in all.`)] : []),
  ];
}

/** Frames that are not there, ranges that are too short, and spaces that nobody confirmed. */
function sourceItems({ shot, settings }: Asked): PreCheckItem[] {
  const used = sourcesOf(shot.ledger.document, (e) => e.enabled);
  return shot.sources.filter((s) => used.has(s.id)).flatMap((source) => itemsOfSource(source, settings));
}

function itemsOfSource(source: Shot['sources'][number], settings: OutputSettings): PreCheckItem[] {
  const { name, reading, missing, damaged } = source;
  const items: PreCheckItem[] = [];
  const inRange = (frame: number) =>
    frame >= settings.firstFrame && frame <= settings.lastFrame && Number.isInteger(placeOfFrame(settings, frame));
  const counts = [
    [missing.filter(inRange).length, 'missing'],
    [damaged.filter((d) => inRange(d.frame)).length, 'damaged'],
  ] as const;
  for (const [count, what] of counts) {
    if (!count) continue;
    const stops = reading.onFault === 'stop';
    const then =
      stops && settings.kind === 'movie' ? 'will fail, and no movie is made of the others.' : onFault[reading.onFault];
    const text = `${name}: ${count} ${what} ${count === 1 ? 'frame' : 'frames'} in the range ${then}`;
    items.push(stops ? warning(text) : note(text));
  }
  if (!source.still && (settings.firstFrame < source.firstFrame || settings.lastFrame > source.lastFrame)) {
    const text = `${name} has frames ${source.firstFrame}–${source.lastFrame} only; outside of them ${beyondWords[reading.beyond]}.`;
    items.push(reading.beyond === 'stop' ? warning(text) : note(text));
  }
  if (reading.speed !== 1)
    items.push(note(`${name} runs at ${reading.speed} of its speed, by whole frames: ${pacedWords(source)}.`));
  if (!source.confirmed)
    items.push(warning(`${name}: its space (${source.declaredSpace ?? 'none'}) is not confirmed by a person.`));
  return items;
}

/** Of files that hold light, or log numbers that lead to it. */
function lightItems(asked: Asked): PreCheckItem[] {
  const { shot, settings, colours } = asked;
  const { kind, space } = settings;
  const { display, view } = shot.viewing;
  const back = kind !== 'aces' && space ? findSpace(space) : undefined;
  const look = lookName(shot.viewing);
  const viewed = `The view ${display} / ${view} is shown only, not written.`;
  return [
    ...spaceItems(asked, back),
    ...(look ? [note(`The look ${look} is shown only, not written.`)] : []),
    note(
      kind === 'dpx'
        ? `10 bits in ${back?.name ?? 'a log space'}, named in the file. Alpha is dropped. ${viewed}`
        : back
          ? `Numbers in ${back.name}, with chromaticities and colour identity. Alpha stays as it is. ${viewed}`
          : `Linear numbers in ${kind === 'aces' ? 'ACES2065-1, in the ACES container form' : shot.workingSpace}, with chromaticities and colour identity. ${viewed}`,
    ),
    ...(kind === 'exr' && ['b44', 'b44a', 'dwaa', 'dwab'].includes(settings.compression)
      ? [note(`${settings.compression.toUpperCase()} loses a little on purpose; the read-back proof says how much.`)]
      : []),
    ...(kind === 'aces' || (kind === 'exr' && settings.sampleType === 'half')
      ? [note('Half float: values above 65,504 become infinite.')]
      : []),
    ...(colours.hasTwin || back || kind !== 'exr'
      ? []
      : [warning(`The primaries of ${shot.workingSpace} are not known: the files carry no chromaticities.`)]),
  ];
}

/** The space of the files against what is known of it, and against those that the plates came in. */
function spaceItems({ shot, settings, colours }: Asked, back: ColourSpace | undefined): PreCheckItem[] {
  const { kind, space } = settings;
  if (kind === 'aces')
    return colours.hasTwin
      ? []
      : [stop(`${shot.workingSpace} has no known way to ACES2065-1: the ACES container cannot be written from it.`)];
  const used = sourcesOf(shot.ledger.document, (e) => e.enabled);
  const plates = shot.sources.filter((s) => used.has(s.id) && findSpace(s.declaredSpace ?? '')?.family === 'log');
  const [plate] = plates;
  const mend = plate && { words: `Write in ${plate.declaredSpace}`, settings: { space: plate.declaredSpace } };
  if (space && !back) return [stop(`There is no space named ${space} to write in.`)];
  if (kind === 'dpx' && back?.family !== 'log')
    return [
      stop(
        'A DPX holds a log curve in 10 bits, and no working space: choose a log space.',
        mend ?? { words: `Write in ${usualLog}`, settings: { space: usualLog } },
      ),
    ];
  const linear = back === undefined || back.encoding === 'linear';
  if (linear && plate)
    return [
      warning(
        `${plate.name} came in ${plate.declaredSpace}, and these files are linear; to go back as it came they must be in its space.`,
        mend,
      ),
    ];
  if (!linear && plates.length === 0)
    return [
      warning(`No source came in a log curve, and these files are in ${back.name}: who takes them must know.`, {
        words: `Write in ${shot.workingSpace}`,
        settings: kind === 'exr' ? { space: null } : { kind: 'exr', space: null },
      }),
    ];
  return [];
}

/** Of files that hold what is shown. */
function pictureItems(asked: Asked): PreCheckItem[] {
  const { shot, settings, colours } = asked;
  const { display, view, exposure, black, white, gamma } = shot.viewing;
  const look = lookName(shot.viewing);
  const trims = [
    ...(arePlainLevels({ black, white }) ? [] : [`levels, ${black} to ${white}, are`]),
    ...(gamma === 1 ? [] : [`gamma of ${gamma} is`]),
    ...(exposure === 0 ? [] : [`exposure of ${exposure.toFixed(1)} stops is`]),
  ];
  return [
    note(`Through the viewing: ${display} / ${view}. Values above what the display shows are clipped.`),
    ...saidItems(asked),
    ...(colours.viewIsLinear
      ? [
          stop(
            `The view ${view} leaves numbers linear, and the files would be tagged as codes of ${display}: they would be seen dark and wrong.`,
            toned(colours, colours.display),
          ),
        ]
      : []),
    ...(look && settings.bakeLook
      ? [
          warning(`The look ${look} is baked into these files.`, {
            words: 'Leave it out',
            settings: { bakeLook: false },
          }),
        ]
      : []),
    ...(look && !settings.bakeLook
      ? [note(`The look ${look} is shown only, not written; the output can ask for it.`)]
      : []),
    note('Alpha is dropped.'),
    ...(holdsDeepSamples(settings.kind) ? [note(`${settings.bits} bits a sample.`)] : []),
    ...(settings.kind === 'jpeg' ? [note(`Lossy, quality ${settings.quality} of 100.`)] : []),
    ...trims.map((t) => warning(`The viewing ${t} baked into these files.`, plainViewing)),
  ];
}

const plainViewing: PreCheckItem['mend'] = {
  words: 'View plainly',
  viewing: { exposure: 0, black: 0, white: 1, gamma: 1 },
};

const toned = (colours: WritingColours, encoding: CodeEncoding | undefined): PreCheckItem['mend'] => {
  const other = encoding && colours.others[encoding];
  return other && { words: `See through ${other.display} · ${other.view}`, viewing: other };
};

/** Whether files of the kind can say what the display's codes are. */
function saidItems({ shot, settings, colours }: Asked): PreCheckItem[] {
  const { display } = shot.viewing;
  if (!colours.display)
    return [
      stop(
        `Pictures for ${display} cannot be tagged: choose a display of sRGB, Rec.709, P3 or PQ codes.`,
        toned(colours, 'srgb') ?? toned(colours, 'bt1886'),
      ),
    ];
  if (settings.codes && colours.display === 'pq')
    return [
      stop('Codes of PQ say how bright light is, and no other display can be reckoned from them.', {
        words: 'Write the display’s own codes',
        settings: { codes: null },
      }),
    ];
  const encoding = settings.codes ?? colours.display;
  const { name, iccCurve } = displayCodes[encoding];
  const profiled = settings.kind === 'jpeg' || settings.kind === 'tiff';
  if (profiled && !iccCurve)
    return [
      stop(`Codes of ${name} cannot be said in a ${settings.kind.toUpperCase()}: its profile has no word for them.`, {
        words: 'Write PNG of 16 bits',
        settings: { kind: 'png', bits: 16 },
      }),
    ];
  if (settings.kind === 'movie' && !movieSays(settings.codec, encoding))
    return [
      stop(
        `${codecNames[settings.codec]} movies have no number for ${name}: they would say nothing, or something wrong.`,
        asRec709,
      ),
    ];
  if (settings.codes && settings.codes !== colours.display)
    return [note(`Written as codes of ${name} that show the same light as those of ${display}.`)];
  const web = settings.kind === 'png' || settings.kind === 'jpeg';
  if (web && encoding !== 'srgb' && encoding !== 'pq')
    return [
      {
        ...note(`The codes are ${name}, and tagged so; what shows pictures without asking takes them for sRGB.`),
        mend: { words: 'Write sRGB codes', settings: { codes: 'srgb' } },
      },
    ];
  return [];
}

/** What a movie's player takes for granted. */
const asRec709: PreCheckItem['mend'] = { words: 'Write Rec.709 codes', settings: { codes: 'bt1886' } };

const codecNames = { h264: 'H.264', vp9: 'VP9', prores: 'ProRes' } as const;

/** What movies ask for besides. */
function movieItems({ shot, settings, colours }: Asked): PreCheckItem[] {
  const { rate } = shot;
  const { codec, quality } = settings;
  const { width, height } = sizeOfOutput(settings, shot);
  const odd = codec === 'h264' ? width % 2 || height % 2 : codec === 'prores' ? width % 2 : 0;
  const seconds = countOfFrames(settings) / rate;
  const deep = codec === 'prores' || colours.display === 'pq';
  return [
    ...(odd
      ? [
          stop(`${codecNames[codec]} halves colour, and ${width}×${height} has an odd side.`, {
            words: 'Write VP9',
            settings: { codec: 'vp9' },
          }),
        ]
      : []),
    ...((settings.codes ?? colours.display) === 'srgb' && codec !== 'prores'
      ? [
          warning(
            'The movie says that its codes are sRGB; players that ask no movie what it is take it for Rec.709 and show it darker.',
            asRec709,
          ),
        ]
      : []),
    note(
      `${codecNames[codec]}, ${deep ? 10 : 8} bits, ${codec === 'prores' ? 'colour at half the width' : `colour at half the size, quality ${quality} of 100`}; ${seconds.toFixed(2)} s at ${rate}.`,
    ),
    note('Its frames are kept beside it, hidden, until all are there; then it is put together and read back.'),
  ];
}
