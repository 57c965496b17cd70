import { materialOfClip, materialOfCurve, materialOfFiles, type Material } from '#core/material/material.ts';
import type { MaterialRates } from '#core/material/sample-rates.ts';
import { parseTimeline, type Timeline } from '#core/material/timeline.ts';
import { badInput, Problem } from '#core/problem.ts';
import { parseTraceCsv } from '#core/trace/trace-csv.ts';
import type { FrameRate } from '#core/units/frame-rate.ts';

/** What was dropped: files with their places in the folder they came from. */
export interface MaterialRequest {
  files: { path: string; file: File }[];
  frameRate: FrameRate;
}

/** A timeline still needs to know what its clips are; those that were dropped with it are told. */
export type MaterialAnswer =
  | { kind: 'material'; material: Material }
  | { kind: 'timeline'; timeline: Timeline; clips: Record<string, MaterialRates> }
  | { kind: 'problem'; detail: string };

/** Text documents beyond this are none. */
const LARGEST_TEXT_BYTES = 200e6;

const extensionOf = (path: string): string => /\.([a-z0-9]+)$/i.exec(path)?.[1]?.toLowerCase() ?? '';
const CLIPS = new Set(['mp4', 'm4v', 'mov', 'mkv', 'webm', 'mxf', 'avi', 'ts', 'mts']);

async function text(file: File): Promise<string> {
  if (file.size > LARGEST_TEXT_BYTES) throw badInput('file', `${file.name}: is larger than 200 MB.`);
  return file.text();
}

async function clipOf(file: File) {
  // The container reader is loaded when the first clip is dropped.
  const { BlobSource, readClip } = await import('#core/material/read-clip.ts');
  return readClip(new BlobSource(file), file.name);
}

async function read({ files, frameRate }: MaterialRequest): Promise<MaterialAnswer> {
  if (files.length === 0) throw badInput('files', 'Nothing was dropped.');
  const timeline = files.find(({ path }) => extensionOf(path) === 'otio');
  if (timeline) {
    const clips: Record<string, MaterialRates> = {};
    for (const { path, file } of files) {
      if (CLIPS.has(extensionOf(path))) clips[file.name] = (await clipOf(file)).rates;
    }
    return { kind: 'timeline', timeline: parseTimeline(await text(timeline.file), timeline.file.name), clips };
  }
  const [first] = files;
  if (files.length === 1 && extensionOf(first!.path) === 'csv') {
    return {
      kind: 'material',
      material: materialOfCurve(first!.file.name, parseTraceCsv(await text(first!.file), first!.file.name)),
    };
  }
  if (files.length === 1) {
    return { kind: 'material', material: materialOfClip(first!.file.name, await clipOf(first!.file)) };
  }
  const sizes = files.map(({ path, file }) => ({ name: path, bytes: file.size }));
  return { kind: 'material', material: materialOfFiles(sizes, frameRate) };
}

self.onmessage = ({ data }: MessageEvent<MaterialRequest>) => {
  void read(data)
    .catch((error: unknown): MaterialAnswer => ({
      kind: 'problem',
      detail: error instanceof Problem ? error.detail : `It could not be read: ${(error as Error).message}.`,
    }))
    .then((answer) => self.postMessage(answer));
};
