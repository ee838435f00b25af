/** A file as it was dropped or chosen, with its path from the folder it came in. */
export interface Found {
  path: string;
  file: File;
}

/** Files that came in together: a dropped folder with everything below it, or a handful of loose files. */
export interface Bundle {
  name: string;
  files: Found[];
}

/** Groups files by the folder they were dropped in; loose files are one bundle of their own. */
export function bundles(files: readonly Found[], looseName: string): Bundle[] {
  const byFolder = new Map<string, Found[]>();
  for (const found of files) {
    const cut = found.path.indexOf('/');
    const name = cut > 0 ? found.path.slice(0, cut) : looseName;
    byFolder.set(name, [...(byFolder.get(name) ?? []), found]);
  }
  return [...byFolder].map(([name, some]) => ({ name, files: some }));
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
  if (entry.isFile) {
    const file = await new Promise<File>((resolve, reject) => (entry as FileSystemFileEntry).file(resolve, reject));
    into.push({ path: path + entry.name, file });
  } else
    for (const child of await entries(entry as FileSystemDirectoryEntry))
      await below(child, `${path}${entry.name}/`, into);
}

/** Everything that was dropped, whole trees included. */
export async function dropped(data: DataTransfer): Promise<Found[]> {
  const roots = [...data.items]
    .map((item) => item.webkitGetAsEntry())
    .filter((entry): entry is FileSystemEntry => entry !== null);
  const found: Found[] = [];
  for (const root of roots) await below(root, '', found);
  return found;
}

/** Files from a file or folder dialog. */
export const chosen = (files: FileList | null): Found[] =>
  [...(files ?? [])].map((file) => ({ path: file.webkitRelativePath || file.name, file }));
