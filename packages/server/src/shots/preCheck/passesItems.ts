import { dataRoles, isLossless, isOfWhatItIsAppliedTo } from '@june-haze/core';
import { hasFileEach, type PreCheckItem, type Shot } from '@june-haze/contract';
import { note, stop, type Asked } from './lines.ts';

/** Of passes that are packed anew: what is chosen, whether it goes together, and that it stays as it came. */
export function passesItems({ shot, settings }: Asked): PreCheckItem[] {
  const { passes, mattes, layering, compression, fileName } = settings;
  const chosen = passes.map((c) => {
    const source = shot.sources.find((s) => s.id === c.sourceId);
    return { ...c, source, found: source?.passes.find((p) => p.name === c.pass) };
  });
  const gone = chosen.filter((c) => !c.found).map((c) => c.pass);
  const all = shot.ledger.document.mattes ?? {};
  const lost = mattes.filter((m) => !Object.hasOwn(all, m));
  const bound = mattes.filter((m) => isOfWhatItIsAppliedTo(m, all));
  const others = [...new Set(chosen.flatMap(({ source: s }) => (s && s.fileKind !== 'exr' ? [s.name] : [])))];
  const lit = chosen.filter((c) => c.found && !dataRoles.has(c.found.role));
  const spaces = [...new Set(lit.map((c) => c.source!.declaredSpace))];
  const parts = { words: 'Write parts', settings: { layering: 'parts' as const } };
  const channels = chosen.reduce((n, c) => n + (c.found?.channels.length ?? 0), 0);
  return [
    ...(passes.length + mattes.length ? [] : [stop('No pass is chosen: there is nothing to write.')]),
    ...(gone.length ? [stop(`Gone from the shot: ${gone.join(', ')}.`, without(settings.passes, gone))] : []),
    ...lost.map((m) => stop(`The ledger has no matte "${m}".`)),
    ...bound.map((m) => stop(`The matte "${m}" is made of what it is applied to: there is nothing of it alone.`)),
    ...others.map((name) => stop(`${name} is no EXR: only passes of EXR files are packed anew.`)),
    ...(isLossless(compression)
      ? []
      : [
          stop(`${compression.toUpperCase()} loses a little, and IDs and depths lose all by it.`, {
            words: 'Pack with ZIP',
            settings: { compression: 'zip' },
          }),
        ]),
    ...(layering === 'together' && spaces.length > 1
      ? [stop(`${spaces.map((s) => s ?? 'no space').join(' and ')} cannot both be said in one part.`, parts)]
      : []),
    ...(layering === 'together' &&
    sizesOf(
      shot,
      chosen.flatMap((c) => c.source ?? []),
      mattes,
    ) > 1
      ? [stop('Pictures of several sizes do not go into one part.', parts)]
      : []),
    ...(hasFileEach(settings) && !fileName.includes('{pass}')
      ? [
          stop('Each pass has a file of its own, and their names have no {pass}.', {
            words: 'Put it in',
            settings: {
              fileName: fileName.includes('#') ? fileName.replace(/[._ -]*#+/, '_{pass}$&') : `${fileName}_{pass}`,
            },
          }),
        ]
      : []),
    note(
      `${channels} ${channels === 1 ? 'channel' : 'channels'} as they came, sample by sample${mattes.length ? `, and ${mattes.length === 1 ? 'a matte' : `${mattes.length} mattes`} as halves` : ''}; ${layeringWords[layering]}.`,
    ),
    note('Of the ledger and the viewing nothing goes into them. Names behind IDs are kept.'),
  ];
}

const layeringWords = {
  together: 'channels of one part',
  parts: 'a part each',
  files: 'a file each',
} as const;

const without = (passes: readonly { sourceId: string; pass: string }[], gone: readonly string[]) => ({
  words: 'Leave them out',
  settings: { passes: passes.filter((p) => !gone.includes(p.pass)) },
});

/** How many sizes there are among what is written. */
function sizesOf(shot: Shot, sources: readonly Shot['sources'][number][], mattes: readonly string[]): number {
  const sizes = sources.map((s) => `${s.width}x${s.height}`);
  return new Set([...sizes, ...(mattes.length ? [`${shot.width}x${shot.height}`] : [])]).size;
}
