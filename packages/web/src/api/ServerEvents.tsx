import { useQueryClient, type QueryClient } from '@tanstack/react-query';
import type { ServerEvent, Shot } from '@june-haze/contract';
import { useEffect } from 'react';
import { listen } from './eventStream.ts';
import { libraryKey } from './library.ts';
import { outageKey, type OutageState } from './outage.ts';
import { recipesKey } from './recipes.ts';
import { setUpsKey } from './setUps.ts';
import { demoKey, shelfKey, shotKey } from './shots.ts';

/** Puts a frame that was written into the shot that is held: nothing is fetched, and nothing else of it becomes another. */
export function withFrame(shot: Shot, { runId, frame, proof }: Extract<ServerEvent, { kind: 'frame' }>): Shot {
  const runs = shot.runs.map((run) =>
    run.id === runId ? { ...run, frames: run.frames.map((f) => (f.frame === frame.frame ? frame : f)) } : run,
  );
  return { ...shot, runs, proofs: { ...shot.proofs, output: proof } };
}

/** Takes an event in: each fetches only what it names. */
export function takeEvent(queries: QueryClient, event: ServerEvent): void {
  switch (event.kind) {
    case 'demo':
      queries.setQueryData(demoKey, { done: event.done, count: event.count });
      return;
    case 'frame':
      queries.setQueryData<Shot>(shotKey(event.shotId), (shot) => shot && withFrame(shot, event));
      return;
    case 'shot':
      void queries.invalidateQueries({ queryKey: shotKey(event.shotId), exact: true });
      return;
    case 'shelf':
      void queries.invalidateQueries({ queryKey: shelfKey });
      return;
    case 'setUps':
      void queries.invalidateQueries({ queryKey: setUpsKey });
      return;
    case 'recipes':
      void queries.invalidateQueries({ queryKey: recipesKey });
      return;
    case 'library':
      void queries.invalidateQueries({ queryKey: libraryKey });
      return;
    case 'database':
      queries.setQueryData<OutageState>(outageKey, event.there ? 'none' : 'database');
      if (event.there) void queries.invalidateQueries();
  }
}

/** Keeps what is on the screen current: the server says what changed, the queries fetch it. */
export function ServerEvents() {
  const queries = useQueryClient();
  useEffect(
    () =>
      listen({
        event: (event) => takeEvent(queries, event),
        lost: () => queries.setQueryData<OutageState>(outageKey, 'server'),
        gap: () => {
          queries.setQueryData<OutageState>(outageKey, 'none');
          void queries.invalidateQueries();
        },
      }),
    [queries],
  );
  return null;
}
