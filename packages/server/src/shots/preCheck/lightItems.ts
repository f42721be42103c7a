import { displayCodes, findSpace, type ColourSpace } from '@june-haze/core';
import { codesWithoutView, sourcesOfOutput, usualLog, type PreCheckItem } from '@june-haze/contract';
import { lookName } from '../outputs.ts';
import { note, stop, warning, type Asked } from './lines.ts';

/** Of files that hold light, or log numbers that lead to it. */
export function lightItems(asked: Asked): PreCheckItem[] {
  const { shot, settings, colours } = asked;
  const { kind, space } = settings;
  const codes = codesWithoutView(settings);
  const { display, view } = shot.viewing;
  const back = kind !== 'aces' && space ? findSpace(space) : undefined;
  const look = lookName(shot.viewing);
  const viewed = `The view ${display} / ${view} is shown only, not written.`;
  return [
    ...spaceItems(asked, back),
    ...(look ? [note(`The look ${look} is shown only, not written.`)] : []),
    note(
      codes
        ? `Codes of ${displayCodes[codes].name}, without the viewing: numbers of ${space} as they are read. Light above 1 is cut off. Alpha is dropped. ${viewed}`
        : kind === 'dpx'
          ? `10 bits in ${back?.name ?? 'a log space'}, named in the file. Alpha is dropped. ${viewed}`
          : back
            ? `Numbers in ${back.name}, with chromaticities and colour identity. ${settings.alpha ? 'Alpha stays as it is. ' : ''}${viewed}`
            : `Linear numbers in ${kind === 'aces' ? 'ACES2065-1, in the ACES container form' : shot.workingSpace}, with chromaticities and colour identity. ${viewed}`,
    ),
    ...(settings.alpha || (kind !== 'exr' && kind !== 'aces')
      ? []
      : [note('Alpha is left out: the light stands as over black.')]),
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
  const used = sourcesOfOutput(settings, shot.ledger.document, (e) => e.enabled);
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
  if (codesWithoutView(settings)) {
    const came = shot.sources.some((s) => used.has(s.id) && s.declaredSpace === space);
    const text = `No source came in ${space}, and these files hold its codes without the viewing: bright light is cut off in them.`;
    return came ? [] : [warning(text, { words: 'Write what is shown', settings: { space: null } })];
  }
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
