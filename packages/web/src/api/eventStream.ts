import { eventSchema, type ServerEvent } from '@june-haze/contract';
import { eventWorkers } from './eventWorkers.ts';

export interface StreamListener {
  event(event: ServerEvent): void;
  /** The server does not answer. */
  lost(): void;
  /** The stream stood still and runs again: what was said meanwhile is not known. */
  gap(): void;
}

type Line = { readonly kind: 'event'; readonly data: string } | { readonly kind: 'gap' } | { readonly kind: 'lost' };

/** Opens the server's stream of events in this thread; returns how to close it. */
export function openStream(tell: (line: Line) => void): () => void {
  const stream = new EventSource('/api/events');
  // A first opening that fails is a gap as well: what was said until it works is not known.
  let missed = false;
  stream.onopen = () => {
    if (missed) tell({ kind: 'gap' });
    missed = false;
  };
  stream.onerror = () => {
    missed = true;
    tell({ kind: 'lost' });
  };
  stream.onmessage = ({ data }: MessageEvent<string>) => tell({ kind: 'event', data });
  return () => stream.close();
}

/**
 * Listens to what the server says. All tabs of the browser share one connection, kept by a shared worker: a browser opens six to one server
 * and no more, and a stream takes one for as long as it lasts.
 */
export function listen(listener: StreamListener): () => void {
  const hear = (line: Line) => {
    if (line.kind === 'gap') listener.gap();
    else if (line.kind === 'lost') listener.lost();
    else {
      const event = eventSchema.safeParse(JSON.parse(line.data));
      // What a newer server says that this page does not know is as good as a gap.
      if (event.success) listener.event(event.data);
      else listener.gap();
    }
  };
  const worker = eventWorkers.take();
  if (!worker) return openStream(hear);
  worker.port.onmessage = ({ data }: MessageEvent<Line>) => hear(data);
  worker.port.start();
  return () => {
    worker.port.postMessage('leave');
    worker.port.close();
  };
}
