import { useMemo } from 'react';
import type { Shot } from '@june-haze/contract';

/** The shot's other frames, the next first. */
export function useAhead(
  { firstFrame, lastFrame }: Pick<Shot, 'firstFrame' | 'lastFrame'>,
  frame: number,
): readonly number[] {
  return useMemo(() => {
    const count = lastFrame - firstFrame;
    return Array.from({ length: count }, (_, i) => firstFrame + ((frame - firstFrame + 1 + i) % (count + 1)));
  }, [firstFrame, lastFrame, frame]);
}
