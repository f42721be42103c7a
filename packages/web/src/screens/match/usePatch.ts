import { useMutation } from '@tanstack/react-query';
import type { PatchMean, Window } from '@june-haze/core';
import { patchMeanSchema } from '@june-haze/contract';
import { useState } from 'react';
import { request } from '../../api/request.ts';

/** The mean of the region that is marked in the picture, in the working space. `what` is what shall be marked, for the sentence that asks for it. */
export function usePatch(shotId: string, region: () => Window | null, what: string) {
  const [unmarked, setUnmarked] = useState(false);
  const measure = useMutation({
    mutationFn: (marked: Window) =>
      request(patchMeanSchema, `/shots/${shotId}/match/patch`, 'POST', { region: marked }),
  });
  const begin = () => {
    const marked = region();
    setUnmarked(!marked);
    if (marked) measure.mutate(whole(marked));
  };
  return {
    begin,
    busy: measure.isPending,
    patch: measure.data as PatchMean | undefined,
    problem: unmarked ? `Mark ${what} in the picture first: Alt and drag over it.` : measure.error?.message,
  };
}

const whole = ({ x, y, width, height }: Window): Window => ({
  x: Math.round(x),
  y: Math.round(y),
  width: Math.max(1, Math.round(width)),
  height: Math.max(1, Math.round(height)),
});

/** What is made of measured patches, or the sentence that says why it cannot be. */
export function orSentence<T>(make: () => T): T | string {
  try {
    return make();
  } catch (error) {
    return (error as Error).message;
  }
}
