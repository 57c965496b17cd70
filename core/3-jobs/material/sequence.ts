import { materialRates, type MaterialRates } from '#core/3-jobs/material/sample-rates.ts';
import { badInput } from '#core/1-ground/problem.ts';
import { framesPerSecond, type FrameRate } from '#core/1-ground/units/frame-rate.ts';

export interface NamedSize {
  name: string;
  bytes: number;
}

/** Numbered files that belong together: `name.0001.ext`. */
export interface FileSequence {
  /** Before and after the number, with # for it: `reel_####.dpx`. */
  pattern: string;
  extension: string;
  /** In the order of their numbers. */
  files: { number: number; bytes: number }[];
  /** Numbers between first and last that are not there, as ranges. */
  missing: [number, number][];
  missingCount: number;
  /** Files of no bytes. */
  empty: number[];
}

const NUMBERED = /^(.*?)(\d+)(\.[a-z0-9]+)$/i;

/** Names that are no frames, though they may have a number. */
const NO_FRAME = /^\.|^(thumbs|desktop)/i;

/** Sequences among files, the longest first; a single file with a number is none. */
export function sequencesOf(files: readonly NamedSize[]): FileSequence[] {
  const groups = new Map<string, { before: string; digits: number; extension: string; files: Map<number, number> }>();
  for (const { name, bytes } of files) {
    const base = name.split('/').at(-1)!;
    const match = NUMBERED.exec(base);
    if (!match || NO_FRAME.test(base)) continue;
    const [, before, digits, extension] = match;
    const folder = name.slice(0, name.length - base.length);
    const key = `${folder}\u0000${before}\u0000${extension!.toLowerCase()}`;
    const group = groups.get(key) ?? {
      before: before!,
      digits: digits!.length,
      extension: extension!.toLowerCase(),
      files: new Map(),
    };
    group.files.set(Number(digits), bytes);
    group.digits = Math.min(group.digits, digits!.length);
    groups.set(key, group);
  }
  return [...groups.values()]
    .filter((group) => group.files.size > 1)
    .map(({ before, digits, extension, files: sizes }) => {
      const numbers = [...sizes.keys()].sort((a, b) => a - b);
      const missing: [number, number][] = [];
      numbers.forEach((number, index) => {
        const last = numbers[index - 1];
        if (last !== undefined && number > last + 1) missing.push([last + 1, number - 1]);
      });
      return {
        pattern: `${before}${'#'.repeat(digits)}${extension}`,
        extension: extension.slice(1),
        files: numbers.map((number) => ({ number, bytes: sizes.get(number)! })),
        missing,
        missingCount: missing.reduce((sum, [from, to]) => sum + to - from + 1, 0),
        empty: numbers.filter((number) => sizes.get(number) === 0),
      };
    })
    .sort((a, b) => b.files.length - a.files.length);
}

/** Rates of a sequence at a frame rate; frames that are missing are taken to be as large as the others, as a player asks. */
export function sequenceRates({ files }: FileSequence, frameRate: FrameRate): MaterialRates {
  const [first, last] = [files[0]!.number, files.at(-1)!.number];
  const sizes = new Map(files.map(({ number, bytes }) => [number, bytes]));
  const bytes = files.reduce((sum, file) => sum + file.bytes, 0);
  const usual = bytes / files.length;
  const perSecond = framesPerSecond(frameRate);
  const count = last - first + 1;
  const samples = Array.from({ length: count }, (_, frame) => ({
    atSeconds: frame / perSecond,
    bytes: sizes.get(first + frame) ?? usual,
  }));
  const rates = materialRates(samples, count / perSecond);
  return { ...rates, frames: files.length, bytes, frameRate };
}

/** “12, 40–52 and 3 more”. */
export function missingText({ missing, missingCount }: FileSequence): string {
  const shown = missing.slice(0, 4).map(([from, to]) => (from === to ? `${from}` : `${from}–${to}`));
  const rest = missingCount - missing.slice(0, 4).reduce((sum, [from, to]) => sum + to - from + 1, 0);
  return rest > 0 ? `${shown.join(', ')} and ${rest} more` : shown.join(', ');
}

/** The one sequence that a list of files is. @throws Problem `bad-input` when there is none */
export function onlySequence(files: readonly NamedSize[]): FileSequence {
  const [longest] = sequencesOf(files);
  if (!longest) {
    throw badInput(
      'files',
      `files: none of the ${files.length} is numbered. Frames are named like reel.0001.dpx, two or more of them.`,
    );
  }
  if (longest.files.every((file) => file.bytes === 0)) {
    throw badInput('files', `files: all of ${longest.pattern} are empty.`);
  }
  return longest;
}
