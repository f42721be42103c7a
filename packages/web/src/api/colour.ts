import { useQuery } from '@tanstack/react-query';
import {
  builtinColour,
  itemsOf,
  openShotColour,
  readBundle,
  ShotColour,
  type Bundle,
  type ColourKey,
} from '@june-haze/core';
import { failure } from './request.ts';

const builtin = new ShotColour();
const bundles = new Map<string, Promise<Bundle>>();
const opened = new Map<string, Promise<ShotColour>>();

/** The files of a Library item; they never change under their id. */
export function loadBundle(id: string): Promise<Bundle> {
  let bundle = bundles.get(id);
  if (!bundle) {
    bundle = fetch(`/api/library/${id}/content`).then(async (response) => {
      if (!response.ok) throw await failure(response);
      return readBundle(new Uint8Array(await response.arrayBuffer()), id);
    });
    bundle.catch(() => bundles.delete(id));
    bundles.set(id, bundle);
  }
  return bundle;
}

/** The colours of a key, opened once in each thread. */
export function loadColour(key: ColourKey): Promise<ShotColour> {
  const name = JSON.stringify(key);
  let colour = opened.get(name);
  if (!colour) {
    const ids = itemsOf(key);
    colour = Promise.all(ids.map(loadBundle)).then((loaded) =>
      ids.length === 0 ? builtin : openShotColour(key, new Map(ids.map((id, i) => [id, loaded[i]!]))),
    );
    colour.catch(() => opened.delete(name));
    if (opened.size > 16) opened.clear();
    opened.set(name, colour);
  }
  return colour;
}

/** The colours of a shot; the built-in ones at once. */
export function useShotColour(key: ColourKey) {
  return useQuery({
    queryKey: ['colour', key],
    queryFn: () => loadColour(key),
    staleTime: Infinity,
    structuralSharing: false,
    ...(JSON.stringify(key) === JSON.stringify(builtinColour) ? { initialData: builtin } : {}),
  });
}
