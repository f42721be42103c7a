import { displayCodes, isHdr, type CodeEncoding } from '@june-haze/core';
import {
  codesWithoutView,
  fileKindOf,
  holdsPictures,
  holdsStraightAlpha,
  type OutputSettings,
} from '@june-haze/contract';

/** What somebody must know to use files of an output, in plain words. */
export interface ReadItAs {
  /** What their numbers are. */
  readonly readAs: string;
  /** What shows them as they were meant. */
  readonly showWith: string;
  /** What is in the files that says so, and by which standard. */
  readonly saidBy: string;
}

/** How the shot was seen when the files were written, and in what its light is. */
export interface SeenThrough {
  readonly workingSpace: string;
  readonly viewing: { readonly display: string; readonly view: string; readonly look: string | undefined };
  /** The config that has the view, in words. */
  readonly config: string;
  /** What the codes of pictures are; undefined for a display that does not say. */
  readonly codes: CodeEncoding | undefined;
}

/** The words for an output's files. `alpha`: they carry one. */
export function readItAs(settings: OutputSettings, seen: SeenThrough, alpha: boolean): ReadItAs {
  return holdsPictures(settings)
    ? pictureWords(settings, seen, alpha && holdsStraightAlpha(settings))
    : lightWords(settings, seen, alpha);
}

function lightWords(settings: OutputSettings, seen: SeenThrough, alpha: boolean): ReadItAs {
  const { kind, space, sampleType, compression } = settings;
  const { display, view, look } = seen.viewing;
  const covers =
    alpha && (kind === 'exr' || kind === 'aces') ? 'colour is premultiplied by alpha' : 'there is no alpha';
  const looked = look ? `, and the look ${look}` : '';
  const showWith = `the view ${view} of the display ${display}${looked}, of ${seen.config}; it is not in the files`;
  const codes = codesWithoutView(settings);
  if (codes)
    return {
      readAs: `codes of ${displayCodes[codes].name}, ${kind === 'jpeg' ? 8 : settings.bits} bits, that are numbers of ${space} and went through no view; ${covers}`,
      showWith,
      saidBy:
        kind === 'png' ? 'cICP or an ICC profile, gAMA, cHRM (PNG, third edition)' : 'an ICC profile (ICC.1:2022)',
    };
  if (kind === 'passes')
    return {
      readAs: `passes as their sources have them, ${compression.toUpperCase()}: ${settings.passes.map((p) => p.pass).join(', ')}${settings.mattes.length ? `; mattes ${settings.mattes.join(', ')}` : ''}`,
      showWith,
      saidBy: 'chromaticities and colour identity of each source; names behind IDs in the manifests',
    };
  if (kind === 'dpx')
    return {
      readAs: `log numbers in ${space}, 10 bits; ${covers}`,
      showWith,
      saidBy:
        'transfer characteristic 3, logarithmic; the image element’s description names the curve (SMPTE ST 268-1)',
    };
  if (kind === 'aces')
    return {
      readAs: `linear light in ACES2065-1, half float, not packed; ${covers}`,
      showWith,
      saidBy: 'the ACES container’s flag, chromaticities, colour identity (SMPTE ST 2065-4)',
    };
  return {
    readAs: `${space ? `log numbers in ${space}` : `linear light in ${seen.workingSpace}`}, ${sampleType === 'half' ? 'half float' : 'float'}, ${compression.toUpperCase()}; ${covers}`,
    showWith,
    saidBy: space
      ? 'chromaticities, colour identity, and the attribute "space" with the curve'
      : 'chromaticities and colour identity, where the working space’s primaries are known',
  };
}

function pictureWords(settings: OutputSettings, { viewing, codes }: SeenThrough, alpha: boolean): ReadItAs {
  const { bits, codec, quality } = settings;
  const kind = fileKindOf(settings);
  const name = codes ? displayCodes[codes].name : viewing.display;
  const depth =
    kind === 'movie'
      ? codec === 'prores'
        ? `10 bits, ProRes ${alpha ? '4444' : '422'}`
        : `${isHdr(codes) ? 10 : 8} bits, ${codec === 'h264' ? 'H.264' : 'VP9'}, quality ${quality} of 100`
      : kind === 'jpeg'
        ? `8 bits, quality ${quality} of 100`
        : `${settings.kind === 'sheet' ? 8 : bits} bits`;
  const looked = viewing.look ? ` and the look ${viewing.look} are` : ' is';
  return {
    readAs: `codes of ${name}, ${depth}; ${alpha ? 'colour is not multiplied by alpha, which stands beside it' : 'there is no alpha'}${settings.kind === 'sheet' ? '; many frames on one sheet' : ''}`,
    showWith: `nothing more than a display of ${name}: the view ${viewing.view}${looked} in the numbers already`,
    saidBy: {
      png: 'cICP or an ICC profile, gAMA, cHRM (PNG, third edition)',
      jpeg: 'an ICC profile (ICC.1:2022)',
      tiff: 'an ICC profile (ICC.1:2022)',
      movie: 'primaries, transfer, matrix and range in stream and container (ITU-T H.273)',
    }[kind as 'png' | 'jpeg' | 'tiff' | 'movie'],
  };
}
