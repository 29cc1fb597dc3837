import type { FileToImport } from '../state/project/project-transfer.store';

/** Files of a file dialog; a chosen folder gives their paths within it. */
export function chosenFiles(list: FileList | null): FileToImport[] {
  return [...(list ?? [])].map((file) => ({ path: file.webkitRelativePath || file.name, file }));
}

/** All files that were dropped, those in folders included. Must be called while the drop is being handled. */
export async function droppedFiles(transfer: DataTransfer | null): Promise<FileToImport[]> {
  const entries = [...(transfer?.items ?? [])]
    .map((item) => item.webkitGetAsEntry?.())
    .filter((entry) => entry !== null && entry !== undefined);
  if (entries.length === 0) return chosenFiles(transfer?.files ?? null);
  const found = await Promise.all(entries.map((entry) => filesWithin(entry, '')));
  return found.flat();
}

async function filesWithin(entry: FileSystemEntry, folder: string): Promise<FileToImport[]> {
  const path = folder + entry.name;
  if (isFile(entry)) {
    const file = await new Promise<File>((resolve, reject) => entry.file(resolve, reject));
    return [{ path, file }];
  }
  if (!isDirectory(entry)) return [];
  const reader = entry.createReader();
  const children: FileSystemEntry[] = [];
  // A reader hands out a hundred entries at a time, and none when it is done.
  for (;;) {
    const some = await new Promise<FileSystemEntry[]>((resolve, reject) => reader.readEntries(resolve, reject));
    if (some.length === 0) break;
    children.push(...some);
  }
  const found = await Promise.all(children.map((child) => filesWithin(child, `${path}/`)));
  return found.flat();
}

const isFile = (entry: FileSystemEntry): entry is FileSystemFileEntry => entry.isFile;
const isDirectory = (entry: FileSystemEntry): entry is FileSystemDirectoryEntry => entry.isDirectory;
