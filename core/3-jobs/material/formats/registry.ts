import { clipFormat } from '#core/3-jobs/material/formats/clip.ts';
import { curveFormat } from '#core/3-jobs/material/formats/curve.ts';
import type { MaterialAnswer, MaterialFile, MaterialFormat } from '#core/3-jobs/material/formats/material-format.ts';
import { sequenceFormat } from '#core/3-jobs/material/formats/sequence.ts';
import { timelineFormat } from '#core/3-jobs/material/formats/timeline.ts';
import { badInput } from '#core/1-ground/problem.ts';
import type { FrameRate } from '#core/1-ground/units/frame-rate.ts';

/** Every format of material; the first that accepts the files reads them. A new one is a file and a line here. */
export const MATERIAL_FORMATS: readonly MaterialFormat[] = [timelineFormat, curveFormat, clipFormat, sequenceFormat];

/** What may be given, in one phrase. */
export function materialWords(): string {
  // What people have most often is read last, as what is nothing else.
  const words = MATERIAL_FORMATS.map((format) => format.words).reverse();
  return `${words.slice(0, -1).join(', ')}, or ${words.at(-1)}`;
}

/** @throws Problem `bad-input` when there is nothing in the files, or something is wrong with them */
export async function readMaterialFiles(files: readonly MaterialFile[], frameRate: FrameRate): Promise<MaterialAnswer> {
  const format = MATERIAL_FORMATS.find((one) => one.accepts(files));
  if (!format) throw badInput('files', 'files: there are none. Give a clip, numbered files, a timeline or a CSV.');
  return format.read(files, frameRate);
}
