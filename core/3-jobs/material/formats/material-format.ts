import type { Edit } from '#core/3-jobs/material/edit.ts';
import type { Clip } from '#core/3-jobs/material/clip.ts';
import type { Material } from '#core/3-jobs/material/material.ts';
import type { FrameRate } from '#core/1-ground/units/frame-rate.ts';

/** A file of real material, wherever it lies: in a browser's drop or in a folder. */
export interface MaterialFile {
  /** Its place below what was given, with `/`. */
  path: string;
  name: string;
  bytes: number;
  /** Its whole text. @throws Problem `bad-input` when it is too large to be a text */
  text(): Promise<string>;
  /** What its container tells. @throws Problem `bad-input` when it is none */
  clip(): Promise<Clip>;
}

/** Material that is read, or an edit that still needs to know what some of its media are. */
export type MaterialAnswer = { kind: 'material'; material: Material } | { kind: 'timeline'; edit: Edit };

/** A kind of files that real material is read from. */
export interface MaterialFormat {
  /** How it is named where files are asked for: “a clip (MP4, MOV)”. */
  words: string;
  accepts(files: readonly MaterialFile[]): boolean;
  /**
   * @param frameRate of what does not tell its own
   * @throws Problem `bad-input` that names the place of the fault
   */
  read(files: readonly MaterialFile[], frameRate: FrameRate): Promise<MaterialAnswer>;
}

export const extensionOf = (path: string): string => /\.([a-z0-9]+)$/i.exec(path)?.[1]?.toLowerCase() ?? '';
