import type { Response } from 'express';
import type { ServerEvent } from '@june-haze/contract';

/** Server-sent events to every open page. */
export class Events {
  private readonly listeners = new Set<Response>();

  add(response: Response): void {
    response.writeHead(200, {
      'content-type': 'text/event-stream',
      'cache-control': 'no-cache',
      connection: 'keep-alive',
    });
    response.write(': open\n\n');
    this.listeners.add(response);
    response.on('close', () => this.listeners.delete(response));
  }

  send(event: ServerEvent): void {
    for (const listener of this.listeners) listener.write(`data: ${JSON.stringify(event)}\n\n`);
  }

  close(): void {
    for (const listener of this.listeners) listener.end();
  }
}
