import type { LogEncoding } from './curves.ts';
import {
  ap0,
  ap1,
  p3d65,
  rec2020,
  rec709,
  samePrimaries,
  sGamut3,
  sGamut3Cine,
  vGamut,
  wideGamut3,
  wideGamut4,
  wideGamutRgb,
  type Primaries,
} from './primaries.ts';

/** How a space's numbers relate to linear light. */
export type Encoding =
  'linear' | 'srgb' | 'rec709' | 'bt1886' | 'g18' | 'g22' | 'g26' | 'pq' | 'hlg' | 'acescc' | 'data' | LogEncoding;

export interface ColourSpace {
  /** The name used everywhere: interface, documents, command line. */
  readonly name: string;
  readonly aliases: readonly string[];
  readonly encoding: Encoding;
  readonly primaries: Primaries;
  readonly family: 'scene-linear' | 'log' | 'display' | 'data';
  /** The identity written to and read from EXR headers (Color Interop Forum recommendation; names from memory). */
  readonly interopId: string;
  /** One line for a person choosing it. */
  readonly about: string;
}

const linear = (
  name: string,
  primaries: Primaries,
  interopId: string,
  aliases: string[],
  about: string,
): ColourSpace => ({
  name,
  aliases: [interopId, ...aliases],
  encoding: 'linear',
  primaries,
  family: 'scene-linear',
  interopId,
  about,
});

const shown = (
  name: string,
  encoding: Encoding,
  interopId: string,
  aliases: string[],
  about: string,
  primaries: Primaries = rec709,
): ColourSpace => ({
  name,
  aliases: [interopId, ...aliases],
  encoding,
  primaries,
  family: 'display',
  interopId,
  about,
});

const log = (
  name: string,
  encoding: LogEncoding | 'acescc',
  primaries: Primaries,
  aliases: string[],
  about: string,
): ColourSpace => ({
  name,
  aliases,
  encoding,
  primaries,
  family: 'log',
  interopId: name,
  about,
});

/** The spaces of the built-in config. */
export const colourSpaces: readonly ColourSpace[] = [
  linear('ACEScg', ap1, 'lin_ap1_scene', ['lin_ap1', 'AP1'], 'Linear, AP1 primaries: renders set up for ACES'),
  linear(
    'Linear Rec.709',
    rec709,
    'lin_rec709_scene',
    ['lin_rec709', 'Linear Rec.709 (sRGB)', 'lin_srgb', 'Linear sRGB'],
    'Linear, Rec.709 primaries: what most renderers write by themselves',
  ),
  linear('ACES2065-1', ap0, 'lin_ap0_scene', ['lin_ap0', 'AP0'], 'Linear, AP0 primaries: interchange'),
  linear('Linear Rec.2020', rec2020, 'lin_rec2020_scene', ['lin_rec2020'], 'Linear, Rec.2020 primaries'),
  linear('Linear P3-D65', p3d65, 'lin_p3d65_scene', ['lin_p3d65'], 'Linear, P3 primaries, white D65'),
  shown(
    'sRGB',
    'srgb',
    'srgb_rec709_scene',
    ['srgb_tx', 'srgb_texture', 'sRGB - Texture'],
    'Encoded pictures: PNG, JPEG, screen grabs',
  ),
  shown(
    'Rec.709',
    'rec709',
    'itu709_rec709_scene',
    ['itu709', 'BT.709'],
    'Video encoded with the camera curve of BT.709',
  ),
  shown(
    'BT.1886',
    'bt1886',
    'g24_rec709_scene',
    ['Rec.1886', 'Gamma 2.4'],
    'Graded video, as a reference monitor decodes it',
  ),
  shown('Gamma 1.8', 'g18', 'g18_rec709_scene', ['g18'], 'A plain power of 1.8, Rec.709 primaries'),
  shown('Gamma 2.2', 'g22', 'g22_rec709_scene', ['g22'], 'A plain power of 2.2, Rec.709 primaries'),
  shown(
    'Display P3',
    'srgb',
    'srgb_p3d65_scene',
    ['P3-D65 sRGB'],
    'The sRGB curve on P3 primaries: telephones, laptops',
    p3d65,
  ),
  shown(
    'P3 gamma 2.6',
    'g26',
    'g26_p3d65_scene',
    ['P3-D65 gamma 2.6'],
    'Cinema projection, white D65: P3 primaries, a plain power of 2.6',
    p3d65,
  ),
  shown('BT.2020', 'bt1886', 'g24_rec2020_scene', ['Rec.2020'], 'Graded wide-gamut video, gamma 2.4', rec2020),
  shown(
    'PQ',
    'pq',
    'pq_rec2020_display',
    ['ST 2084', 'Rec.2100-PQ'],
    'HDR video, BT.2020 primaries; 1 is 100 cd/m²',
    rec2020,
  ),
  shown(
    'HLG',
    'hlg',
    'hlg_rec2020_display',
    ['Rec.2100-HLG', 'BT.2100 HLG'],
    'HDR video for a display of 1000 cd/m², BT.2020 primaries; light of 1 is 100 cd/m²',
    rec2020,
  ),
  log('ACEScc', 'acescc', ap1, ['acescc_ap1'], 'Log all the way, AP1 primaries: grading in ACES'),
  log('ACEScct', 'acescct', ap1, ['acescct_ap1'], 'Log, AP1 primaries: grading in ACES'),
  log('S-Log3 S-Gamut3', 'slog3', sGamut3, ['slog3_sgamut3'], 'Camera log, its widest gamut'),
  log('S-Log3 S-Gamut3.Cine', 'slog3', sGamut3Cine, ['slog3_sgamut3cine'], 'Camera log, the gamut for grading'),
  log('LogC3', 'logc3', wideGamut3, ['LogC', 'logc3_awg3'], 'Camera log at exposure index 800, wide gamut 3'),
  log('LogC4', 'logc4', wideGamut4, ['logc4_awg4'], 'Camera log, wide gamut 4'),
  log('Log3G10', 'log3g10', wideGamutRgb, ['log3g10_rwg'], 'Camera log, 18 % grey at a third'),
  log('V-Log', 'vlog', vGamut, ['vlog_vgamut'], 'Camera log, V-Gamut'),
  {
    name: 'Raw',
    aliases: ['data', 'none'],
    encoding: 'data',
    primaries: rec709,
    family: 'data',
    interopId: 'data',
    about: 'Numbers that are no colour: depth, position, normals, IDs',
  },
];

/** Finds a space by name or alias, ignoring case; undefined when there is none. */
export function findSpace(name: string): ColourSpace | undefined {
  const wanted = name.toLowerCase();
  return colourSpaces.find((s) => s.name.toLowerCase() === wanted || s.aliases.some((a) => a.toLowerCase() === wanted));
}

/** Finds a space by name. Throws an UnknownNameError that lists what there is. */
export function requireSpace(name: string): ColourSpace {
  const space = findSpace(name);
  if (!space)
    throw new UnknownNameError(
      'colour space',
      name,
      colourSpaces.map((s) => s.name),
    );
  return space;
}

/** The linear space with these primaries, if it is one of ours. */
export function linearSpaceOf(primaries: Primaries): ColourSpace | undefined {
  return colourSpaces.find((s) => s.encoding === 'linear' && samePrimaries(s.primaries, primaries));
}

/** Spaces that can be a working space: linear light only, since sums of light are sums only there. */
export const workingSpaces = colourSpaces.filter((s) => s.encoding === 'linear');

export class UnknownNameError extends Error {
  constructor(what: string, name: string, known: readonly string[]) {
    super(`There is no ${what} named "${name}"; the config has ${known.join(', ')}.`);
    this.name = 'UnknownNameError';
  }
}
