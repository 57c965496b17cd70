import type { MaterialAnswer } from '#core/3-jobs/material/formats/material-format.ts';
import { remoteWorker } from '../kit/remote.ts';
import type { MaterialRequest, MaterialWorker } from './material-worker.ts';

export interface Reading {
  /** Rejects with a sentence. */
  answer: Promise<MaterialAnswer>;
  stop: () => void;
}

/** Reads real material in a worker, which can be ended at any moment: nothing leaves the machine. */
export function readMaterial(request: MaterialRequest): Reading {
  const { call, unlessItFails, end } = remoteWorker<MaterialWorker>(
    new Worker(new URL('./material-worker.ts', import.meta.url), { type: 'module' }),
  );
  return { answer: unlessItFails<MaterialAnswer>(call.read(request)).finally(end), stop: end };
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
