import { displayCodes, distinctNames, nameOfFrame } from '@june-haze/core';
import { extensionOf, holdsPictures, isOneFile, sizeOfOutput, type OutputSettings } from './output.ts';
import { namedWord, type NameWord } from './outputNames.ts';

/** A name as part of a file's: letters and digits of any alphabet stay, what lies between becomes a line. */
const plain = (s: string) =>
  s
    .normalize('NFC')
    .toLowerCase()
    .replace(/[^\p{L}\p{M}\p{N}-]+/gu, '_')
    .replace(/^_+|_+$/g, '');

/** The folder that a shot's files usually go to, below the output folder. A name without any letter or digit gives way to the shot's id. */
export const folderOfShot = (shot: { readonly id: string; readonly name: string }): string =>
  plain(shot.name) || `shot-${shot.id.slice(0, 8)}`;

/** What of a shot stands in the names of its files. */
export interface NamedShot {
  readonly id: string;
  readonly name: string;
  readonly workingSpace: string;
  readonly viewing: { readonly display: string };
  readonly rate: number;
  readonly width: number;
  readonly height: number;
}

/** What an output's numbers are, in a word: a space, or a display or its codes. */
function spaceWord(settings: OutputSettings, shot: NamedShot): string {
  const { kind, codes, space } = settings;
  if (holdsPictures(settings)) return codes ? displayCodes[codes].spaces[0]! : shot.viewing.display;
  if (kind === 'passes') return 'passes';
  return kind === 'aces' ? 'ACES2065-1' : (space ?? shot.workingSpace);
}

/**
 * The names of an output's files below the output folder, as they will be: `shot/shot_output_space.####.ext` unless its settings say otherwise.
 * What is one file has no frame in its name.
 */
export function outputPattern(shot: NamedShot, settings: OutputSettings): string {
  const { width, height } = sizeOfOutput(settings, shot);
  const words: Record<NameWord, string> = {
    '{shot}': folderOfShot(shot),
    '{output}': plain(settings.name) || 'output',
    '{space}': plain(spaceWord(settings, shot)) || 'space',
    '{size}': `${width}x${height}`,
    '{rate}': String(settings.rate ?? shot.rate).replace('.', '-'),
    // Each pass has its own word there; see `filesOfFrame`.
    '{pass}': hasFileEach(settings) ? '{pass}' : '',
  };
  const said = (name: string) => name.replace(namedWord, (w) => words[w as NameWord] ?? w).normalize('NFC');
  const file = said(settings.fileName);
  const whole = isOneFile(settings) ? file.replace(/[._ -]*#+/, '') || settings.kind : file;
  return `${said(settings.folder)}/${whole}.${extensionOf(settings)}`;
}

/** Whether each pass of an output has a file of its own. */
export const hasFileEach = ({ kind, layering }: Pick<OutputSettings, 'kind' | 'layering'>): boolean =>
  kind === 'passes' && layering === 'files';

/** The file of a frame: its number in the name is the shot's and the output's offset. */
export const fileOfFrame = (
  { pattern, settings }: { readonly pattern: string; readonly settings: Pick<OutputSettings, 'offset'> },
  frame: number,
): string => nameOfFrame(pattern, frame + settings.offset);

/** What passes and mattes are called where each has a file of its own, in their order. */
export const wordsOfPasses = ({ passes, mattes }: Pick<OutputSettings, 'passes' | 'mattes'>): string[] =>
  distinctNames([...passes.map((p) => p.pass), ...mattes].map((n) => plain(n) || 'pass'));

/** All files of a frame: one, or one for each pass. */
export function filesOfFrame(
  recipe: {
    readonly pattern: string;
    readonly settings: Pick<OutputSettings, 'kind' | 'layering' | 'passes' | 'mattes' | 'offset'>;
  },
  frame: number,
): string[] {
  const { pattern, settings } = recipe;
  if (!hasFileEach(settings)) return [fileOfFrame(recipe, frame)];
  return wordsOfPasses(settings).map((word) =>
    fileOfFrame({ pattern: pattern.replaceAll('{pass}', word), settings }, frame),
  );
}
