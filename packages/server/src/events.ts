import type { Response } from 'express';
import type { ServerEvent } from '@june-haze/contract';

/** A stream with nothing to say says a little now and then, so that neither end takes the other for gone. */
const stillness = 20_000;

/** Server-sent events to every open page, and to the other processes. */
export class Events {
  private readonly listeners = new Set<Response>();
  private relay: (event: ServerEvent) => void = () => undefined;
  private readonly timer: ReturnType<typeof setInterval>;

  constructor() {
    this.timer = setInterval(() => this.write(': still here\n\n'), stillness);
    this.timer.unref();
  }

  /** Where else everything is told that is sent here. */
  relayTo(relay: (event: ServerEvent) => void): void {
    this.relay = relay;
  }

  add(response: Response): void {
    response.writeHead(200, {
      'content-type': 'text/event-stream',
      'cache-control': 'no-cache',
      connection: 'keep-alive',
    });
    response.write('retry: 1000\n\n');
    this.listeners.add(response);
    response.on('close', () => this.listeners.delete(response));
  }

  /** Tells the pages and the other processes. */
  send(event: ServerEvent): void {
    this.hear(event);
    this.relay(event);
  }

  /** Tells the pages what another process said. */
  hear(event: ServerEvent): void {
    this.write(`data: ${JSON.stringify(event)}\n\n`);
  }

  private write(words: string): void {
    for (const listener of this.listeners) listener.write(words);
  }

  close(): void {
    clearInterval(this.timer);
    for (const listener of this.listeners) listener.end();
  }
}
