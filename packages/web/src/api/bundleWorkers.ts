import type { Bundle } from '@june-haze/core';

let worker: Worker | undefined;
/** What was asked for before anybody wanted it. */
const begun = new Map<string, Promise<Bundle>>();

/** Has an item of the Library fetched and unpacked before it is asked for. */
export function beginUnpacking(id: string): void {
  const bundle = ask(id);
  // Whoever takes it hears of a failure.
  bundle.catch(() => undefined);
  begun.set(id, bundle);
}

/** Has an item of the Library fetched and unpacked by a worker, as a config's tables are large. */
export function unpackElsewhere(id: string): Promise<Bundle> {
  const bundle = begun.get(id) ?? ask(id);
  begun.delete(id);
  return bundle;
}

function ask(id: string): Promise<Bundle> {
  worker ??= new Worker(new URL('./bundleWorker.ts', import.meta.url), { type: 'module' });
  const { port1, port2 } = new MessageChannel();
  return new Promise((resolve, reject) => {
    port1.onmessage = ({ data }: MessageEvent<{ files?: Map<string, Uint8Array>; fault?: string }>) => {
      port1.close();
      if (data.files) resolve(data.files);
      else reject(new Error(data.fault));
    };
    worker!.postMessage({ id, port: port2 }, [port2]);
  });
}
