import {
  balancedAgainstItsRender,
  componentRoles,
  dataRoles,
  finishes,
  findFinish,
  passRow,
  type Entry,
  type Finish,
  type LedgerDocument,
} from '@june-haze/core';
import type { Shot, Source } from '@june-haze/contract';
import { thumbnailUrl } from '../../api/thumbnail.ts';
import type { Choice } from '../../picker/Picker.tsx';
import { newId } from './newId.ts';
import { startingValues } from './startingValues.ts';
import { SmallPicture } from '../../pictures/SmallPicture.tsx';

/** What a key of the picker stands for. */
export type Addition =
  | { readonly kind: 'pass'; readonly sourceId: string; readonly pass: string }
  | { readonly kind: 'fill' | 'subtotal' }
  | { readonly kind: 'finish'; readonly finish: Finish['finish'] }
  | { readonly kind: 'rebuild'; readonly by: 'components' | 'lights' | 'beauty'; readonly sourceId: string };

const keyOf = (a: Addition): string => JSON.stringify(a);
export const additionOf = (key: string): Addition => JSON.parse(key) as Addition;

const roleWords = (role: string) => role.replace(/-(direct|indirect)$/, ', $1').replaceAll('-', ' ');
const rebuildWords = { components: 'light components', lights: 'light groups', beauty: 'the beauty pass' } as const;

function rebuildsOf(source: Source): Choice[] {
  const has = {
    components: source.passes.some((p) => componentRoles.has(p.role)),
    lights: source.passes.some((p) => p.role === 'light-group'),
    beauty: source.passes.some((p) => p.role === 'beauty'),
  };
  return (['components', 'lights', 'beauty'] as const)
    .filter((by) => has[by])
    .map((by) => ({
      key: keyOf({ kind: 'rebuild', by, sourceId: source.id }),
      group: 'The whole picture anew, in place of the entries',
      label: `Build anew from ${rebuildWords[by]}`,
      note: source.name,
    }));
}

/** What can be added to a ledger: passes that hold light, a fill, a subtotal, or a whole rebuild. */
export function addChoices(shot: Shot, frame: number): Choice[] {
  const passes = shot.sources
    .filter((s) => s.reading.use === 'plate')
    .flatMap((source) =>
      source.passes
        .filter((p) => !dataRoles.has(p.role))
        .map((p) => ({
          key: keyOf({ kind: 'pass', sourceId: source.id, pass: p.name }),
          group: source.name,
          label: p.name,
          note: roleWords(p.role),
          picture: <SmallPicture src={thumbnailUrl(source, p.name, frame, 128, { viewing: shot.viewing })} />,
        })),
    );
  return [
    ...passes,
    { key: keyOf({ kind: 'fill' }), group: 'Made here', label: 'A fill', note: 'one colour everywhere' },
    { key: keyOf({ kind: 'subtotal' }), group: 'Made here', label: 'A subtotal', note: 'entries summed on their own' },
    ...finishes.map((f) => ({
      key: keyOf({ kind: 'finish', finish: f.kind }),
      group: 'Finishes of what stands above',
      label: f.title,
      note: f.does,
      words: f.search?.join(' ') ?? '',
    })),
    ...shot.sources.flatMap(rebuildsOf),
  ];
}

const common = (name: string) => ({
  id: newId(),
  name,
  enabled: true,
  operation: 'plus' as const,
  mix: 1,
  adjustments: [],
});
function entriesOf(addition: Addition, again: boolean, shot: Shot): Entry[] {
  switch (addition.kind) {
    case 'pass': {
      const { sourceId, pass: name } = addition;
      const pass = shot.sources.find((s) => s.id === sourceId)?.passes.find((p) => p.name === name);
      const row = () => passRow(newId(), sourceId, pass ?? { name, role: 'other' });
      if (!again) return [row()];
      const [out, back] = [row(), row()];
      return [
        { ...out, name: `${out.name} out`, operation: 'minus' },
        { ...back, name: `${back.name} back` },
      ];
    }
    case 'fill':
      return [{ ...common('Fill'), kind: 'fill', operation: 'over', colour: [0.18, 0.18, 0.18], alpha: 1 }];
    case 'subtotal':
      return [{ ...common('Subtotal'), kind: 'subtotal', entries: [] }];
    case 'finish': {
      const { title, parameters, adjusts } = findFinish(addition.finish)!;
      const own = {
        id: newId(),
        name: title,
        enabled: true,
        mix: 1,
        ...(adjusts ? { adjustments: [] } : {}),
      };
      return [{ ...own, ...startingValues(parameters, shot), kind: 'finish', finish: addition.finish } as Entry];
    }
    case 'rebuild':
      return [];
  }
}

/** The ledger with what was chosen added in order, and the change in words; `again` takes each pass out and puts it back. */
export function withAdditions(
  document: LedgerDocument,
  additions: readonly Addition[],
  again: boolean,
  shot: Shot,
): { document: LedgerDocument; words: string } {
  const names = additions
    .map((a) => (a.kind === 'pass' ? a.pass : a.kind === 'finish' ? a.finish : `a ${a.kind}`))
    .join(', ');
  const entries = [...document.entries, ...additions.flatMap((a) => entriesOf(a, again, shot))];
  return {
    document: balancedAgainstItsRender({ ...document, version: 2, entries }, shot.sources),
    words: (again ? `took ${names} out and put back` : `added ${names}`).slice(0, 200),
  };
}
