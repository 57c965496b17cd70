import type { MaterialFormat } from '#core/3-jobs/material/formats/material-format.ts';
import { materialOfFiles } from '#core/3-jobs/material/material.ts';

/** Numbered files, one a frame. */
export const sequenceFormat: MaterialFormat = {
  words: 'a folder of numbered files',
  accepts: (files) => files.length > 1,
  async read(files, frameRate) {
    const sizes = files.map(({ path, bytes }) => ({ name: path, bytes }));
    return { kind: 'material', material: materialOfFiles(sizes, frameRate) };
  },
};
