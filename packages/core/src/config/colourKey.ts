import type { Transform } from '../transform/transform.ts';
import { lutExtensions, readLut } from '../lut/read.ts';
import { findConfigFile, type Bundle } from './bundle.ts';
import { ColourConfig } from './colourConfig.ts';
import type { Context } from './context.ts';
import type { LutView } from './lutViews.ts';
import { parseConfig } from './parseConfig.ts';
import { ColourFileError } from './place.ts';
import { ShotColour } from './shotColour.ts';

/** What decides a shot's colours, by content: Library ids. Plain data; the same key gives the same numbers everywhere. */
export interface ColourKey {
  readonly config: string | null;
  /** Values of the config's variables, above its own defaults. */
  readonly variables: Readonly<Record<string, string>>;
  /** LUTs and CDLs used as looks, by the viewing and by adjustments. */
  readonly looks: readonly string[];
  /** Technical LUTs, each a space of its own: its numbers become numbers of `to`. */
  readonly conversions: readonly { readonly id: string; readonly name: string; readonly to: string }[];
  /** Show LUTs, each a view of its own: numbers of `from` become its codes. Left out where there are none. */
  readonly views?: readonly ShowLut[] | undefined;
}

/** A show LUT of the Library by its id. */
export interface ShowLut extends Omit<LutView, 'transform'> {
  readonly id: string;
}

export const builtinColour: ColourKey = { config: null, variables: {}, looks: [], conversions: [] };

/** Ids of the Library items that a key needs. */
export function itemsOf({ config, looks, conversions, views = [] }: ColourKey): string[] {
  const luts = [...conversions, ...views].map((item) => item.id);
  return [...new Set([...(config === null ? [] : [config]), ...looks, ...luts])];
}

/**
 * A key with those show LUTs alone that `dependents` name: viewings, spaces, ledgers. What pictures depend on, however many LUTs are offered;
 * a LUT is taken as used when its name stands anywhere in them.
 */
export function keyInForce({ views = [], ...key }: ColourKey, ...dependents: readonly unknown[]): ColourKey {
  if (!views.length) return key;
  const named = JSON.stringify(dependents).toLowerCase();
  const inside = (name: string) => named.includes(JSON.stringify(name).slice(1, -1).toLowerCase());
  const used = views.filter((v) => inside(v.name));
  return used.length ? { ...key, views: used } : key;
}

/** Opens a config whose files are all in memory. Throws a ColourFileError when there is no config among them. */
export function openBundledConfig(files: Bundle, name: string, context: Context = new Map()): ColourConfig {
  const at = findConfigFile(files);
  if (!at) throw new ColourFileError('no .ocio file is in it.', { file: name, line: 0 });
  const folder = at.includes('/') ? at.slice(0, at.lastIndexOf('/') + 1) : '';
  const text = new TextDecoder().decode(files.get(at)!);
  return new ColourConfig(parseConfig(text, at), { read: (path) => files.get(folder + path) }, context);
}

/** The LUT or CDL in a bundle of one. Throws a ColourFileError when there is none or it cannot be read. */
export function openBundledLut(files: Bundle, name: string): Transform {
  for (const path of files.keys())
    if (lutExtensions.includes(path.slice(path.lastIndexOf('.') + 1).toLowerCase()))
      return readLut(files.get(path)!, path);
  throw new ColourFileError('no LUT or CDL is in it.', { file: name, line: 0 });
}

/** The colours of a shot from its key and the bundles of the items it names. A missing bundle is an Error. */
export function openShotColour(key: ColourKey, bundles: ReadonlyMap<string, Bundle>): ShotColour {
  const need = (id: string): Bundle => {
    const found = bundles.get(id);
    if (!found) throw new Error('A colour config or LUT of this shot is no longer in the Library.');
    return found;
  };
  const context = new Map(Object.entries(key.variables));
  const config = key.config === null ? undefined : openBundledConfig(need(key.config), 'config', context);
  const looks = new Map(key.looks.map((id) => [id, openBundledLut(need(id), 'look')]));
  const conversions = key.conversions.map(({ id, name, to }) => ({
    name,
    to,
    transform: openBundledLut(need(id), name),
  }));
  const views = (key.views ?? []).map(({ id, name, from, encoding }) => ({
    name,
    from,
    encoding,
    transform: openBundledLut(need(id), name),
  }));
  return new ShotColour(config, looks, conversions, views);
}
