import { useQueryClient } from '@tanstack/react-query';
import { eventSchema, type ServerEvent } from '@june-haze/contract';
import { useEffect } from 'react';
import { libraryKey } from './library.ts';
import { demoKey, shelfKey, shotKey } from './shots.ts';

function keyOf(event: Exclude<ServerEvent, { kind: 'demo' }>): readonly string[] {
  if (event.kind === 'shot') return shotKey(event.shotId);
  return event.kind === 'shelf' ? shelfKey : libraryKey;
}

/** Keeps what is on the screen current: the server says what changed, the queries fetch it. */
export function ServerEvents() {
  const queries = useQueryClient();
  useEffect(() => {
    const stream = new EventSource('/api/events');
    stream.onmessage = (line: MessageEvent<string>) => {
      const event = eventSchema.parse(JSON.parse(line.data));
      if (event.kind === 'demo') queries.setQueryData(demoKey, { done: event.done, count: event.count });
      else void queries.invalidateQueries({ queryKey: keyOf(event) });
    };
    return () => stream.close();
  }, [queries]);
  return null;
}
