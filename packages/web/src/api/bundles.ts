import { readBundle, type Bundle } from '@june-haze/core';
import { failure } from './request.ts';

const bundles = new Map<string, Promise<Bundle>>();

/** The files of a Library item; they never change under their id. Unpacked by a worker when a page asks, as a config's tables are large. */
export function loadBundle(id: string): Promise<Bundle> {
  let bundle = bundles.get(id);
  if (!bundle) {
    bundle = typeof document === 'undefined' ? unpackBundle(id) : byWorker(id);
    bundle.catch(() => bundles.delete(id));
    bundles.set(id, bundle);
  }
  return bundle;
}

/** Fetches an item and unpacks it, in the thread that calls. */
export async function unpackBundle(id: string): Promise<Map<string, Uint8Array>> {
  const response = await fetch(`/api/library/${id}/content`);
  if (!response.ok) throw await failure(response);
  return readBundle(new Uint8Array(await response.arrayBuffer()), id);
}

let worker: Worker | undefined;

function byWorker(id: string): Promise<Bundle> {
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
