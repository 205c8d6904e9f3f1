import { unzip, zip, type AsyncZippable } from 'fflate';

/** A file with the path that it had where it came from. */
export interface PathFile {
  path: string;
  file: File;
}

/** Several files as one archive, uncompressed, to be sent and kept as one. */
export async function packFiles(files: readonly PathFile[], name: string): Promise<File> {
  const content: AsyncZippable = {};
  for (const { path, file } of files) content[path] = [new Uint8Array(await file.arrayBuffer()), { level: 0 }];
  const packed = await new Promise<Uint8Array>((resolve, reject) => zip(content, (error, data) => (error ? reject(error) : resolve(data))));
  return new File([packed as Uint8Array<ArrayBuffer>], `${name}.zip`);
}

/** Names of the files in an archive; none where it is damaged, which whoever reads it says. */
export async function packedNames(file: File): Promise<string[]> {
  const names: string[] = [];
  const filter = ({ name }: { name: string }) => {
    names.push(name);
    return false;
  };
  const bytes = new Uint8Array(await file.arrayBuffer());
  await new Promise<void>((resolve) => unzip(bytes, { filter }, () => resolve()));
  return names;
}

/** The files that were dropped, those within folders among them, with their paths. */
export async function droppedFiles(transfer: DataTransfer): Promise<PathFile[]> {
  // Entries are there while the event lasts, and no longer.
  const entries = [...transfer.items].flatMap((item) => item.webkitGetAsEntry() ?? []);
  if (entries.length === 0) return [...transfer.files].map((file) => ({ path: file.name, file }));
  return (await Promise.all(entries.map(filesOf))).flat();
}

async function filesOf(entry: FileSystemEntry): Promise<PathFile[]> {
  if (entry.isFile) {
    const file = await new Promise<File>((resolve, reject) => (entry as FileSystemFileEntry).file(resolve, reject));
    return [{ path: entry.fullPath.replace(/^\//, ''), file }];
  }
  const reader = (entry as FileSystemDirectoryEntry).createReader();
  const found: PathFile[] = [];
  // A folder is read some entries at a time.
  for (;;) {
    const some = await new Promise<FileSystemEntry[]>((resolve, reject) => reader.readEntries(resolve, reject));
    if (some.length === 0) return found;
    found.push(...(await Promise.all(some.map(filesOf))).flat());
  }
}
