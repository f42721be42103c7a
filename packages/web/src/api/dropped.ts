import type { DroppedFile } from './library.ts';

/** Every file of a drop, folders walked through; hidden files are passed over. */
export async function droppedFiles(transfer: DataTransfer): Promise<DroppedFile[]> {
  const entries = [...transfer.items].map((i) => i.webkitGetAsEntry()).filter((e) => e !== null);
  const out: DroppedFile[] = [];
  for (const entry of entries) await walk(entry, '', out);
  return out;
}

async function walk(entry: FileSystemEntry, above: string, out: DroppedFile[]): Promise<void> {
  if (entry.name.startsWith('.')) return;
  const path = above + entry.name;
  if (entry.isFile) {
    const file = await new Promise<File>((done, failed) => (entry as FileSystemFileEntry).file(done, failed));
    out.push({ path, file });
    return;
  }
  const reader = (entry as FileSystemDirectoryEntry).createReader();
  for (;;) {
    // A reader gives a hundred entries at a time, then none.
    const batch = await new Promise<FileSystemEntry[]>((done, failed) => reader.readEntries(done, failed));
    if (batch.length === 0) return;
    for (const inner of batch) await walk(inner, `${path}/`, out);
  }
}
