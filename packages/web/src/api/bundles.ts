import { readBundle, type Bundle } from '@june-haze/core';
import { unpackElsewhere } from './bundleWorkers.ts';
import { failure } from './request.ts';

const bundles = new Map<string, Promise<Bundle>>();

/** The files of a Library item; they never change under their id. Unpacked by a worker when a page asks, as a config's tables are large. */
export function loadBundle(id: string): Promise<Bundle> {
  let bundle = bundles.get(id);
  if (!bundle) {
    bundle = typeof document === 'undefined' ? unpackBundle(id) : unpackElsewhere(id);
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
