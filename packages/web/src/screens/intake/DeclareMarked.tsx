import { Select } from 'antd';
import type { Shot, Source } from '@june-haze/contract';
import { useShotColour } from '../../api/colour.ts';
import { useShotChange } from '../../api/shots.ts';

/** One space declared for all marked sources, confirmed by the person who chose it. Empty where they differ. */
export function DeclareMarked({ shot, sources }: { shot: Shot; sources: readonly Source[] }) {
  const change = useShotChange();
  const { data: colour } = useShotColour(shot.colour);
  const [first] = sources;
  const same = sources.every((s) => s.declaredSpace === first!.declaredSpace) ? first!.declaredSpace : null;
  return (
    <label className="field" htmlFor="declare-marked">
      <span>Declared as</span>
      <Select
        id="declare-marked"
        aria-label="Declared as"
        size="small"
        showSearch
        style={{ width: 170 }}
        placeholder="differ"
        value={same}
        options={(colour?.spaces() ?? []).map((s) => ({ value: s.name, label: s.name }))}
        onChange={(declaredSpace: string) =>
          change.mutate({
            path: `/shots/${shot.id}/sources`,
            method: 'PATCH',
            body: { sources: sources.map((s) => s.id), change: { declaredSpace, confirmed: true } },
          })
        }
      />
    </label>
  );
}
