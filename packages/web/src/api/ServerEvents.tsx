import { useQueryClient } from '@tanstack/react-query';
import { eventSchema } from '@june-haze/contract';
import { useEffect } from 'react';
import { demoKey, shelfKey, shotKey } from './shots.ts';

/** Keeps what is on the screen current: the server says what changed, the queries fetch it. */
export function ServerEvents() {
  const queries = useQueryClient();
  useEffect(() => {
    const stream = new EventSource('/api/events');
    stream.onmessage = (line: MessageEvent<string>) => {
      const event = eventSchema.parse(JSON.parse(line.data));
      if (event.kind === 'demo') queries.setQueryData(demoKey, { done: event.done, count: event.count });
      else void queries.invalidateQueries({ queryKey: event.kind === 'shelf' ? shelfKey : shotKey(event.shotId) });
    };
    return () => stream.close();
  }, [queries]);
  return null;
}
