import type { MaterialReply, MaterialRequest } from './material-worker.ts';

export interface Reading {
  answer: Promise<MaterialReply>;
  stop: () => void;
}

/** Reads real material in a worker, which can be ended at any moment: nothing leaves the machine. */
export function readMaterial(request: MaterialRequest): Reading {
  const worker = new Worker(new URL('./material-worker.ts', import.meta.url), { type: 'module' });
  const answer = new Promise<MaterialReply>((resolve) => {
    worker.onmessage = ({ data }: MessageEvent<MaterialReply>) => resolve(data);
    worker.onerror = (event) => resolve({ kind: 'problem', detail: `It could not be read: ${event.message}.` });
  });
  void answer.then(() => worker.terminate());
  worker.postMessage(request);
  return { answer, stop: () => worker.terminate() };
}

/** More files than this in a drop are no sequence that anybody shot. */
const MOST_FILES = 200_000;

/** All files of a drop, folders walked. */
export async function droppedFiles(transfer: DataTransfer): Promise<MaterialRequest['files']> {
  const entries = [...transfer.items].map((item) => item.webkitGetAsEntry()).filter((entry) => entry !== null);
  const files: MaterialRequest['files'] = [];
  for (const entry of entries) await walk(entry, files);
  return files;
}

async function walk(entry: FileSystemEntry, files: MaterialRequest['files']): Promise<void> {
  if (files.length >= MOST_FILES) return;
  if (entry.isFile) {
    const file = await new Promise<File>((resolve, reject) => (entry as FileSystemFileEntry).file(resolve, reject));
    files.push({ path: entry.fullPath, file });
    return;
  }
  const reader = (entry as FileSystemDirectoryEntry).createReader();
  for (;;) {
    // A folder gives its names in portions until one is empty.
    const part = await new Promise<FileSystemEntry[]>((resolve, reject) => reader.readEntries(resolve, reject));
    if (part.length === 0) return;
    for (const child of part) await walk(child, files);
  }
}
