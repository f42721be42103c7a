import type { MenuProps } from 'antd';
import { componentRoles, dataRoles, type Entry, type LedgerDocument, type PassEntry } from '@june-haze/core';
import type { Shot } from '@june-haze/contract';

type Save = (document: LedgerDocument, words: string) => void;

const common = (name: string) => ({
  id: crypto.randomUUID(),
  name,
  enabled: true,
  operation: 'plus' as const,
  mix: 1,
  adjustments: [],
});

/** A pass's name as an entry's: `light_sun` is "Light sun". */
function readable(pass: string): string {
  const plain = pass.replace(/[_.]+/g, ' ');
  return plain.charAt(0).toUpperCase() + plain.slice(1);
}

/** What can be added to a ledger: passes, a fill, a subtotal, a light taken out and put back, or a whole rebuild. */
export function addMenu(
  shot: Shot,
  document: LedgerDocument,
  save: Save,
  rebuild: (by: string, sourceId: string) => void,
): MenuProps {
  const add = (entries: Entry[], words: string) =>
    save({ ...document, entries: [...document.entries, ...entries] }, words);
  const passEntry = (sourceId: string, pass: string): PassEntry => ({
    ...common(readable(pass)),
    kind: 'pass',
    sourceId,
    pass,
  });
  const light = (sourceId: string) =>
    shot.sources.find((s) => s.id === sourceId)!.passes.filter((p) => !dataRoles.has(p.role));
  const passItems = (prefix: string, onPick: (sourceId: string, pass: string) => void) =>
    shot.sources.map((s) => ({
      key: `${prefix}-${s.id}`,
      label: s.name,
      type: 'group' as const,
      children: light(s.id).map((p) => ({
        key: `${prefix}-${s.id}-${p.name}`,
        label: p.name,
        onClick: () => onPick(s.id, p.name),
      })),
    }));
  const rebuilds = shot.sources.flatMap((s) => {
    const has = {
      beauty: s.passes.some((p) => p.role === 'beauty'),
      components: s.passes.some((p) => componentRoles.has(p.role)),
      lights: s.passes.some((p) => p.role === 'light-group'),
    };
    const words = { components: 'light components', lights: 'light groups', beauty: 'the beauty pass' };
    return (['components', 'lights', 'beauty'] as const)
      .filter((by) => has[by])
      .map((by) => ({ key: `${by}-${s.id}`, label: `${s.name}: from ${words[by]}`, onClick: () => rebuild(by, s.id) }));
  });
  return {
    items: [
      { key: 'pass', label: 'A pass', children: passItems('pass', (s, p) => add([passEntry(s, p)], `added ${p}`)) },
      {
        key: 'fill',
        label: 'A fill',
        onClick: () =>
          add(
            [{ ...common('Fill'), kind: 'fill', operation: 'over', colour: [0.18, 0.18, 0.18], alpha: 1 }],
            'added a fill',
          ),
      },
      {
        key: 'subtotal',
        label: 'A subtotal',
        onClick: () => add([{ ...common('Subtotal'), kind: 'subtotal', entries: [] }], 'added a subtotal'),
      },
      {
        key: 'again',
        label: 'Take out and put back',
        children: passItems('again', (s, p) =>
          add(
            [
              { ...passEntry(s, p), name: `${readable(p)} out`, operation: 'minus' },
              { ...passEntry(s, p), name: `${readable(p)} back` },
            ],
            `took ${p} out and put it back`,
          ),
        ),
      },
      { type: 'divider' },
      { key: 'rebuild', label: 'Build anew', children: rebuilds },
    ],
  };
}
