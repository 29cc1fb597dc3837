/** A folder of the disk that a person has chosen. */
export interface DiskFolder {
  readonly name: string;
  /** Writes a file, whole or not at all; folders on its path are made. */
  write(path: string, content: Uint8Array<ArrayBuffer> | Blob): Promise<void>;
  /** The file at a path; nothing where there is none. */
  read(path: string): Promise<Uint8Array<ArrayBuffer> | undefined>;
  /** Names of the files in a folder within it; none where there is no such folder. */
  list(path: string): Promise<readonly string[]>;
  /** Takes a file away, if it is there. */
  remove(path: string): Promise<void>;
}

declare global {
  interface FileSystemHandle {
    /** Browsers that let pages write into folders ask again in every session. */
    queryPermission?: (options: { mode: 'readwrite' }) => Promise<PermissionState>;
    requestPermission?: (options: { mode: 'readwrite' }) => Promise<PermissionState>;
  }
  interface FileSystemDirectoryHandle {
    keys(): AsyncIterable<string>;
  }
  interface Window {
    /** Only some browsers let pages write into folders. */
    showDirectoryPicker?: (options: { id: string; mode: 'readwrite' }) => Promise<FileSystemDirectoryHandle>;
  }
}

export const canWriteFolders = (): boolean => window.showDirectoryPicker !== undefined;

/** Asks for a folder to write deliveries into; nothing when the person thinks better of it. */
export async function chooseFolder(): Promise<DiskFolder | undefined> {
  const handle = await chooseHandle('hand-off');
  return handle && folderOf(handle);
}

/** Asks for a folder; the browser begins where the last one with the same purpose was. */
export async function chooseHandle(purpose: string): Promise<FileSystemDirectoryHandle | undefined> {
  try {
    return await window.showDirectoryPicker?.({ id: purpose, mode: 'readwrite' });
  } catch (error) {
    if (error instanceof DOMException && error.name === 'AbortError') return undefined;
    throw error;
  }
}

/** Whether a folder that was chosen once may be written to: at once, when it is asked for, or not at all. */
export async function mayWrite(handle: FileSystemDirectoryHandle, ask: boolean): Promise<PermissionState> {
  const mode = { mode: 'readwrite' } as const;
  return (await (ask ? handle.requestPermission?.(mode) : handle.queryPermission?.(mode))) ?? 'granted';
}

export function folderOf(root: FileSystemDirectoryHandle): DiskFolder {
  const parent = async (path: string, create: boolean): Promise<[FileSystemDirectoryHandle, string]> => {
    const parts = path.split('/');
    const name = parts.pop()!;
    let folder = root;
    for (const part of parts) folder = await folder.getDirectoryHandle(part, { create });
    return [folder, name];
  };
  return {
    name: root.name,
    async write(path, content) {
      try {
        const [folder, name] = await parent(path, true);
        const file = await folder.getFileHandle(name, { create: true });
        // What is written takes the file's place when it is closed.
        const stream = await file.createWritable();
        await stream.write(content);
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
        if (isMissing(error)) return undefined;
        throw error;
      }
    },
    async list(path) {
      try {
        const names: string[] = [];
        for await (const name of (await root.getDirectoryHandle(path)).keys()) names.push(name);
        return names.sort();
      } catch (error) {
        if (isMissing(error)) return [];
        throw error;
      }
    },
    async remove(path) {
      try {
        const [folder, name] = await parent(path, false);
        await folder.removeEntry(name);
      } catch (error) {
        if (!isMissing(error)) throw error;
      }
    },
  };
}

const isMissing = (error: unknown): boolean =>
  error instanceof DOMException && (error.name === 'NotFoundError' || error.name === 'TypeMismatchError');

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
