import { Segmented, Select } from 'antd';
import { colourSpaces, type LutEncoding } from '@june-haze/core';
import type { LibraryItem, LutUse } from '@june-haze/contract';
import { useLibraryChanges } from '../../api/library.ts';

/** What a LUT is, chosen anew: with the space that most such LUTs have. */
const freshUses: Readonly<Record<LutUse['as'], LutUse>> = {
  look: { as: 'look', space: 'ACEScct' },
  conversion: { as: 'conversion', to: 'Linear Rec.709' },
  view: { as: 'view', from: 'ACEScct', encoding: 'srgb' },
};
const words: Readonly<Record<LutUse['as'], { name: string; before: string; space: string; after: string }>> = {
  look: {
    name: 'a look',
    before: 'on numbers of',
    space: 'Space that the look expects',
    after: 'offered in the viewing of every shot; shown only, not written',
  },
  conversion: {
    name: 'a conversion',
    before: 'of its own numbers into',
    space: 'Space that it converts into',
    after: 'offered as a declared space under its own name',
  },
  view: {
    name: 'a view',
    before: 'from numbers of',
    space: 'Space that the view expects',
    after: 'offered as a view of its own: it makes the codes by itself',
  },
};
const encodings: Readonly<Record<LutEncoding, string>> = {
  srgb: 'codes of sRGB',
  bt1886: 'codes of Rec.709 (BT.1886)',
};

const spaceOf = (use: LutUse): string => (use.as === 'look' ? use.space : use.as === 'view' ? use.from : use.to);

function withSpace(use: LutUse, name: string): LutUse {
  if (use.as === 'look') return { ...use, space: name };
  return use.as === 'view' ? { ...use, from: name } : { ...use, to: name };
}

/** A LUT is a look on numbers of a space, a conversion into one, or a view that makes codes by itself; the person says which. */
export function UseOfLut({ item, use }: { readonly item: LibraryItem; readonly use: LutUse }) {
  const { change } = useLibraryChanges();
  const set = (next: LutUse) => change.mutate({ id: item.id, body: { use: next } });
  const said = words[use.as];
  return (
    <>
      <div className="chooser">
        <span className="strong">For</span>
        <Segmented
          size="small"
          value={use.as}
          options={(['look', 'conversion', 'view'] as const).map((as) => ({
            value: as,
            label: words[as].name,
            disabled: as !== 'look' && item.kind === 'cdl',
          }))}
          onChange={(as) => set(freshUses[as])}
        />
        <span className="quiet">{said.before}</span>
        <Select
          size="small"
          showSearch
          aria-label={said.space}
          style={{ width: 180 }}
          value={spaceOf(use)}
          options={colourSpaces
            .filter((s) => s.encoding !== 'data')
            .map((s) => ({ value: s.name, label: s.name, title: s.about }))}
          onChange={(name) => set(withSpace(use, name))}
        />
        {use.as === 'view' && (
          <Select
            size="small"
            aria-label="What its codes are"
            style={{ width: 190 }}
            value={use.encoding}
            options={Object.entries(encodings).map(([value, label]) => ({ value: value as LutEncoding, label }))}
            onChange={(encoding) => set({ ...use, encoding })}
          />
        )}
        <span className="quiet small">{said.after}</span>
      </div>
      {change.error && (
        <p className="problem" role="alert">
          {change.error.message}
        </p>
      )}
    </>
  );
}
