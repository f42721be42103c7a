import { useQuery } from '@tanstack/react-query';
import { builtinColour, itemsOf, openShotColour, ShotColour, type ColourKey } from '@june-haze/core';
import { loadBundle } from './bundles.ts';

const builtin = new ShotColour();
const opened = new Map<string, Promise<ShotColour>>();

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
