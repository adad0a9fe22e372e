// Files that were dropped or chosen, each with its path in the folder that was dropped.
export interface Brought {
  name: string;
  file: File;
}

export const filesOf = (input: HTMLInputElement): Brought[] =>
  [...(input.files ?? [])].map((file) => ({ name: file.webkitRelativePath || file.name, file }));

export async function droppedFiles(dropped: DataTransfer): Promise<Brought[]> {
  const entries = [...dropped.items].map((i) => i.webkitGetAsEntry()).filter((e) => e !== null);
  if (entries.length === 0) return [...dropped.files].map((file) => ({ name: file.name, file }));
  return (await Promise.all(entries.map((e) => below(e, "")))).flat();
}

async function below(entry: FileSystemEntry, path: string): Promise<Brought[]> {
  const name = `${path}${entry.name}`;
  if (entry.isFile) {
    const file = await new Promise<File>((done, fail) => (entry as FileSystemFileEntry).file(done, fail));
    return [{ name, file }];
  }
  const reader = (entry as FileSystemDirectoryEntry).createReader();
  const all: Brought[] = [];
  // A reader gives its entries in portions, an empty one last.
  for (;;) {
    const some = await new Promise<FileSystemEntry[]>((done, fail) => reader.readEntries(done, fail));
    if (some.length === 0) return all;
    all.push(...(await Promise.all(some.map((e) => below(e, `${name}/`)))).flat());
  }
}
