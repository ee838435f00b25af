/** A file as it was dropped or chosen, with its path from the folder it came in. */
export interface Found {
  path: string;
  file: File;
}

/** Files that came in together: a dropped folder with everything below it, or a handful of loose files. */
export interface Bundle {
  /** The folder; null for loose files. */
  name: string | null;
  files: Found[];
  /** The door to the folder, where the browser gives one. */
  door?: FileSystemDirectoryHandle | undefined;
}

/** Groups files by the folder they were dropped in; loose files are one bundle of their own. */
export function bundles(
  files: readonly Found[],
  doors: ReadonlyMap<string, FileSystemDirectoryHandle> = new Map(),
): Bundle[] {
  const byFolder = new Map<string, Found[]>();
  for (const found of files) {
    const cut = found.path.indexOf('/');
    const name = cut > 0 ? found.path.slice(0, cut) : '';
    byFolder.set(name, [...(byFolder.get(name) ?? []), found]);
  }
  return [...byFolder].map(([name, some]) => ({ name: name || null, files: some, door: doors.get(name) }));
}

async function entries(folder: FileSystemDirectoryEntry): Promise<FileSystemEntry[]> {
  const reader = folder.createReader();
  const all: FileSystemEntry[] = [];
  // A reader gives at most a hundred at a time, and nothing when it is through.
  for (;;) {
    const some = await new Promise<FileSystemEntry[]>((resolve, reject) => reader.readEntries(resolve, reject));
    if (some.length === 0) return all;
    all.push(...some);
  }
}

async function below(entry: FileSystemEntry, path: string, into: Found[]): Promise<void> {
  // Files that begin with a dot are the system's own.
  if (entry.name.startsWith('.')) return;
  if (entry.isFile) {
    const file = await new Promise<File>((resolve, reject) => (entry as FileSystemFileEntry).file(resolve, reject));
    into.push({ path: path + entry.name, file });
  } else
    for (const child of await entries(entry as FileSystemDirectoryEntry))
      await below(child, `${path}${entry.name}/`, into);
}

/** What was dropped: every file, whole trees included, and the doors to folders where the browser gives them. */
export interface Dropped {
  files: Found[];
  doors: Map<string, FileSystemDirectoryHandle>;
}

type Opener = DataTransferItem & { getAsFileSystemHandle?: () => Promise<FileSystemHandle | null> };

/** Everything that was dropped. Must be called while the drop is handled: browsers show it no longer. */
export async function dropped(data: DataTransfer): Promise<Dropped> {
  const items = [...data.items];
  const roots = items.map((item) => item.webkitGetAsEntry()).filter((entry) => entry !== null);
  const opening = items.map((item) => (item as Opener).getAsFileSystemHandle?.().catch(() => null));
  const files: Found[] = [];
  for (const root of roots) await below(root, '', files);
  const doors = new Map<string, FileSystemDirectoryHandle>();
  for (const door of await Promise.all(opening))
    if (door?.kind === 'directory') doors.set(door.name, door as FileSystemDirectoryHandle);
  return { files, doors };
}

type Walkable = FileSystemDirectoryHandle & { values(): AsyncIterable<FileSystemHandle> };

/** Every file behind a door that was kept, with paths as when it was dropped. */
export async function behind(door: FileSystemDirectoryHandle, path = `${door.name}/`): Promise<Found[]> {
  const found: Found[] = [];
  for await (const one of (door as Walkable).values()) {
    if (one.name.startsWith('.')) continue;
    if (one.kind === 'file') found.push({ path: path + one.name, file: await (one as FileSystemFileHandle).getFile() });
    else found.push(...(await behind(one as FileSystemDirectoryHandle, `${path}${one.name}/`)));
  }
  return found;
}

/** Files from a file or folder dialog. */
export const chosen = (files: FileList | null): Found[] =>
  [...(files ?? [])]
    .map((file) => ({ path: file.webkitRelativePath || file.name, file }))
    .filter(({ path }) => !path.split('/').some((part) => part.startsWith('.')));
