import { ColourFileError, type Place } from './place.ts';

/** Values of a config's variables. */
export type Context = ReadonlyMap<string, string>;

/** Puts values in the place of `$NAME`, `${NAME}` and `%NAME%`; a name without a value stays as it is. */
export function resolveVariables(text: string, context: Context): string {
  let out = text;
  // A value may hold variables itself; a few rounds are enough, and a circle ends.
  for (let round = 0; round < 8 && /[$%]/.test(out); round++) {
    const before = out;
    out = out.replace(/\$\{([^}]*)\}|%([A-Za-z_]\w*)%/g, (whole, a: string | undefined, b: string | undefined) => {
      return context.get((a ?? b)!) ?? whole;
    });
    out = out.replace(/\$([A-Za-z_]\w*)/g, (whole, name: string) => {
      if (context.has(name)) return context.get(name)!;
      // The longest declared name that the word begins with.
      for (let n = name.length - 1; n > 0; n--) {
        const value = context.get(name.slice(0, n));
        if (value !== undefined) return value + name.slice(n);
      }
      return whole;
    });
    if (out === before) break;
  }
  return out;
}

/** The variables left in a text. */
export function openVariables(text: string): string[] {
  return [...text.matchAll(/\$\{?([A-Za-z_]\w*)\}?|%([A-Za-z_]\w*)%/g)].map((m) => (m[1] ?? m[2])!);
}

/** A text without variables left. Throws when one has no value. */
export function requireResolved(text: string, context: Context, place: Place | undefined): string {
  const resolved = resolveVariables(text, context);
  const open = openVariables(resolved);
  if (open.length > 0)
    throw new ColourFileError(`the variable ${open[0]} in "${text}" has no value; give it one.`, place, 'missing-name');
  return resolved;
}

/** A path with "." and ".." worked out, "/" between; a leading ".." or "/" is kept. */
export function normalisePath(path: string): string {
  const absolute = path.startsWith('/');
  const out: string[] = [];
  for (const part of path.replaceAll('\\', '/').split('/')) {
    if (part === '' || part === '.') continue;
    if (part === '..' && out.length > 0 && out.at(-1) !== '..') out.pop();
    else if (part !== '..' || !absolute) out.push(part);
  }
  return (absolute ? '/' : '') + out.join('/');
}
