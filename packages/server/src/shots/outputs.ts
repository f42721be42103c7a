import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { nameOfFrame, walkEntries } from '@june-haze/core';
import type { OutputSettings, PreCheckItem, Shot } from '@june-haze/contract';

const plain = (s: string) =>
  s
    .toLowerCase()
    .replace(/[^a-z0-9-]+/g, '_')
    .replace(/^_+|_+$/g, '') || 'shot';

/** `shot_output_space.####.ext`: what a file is and what its numbers mean stand in its name. */
export function outputPattern(
  shot: { name: string; working_space: string; viewing: { display: string } },
  settings: OutputSettings,
): string {
  const spaces = { exr: shot.working_space, aces: 'ACES2065-1', png: shot.viewing.display, jpeg: shot.viewing.display };
  const space = spaces[settings.kind];
  const extension = { exr: 'exr', aces: 'exr', png: 'png', jpeg: 'jpg' }[settings.kind];
  const name = `${plain(shot.name)}_${plain(settings.name)}_${plain(space)}`;
  return `${plain(shot.name)}/${name}.####.${extension}`;
}

export function outputPath(outputFolder: string, pattern: string, frame: number): string {
  return join(outputFolder, nameOfFrame(pattern, frame));
}

/** What a person should know before files are written. */
export function preCheck(
  shot: Shot,
  settings: OutputSettings,
  pattern: string,
  outputFolder: string,
): { items: PreCheckItem[]; existing: number } {
  const items: PreCheckItem[] = [];
  const add = (weight: PreCheckItem['weight'], text: string) => items.push({ weight, text });
  const entries = [...walkEntries(shot.ledger.document.entries)].filter((e) => e.enabled);
  const used = new Set(entries.flatMap((e) => (e.kind === 'pass' ? [e.sourceId] : [])));
  if (!entries.length) add('stop', 'The ledger is empty: there is nothing to write. Build the picture first.');
  if (settings.lastFrame < settings.firstFrame)
    add('stop', `The range ${settings.firstFrame}–${settings.lastFrame} runs backwards.`);
  for (const source of shot.sources.filter((s) => used.has(s.id))) {
    const inRange = (frame: number) => frame >= settings.firstFrame && frame <= settings.lastFrame;
    const absent = source.missing.filter(inRange).length;
    const damaged = source.damaged.filter((d) => inRange(d.frame)).length;
    if (absent)
      add(
        'warning',
        `${source.name}: ${absent} missing ${absent === 1 ? 'frame' : 'frames'} in the range will fail; the others are written.`,
      );
    if (damaged)
      add(
        'warning',
        `${source.name}: ${damaged} damaged ${damaged === 1 ? 'frame' : 'frames'} in the range will fail; the others are written.`,
      );
    if (!source.still && (settings.firstFrame < source.firstFrame || settings.lastFrame > source.lastFrame)) {
      add(
        'warning',
        `${source.name} has frames ${source.firstFrame}–${source.lastFrame} only; frames outside will fail.`,
      );
    }
    if (!source.confirmed)
      add('warning', `${source.name}: its space (${source.declaredSpace ?? 'none'}) is not confirmed by a person.`);
  }
  const { display, view, exposure } = shot.viewing;
  if (settings.kind === 'exr' || settings.kind === 'aces') {
    const aces = settings.kind === 'aces';
    add(
      'note',
      `Linear numbers in ${aces ? 'ACES2065-1, in the ACES container form' : shot.workingSpace}, with chromaticities and colour identity. The view ${display} / ${view} is shown only, not written.`,
    );
    const lossy = ['b44', 'b44a', 'dwaa', 'dwab'].includes(settings.compression) && !aces;
    if (lossy)
      add(
        'note',
        `${settings.compression.toUpperCase()} loses a little on purpose; the read-back proof says how much.`,
      );
    if (settings.sampleType === 'half' || aces) add('note', 'Half float: values above 65,504 become infinite.');
  } else {
    add('note', `Through the viewing: ${display} / ${view}. Values above what the display shows are clipped.`);
    add('note', 'Alpha is dropped.');
    if (exposure !== 0)
      add('warning', `The viewing exposure of ${exposure.toFixed(1)} stops is baked into these files.`);
  }
  if (shot.balance && !shot.balance.balanced)
    add('note', `The total differs from the beauty by ${(shot.balance.share * 100).toFixed(1)} %, as built.`);
  let existing = 0;
  for (let f = settings.firstFrame; f <= Math.min(settings.lastFrame, settings.firstFrame + 5000); f++)
    if (existsSync(outputPath(outputFolder, pattern, f))) existing++;
  if (existing)
    add('warning', `${existing} ${existing === 1 ? 'file is' : 'files are'} already there and would be replaced.`);
  return { items, existing };
}
