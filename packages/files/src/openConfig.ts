import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs';
import { dirname, isAbsolute, join } from 'node:path';
import { ColourConfig, openBundledConfig, parseConfig, readBundle, type ConfigFiles } from '@june-haze/core';

/**
 * Opens a colour config from a file, a folder that holds one, or a zip archive. Its other files are read when they are needed.
 * Throws a ColourFileError or an Error that names the file.
 */
export function openConfig(path: string, context: ReadonlyMap<string, string> = new Map()): ColourConfig {
  if (!existsSync(path)) throw new Error(`${path}: there is no such file.`);
  if (statSync(path).isDirectory()) {
    const found = readdirSync(path).filter((n) => n.toLowerCase().endsWith('.ocio'));
    if (found.length === 0) throw new Error(`${path}: no .ocio file is in this folder.`);
    const name = found.includes('config.ocio') ? 'config.ocio' : found.sort()[0]!;
    return openConfig(join(path, name), context);
  }
  const bytes = readFileSync(path);
  if (bytes[0] === 0x50 && bytes[1] === 0x4b) return openBundledConfig(readBundle(bytes, path), path, context);
  const folder = dirname(path);
  const files: ConfigFiles = {
    read: (relative) => {
      const full = isAbsolute(relative) ? relative : join(folder, relative);
      return existsSync(full) && statSync(full).isFile() ? readFileSync(full) : undefined;
    },
  };
  return new ColourConfig(parseConfig(bytes.toString('utf8'), path), files, context);
}
