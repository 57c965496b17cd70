import { expose } from 'comlink';
import type { MaterialFile } from '#core/3-jobs/material/formats/material-format.ts';
import { readMaterialFiles } from '#core/3-jobs/material/formats/registry.ts';
import { badInput } from '#core/1-ground/problem.ts';
import type { FrameRate } from '#core/1-ground/units/frame-rate.ts';
import { inWords } from '../kit/remote.ts';

/** What was dropped: files with their places in the folder they came from. */
export interface MaterialRequest {
  files: { path: string; file: File }[];
  frameRate: FrameRate;
}

/** Text documents beyond this are none. */
const LARGEST_TEXT_BYTES = 200e6;

const materialFile = ({ path, file }: MaterialRequest['files'][number]): MaterialFile => ({
  path,
  name: file.name,
  bytes: file.size,
  async text() {
    if (file.size > LARGEST_TEXT_BYTES) throw badInput('file', `${file.name}: is larger than 200 MB.`);
    return file.text();
  },
  async clip() {
    // The container reader is loaded when the first clip is dropped.
    const { BlobSource, readClip } = await import('#core/3-jobs/material/read-clip.ts');
    return readClip(new BlobSource(file), file.name);
  },
});

const functions = {
  read: inWords('It could not be read', ({ files, frameRate }: MaterialRequest) =>
    readMaterialFiles(files.map(materialFile), frameRate),
  ),
};
export type MaterialWorker = typeof functions;

expose(functions);
