import { centred, type Placement } from '@june-haze/core';
import type { Shot } from '@june-haze/contract';
import { useCallback, useMemo, useState } from 'react';
import { useShotChange } from '../../api/shots.ts';
import type { PictureDrag } from '../../viewer/Viewer.tsx';
import type { Placing } from './placing.ts';

/** Placing of sources: typed in their rows, or dragged in the picture while one is chosen for it. */
export function usePlacing(
  shot: Shot,
  show: (sources: Shot['sources']) => void,
): { placing: Placing; drag: PictureDrag | undefined } {
  const { mutate } = useShotChange();
  const [chosen, setSource] = useState<string>();
  const { id, sources } = shot;
  const draft = useCallback(
    (source: string, placement: Placement) => {
      const moved = (s: Shot['sources'][number]) =>
        s.id === source
          ? {
              ...s,
              reading: { ...s.reading, placement: { ...placement, shift: [...placement.shift] as [number, number] } },
            }
          : s;
      show(sources.map(moved));
    },
    [show, sources],
  );
  const save = useCallback(
    (source: string, placement: Placement | null) =>
      mutate({
        path: `/shots/${id}/sources`,
        method: 'PATCH',
        body: { sources: [source], change: { reading: { placement } } },
      }),
    [mutate, id],
  );
  const source = sources.find((s) => s.id === chosen);
  const drag = useMemo(() => {
    if (!source) return undefined;
    const at = source.reading.placement ?? centred;
    return {
      what: source.name,
      move(x: number, y: number, ended: boolean) {
        const placement: Placement = { ...at, shift: [at.shift[0] + Math.round(x), at.shift[1] + Math.round(y)] };
        if (ended) save(source.id, placement);
        else draft(source.id, placement);
      },
      end: () => setSource(undefined),
    };
  }, [source, draft, save]);
  const placing = useMemo(() => ({ source: source?.id, setSource, draft, save }), [source?.id, draft, save]);
  return { placing, drag };
}
