/** What was dropped on the window, as far as a browser tells. */

/** A path, or a folder's name with some of what is in it, by size in bytes. */
export type Dropped = { path: string } | { name: string; files: Record<string, number> };

// So many tell a folder from another one of its name.
const SAMPLES = 20;

/** Whether a drag holds files, or text that may be a path. */
export function isFromOutside({ dataTransfer }: DragEvent): boolean {
  const target = document.activeElement;
  // Into a field, text is dropped as everywhere.
  if (target instanceof HTMLInputElement || target instanceof HTMLTextAreaElement)
    return !!dataTransfer?.types.includes('Files');
  return !!dataTransfer?.types.some((type) => type === 'Files' || type === 'text/uri-list');
}

/** Read a drop. It is to be called while the event goes on: later a browser has forgotten it. */
export async function dropped(data: DataTransfer): Promise<Dropped> {
  const entries = [...data.items].flatMap((item) => item.webkitGetAsEntry() ?? []);
  const loose = [...data.files];
  const uri = data.getData('text/uri-list');
  const folder = entries.find((entry) => entry.isDirectory);
  if (folder) return { name: folder.name, files: await inside(folder as FileSystemDirectoryEntry) };
  if (!loose.length && uri.startsWith('file:')) return { path: uri };
  return {
    name: '',
    files: Object.fromEntries(loose.slice(0, SAMPLES).map((file) => [file.name, file.size])),
  };
}

async function inside(folder: FileSystemDirectoryEntry): Promise<Record<string, number>> {
  const entries = await new Promise<FileSystemEntry[]>((resolve, reject) =>
    folder.createReader().readEntries(resolve, reject),
  );
  const files = entries.filter((entry) => entry.isFile).slice(0, SAMPLES);
  const sizes = await Promise.all(
    files.map(
      (entry) =>
        new Promise<[string, number]>((resolve, reject) =>
          (entry as FileSystemFileEntry).file((file) => resolve([file.name, file.size]), reject),
        ),
    ),
  );
  return Object.fromEntries(sizes);
}
