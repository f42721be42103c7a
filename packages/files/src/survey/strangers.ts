import { readdir } from 'node:fs/promises';
import type { Material } from '@june-haze/core';
import { isShown } from './walk.ts';

/** Files that programs and people leave beside frames. Common practice, no source. */
const leftBeside = /\.(txt|log|out|err)$/i;

/** Texts and logs that lie in the folders of a sequence's frames, by their paths; a still has no frames to lie among. */
export async function strangersAmong(
  material: Pick<Material, 'members'>,
  locate: (folder: string) => Promise<string>,
): Promise<string[]> {
  const moving = material.members.filter((m) => m.sequence.frames.length > 0);
  const folders = new Set(moving.map((m) => m.sequence.pattern.split('/').slice(0, -1).join('/')));
  const found: string[] = [];
  for (const folder of folders) {
    const names = await locate(folder).then(
      (path) => readdir(path),
      (): string[] => [],
    );
    const strange = names.filter((n) => leftBeside.test(n) && isShown(n)).sort();
    found.push(...strange.map((n) => (folder === '' ? n : `${folder}/${n}`)));
  }
  return found;
}
