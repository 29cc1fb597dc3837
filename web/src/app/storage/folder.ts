/** A folder of the disk that a person has chosen. */
export interface DiskFolder {
  readonly name: string;
  /** Writes a file, whole or not at all; folders on its path are made. */
  write(path: string, bytes: Uint8Array<ArrayBuffer>): Promise<void>;
  /** The file at a path; nothing where there is none. */
  read(path: string): Promise<Uint8Array<ArrayBuffer> | undefined>;
}

declare global {
  interface Window {
    /** Only some browsers let pages write into folders. */
    showDirectoryPicker?: (options: { id: string; mode: 'readwrite' }) => Promise<FileSystemDirectoryHandle>;
  }
}

export const canWriteFolders = (): boolean => window.showDirectoryPicker !== undefined;

/** Asks for a folder; nothing when the person thinks better of it. */
export async function chooseFolder(): Promise<DiskFolder | undefined> {
  try {
    const handle = await window.showDirectoryPicker?.({ id: 'hand-off', mode: 'readwrite' });
    return handle && folderOf(handle);
  } catch (error) {
    if (error instanceof DOMException && error.name === 'AbortError') return undefined;
    throw error;
  }
}

function folderOf(root: FileSystemDirectoryHandle): DiskFolder {
  const parent = async (path: string, create: boolean): Promise<[FileSystemDirectoryHandle, string]> => {
    const parts = path.split('/');
    const name = parts.pop()!;
    let folder = root;
    for (const part of parts) folder = await folder.getDirectoryHandle(part, { create });
    return [folder, name];
  };
  return {
    name: root.name,
    async write(path, bytes) {
      try {
        const [folder, name] = await parent(path, true);
        const file = await folder.getFileHandle(name, { create: true });
        // What is written takes the file's place when it is closed.
        const stream = await file.createWritable();
        await stream.write(bytes);
        await stream.close();
      } catch (error) {
        throw new Error(`${path} could not be written: ${reasonOf(error)}.`);
      }
    },
    async read(path) {
      try {
        const [folder, name] = await parent(path, false);
        const file = await (await folder.getFileHandle(name)).getFile();
        return new Uint8Array(await file.arrayBuffer());
      } catch (error) {
        if (error instanceof DOMException && (error.name === 'NotFoundError' || error.name === 'TypeMismatchError')) return undefined;
        throw error;
      }
    },
  };
}

const reasons: Readonly<Record<string, string>> = {
  QuotaExceededError: 'the disk is full',
  NotAllowedError: 'the folder may not be written to',
  NoModificationAllowedError: 'the folder may not be written to, or another program has the file',
  NotFoundError: 'the folder is not there any more',
  TypeMismatchError: 'a folder has the name of the file, or the other way round',
};

function reasonOf(error: unknown): string {
  const known = error instanceof DOMException ? reasons[error.name] : undefined;
  return known ?? (error instanceof Error ? error.message : String(error));
}
