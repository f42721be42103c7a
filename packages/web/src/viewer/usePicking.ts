import { useCallback, useRef, useState } from 'react';
import type { ProbeAnswer } from './engine/messages.ts';
import type { Plans } from './engine/plans.ts';
import type { PictureCanvasHandle } from './PictureCanvas.tsx';

/** The numbers of a pick, and the pixel of the whole picture that was clicked at. */
export type PickAnswer = ProbeAnswer & { readonly place: readonly [x: number, y: number] };

interface Picking {
  readonly plans: Plans;
  take(answer: Promise<PickAnswer | undefined> | undefined): void;
}

/** Waiting for a click in the picture that picks the numbers of other plans there. */
export function usePicking(getCanvas: () => PictureCanvasHandle | null) {
  const [picking, setPicking] = useState<Picking>();
  const pending = useRef<Picking['take']>(undefined);
  const pick = useCallback(
    (plans: Plans) =>
      new Promise<PickAnswer | undefined>((take) => {
        // One at a time: who asked before is told that nothing came of it.
        pending.current?.(undefined);
        pending.current = take;
        setPicking({ plans, take });
      }),
    [],
  );
  const end = (answer?: Promise<PickAnswer | undefined>) => {
    picking?.take(answer?.catch(() => undefined));
    setPicking(undefined);
  };
  return {
    picking: picking !== undefined,
    pick,
    endPicking: () => end(),
    /** Takes the click at a pixel of the whole picture; false where none is waited for. */
    takePick: (x: number, y: number): boolean => {
      if (!picking) return false;
      const engine = getCanvas()?.engine;
      const level = engine?.shown?.request.level ?? 0;
      const read = engine?.probeOf(picking.plans, x >> level, y >> level);
      end(read?.then((answer) => answer && { ...answer, place: [x, y] as const }));
      return true;
    },
  };
}
