import { useEffect, useRef } from 'react';
import type { Shot } from '@june-haze/contract';
import { useShotChange } from '../../api/shots.ts';

export interface Proving {
  readonly busy: boolean;
  /** Why there is no proof. */
  readonly problem: string | undefined;
  again(): void;
}

/** Has the reference proof made whenever none stands for what is set now; once for each state. */
export function useProof(shot: Shot): Proving {
  const change = useShotChange();
  const asked = useRef('');
  const { match, viewing, workingSpace, colour, sources } = shot;
  const state = JSON.stringify([
    [match.source, match.pass, match.reference, match.frame],
    [viewing, workingSpace, colour],
    sources.map((s) => [s.id, s.stamp, s.declaredSpace, s.alpha]),
  ]);
  const { mutate } = change;
  const prove = () => mutate({ path: `/shots/${shot.id}/match/prove`, method: 'POST' });
  const missing = match.reference !== null && match.source !== null && match.proof === null;
  useEffect(() => {
    if (!missing || asked.current === state) return;
    asked.current = state;
    mutate({ path: `/shots/${shot.id}/match/prove`, method: 'POST' });
  }, [missing, state, mutate, shot.id]);
  return { busy: change.isPending, problem: change.error?.message, again: prove };
}
