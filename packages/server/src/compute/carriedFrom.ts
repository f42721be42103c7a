import { carriedAttributes, openExr, type ExrAttribute } from '@june-haze/core';
import { openSource } from '@june-haze/files';

/** What of an EXR's attributes still holds in a file that is made from it; nothing of other kinds of files. */
export async function carriedFrom(
  file: { readonly path: string; readonly name: string; readonly part: number } | undefined,
  how: { readonly whole: boolean; readonly aces: boolean },
): Promise<Record<string, ExrAttribute>> {
  if (!file) return {};
  const source = await openSource(file.path, file.name);
  try {
    const part = (await openExr(source)).parts[file.part];
    return part ? carriedAttributes(part, how) : {};
  } finally {
    await source.close();
  }
}
