import { extensionOf, type MaterialFile, type MaterialFormat } from '#core/3-jobs/material/formats/material-format.ts';
import { materialOfClip } from '#core/3-jobs/material/material.ts';

const EXTENSIONS = new Set(['mp4', 'm4v', 'mov', 'mkv', 'webm', 'mxf', 'avi', 'ts', 'mts']);

const SOUND_EXTENSIONS = new Set(['wav', 'wave', 'bwf', 'aif', 'aiff', 'mp3', 'm4a', 'flac', 'ogg']);

/** Whether a file's name is that of sound. */
export const isSound = ({ path }: MaterialFile): boolean => SOUND_EXTENSIONS.has(extensionOf(path));

/** Whether a file's name is that of a clip; its container decides when it is read. */
export const isClip = ({ path }: MaterialFile): boolean => EXTENSIONS.has(extensionOf(path));

/** Anything else that comes alone: its container tells what it is, or that it is none. */
export const clipFormat: MaterialFormat = {
  words: 'a clip (MP4, MOV, MXF, MKV, WebM)',
  accepts: (files) => files.length === 1,
  async read([file]) {
    return { kind: 'material', material: materialOfClip(file!.name, await file!.clip()) };
  },
};
