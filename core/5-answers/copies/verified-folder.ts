import { bytesText, count, formatDuration, formatNumber } from '#core/1-ground/units/format.ts';
import { capitalized } from '#core/1-ground/words.ts';

/** A folder held against the hash lists that lie in it. Paths are within the folder. */
export interface VerifiedFolder {
  /** Names of the lists. */
  lists: string[];
  /** Files that the lists name. */
  files: number;
  alike: number;
  differing: string[];
  missing: string[];
  /** Could not be read, with why. */
  unreadable: { path: string; why: string }[];
  /** In the folder and in no list. */
  unlisted: string[];
  /** The list itself is not as its chain file says. */
  changedLists: string[];
  bytes: number;
  seconds: number;
  /** It was ended before all was read. */
  stopped: boolean;
}

/** How far verifying has come. */
export interface VerifyProgress {
  files: number;
  ofFiles: number;
  bytes: number;
  ofBytes: number;
}

/** Whether every file that a list names is there and alike, and the lists are as their chain says. */
export const isAllAlike = (found: VerifiedFolder): boolean =>
  !found.stopped && found.alike === found.files && found.changedLists.length === 0;

/** What was found, in a sentence or two. */
export function verifiedWords(found: VerifiedFolder): { lead: string; text: string } {
  const { files, alike, differing, missing, unreadable, unlisted, changedLists, bytes, seconds, stopped, lists } =
    found;
  const read = `${bytesText(bytes)} read in ${formatDuration(seconds)}`;
  const wrong = [
    differing.length > 0 && `${count(differing.length, 'file differs', 'files differ')} from the list`,
    missing.length > 0 && `${count(missing.length, 'file is', 'files are')} missing`,
    unreadable.length > 0 && `${count(unreadable.length, 'file', 'files')} could not be read`,
    changedLists.length > 0 && `${changedLists.join(', ')} is not as its chain file says`,
  ].filter((one) => one !== false);
  const others =
    unlisted.length > 0
      ? ` ${count(unlisted.length, 'file here is', 'files here are')} in no list, and nothing is known of ${unlisted.length === 1 ? 'it' : 'them'}.`
      : '';
  const against = lists.length === 1 ? lists[0]! : `${lists.length} lists`;
  if (stopped)
    return {
      lead: `Stopped: ${formatNumber(alike, 'full')} of ${count(files, 'file', 'files')} were alike until then.`,
      text: `${wrong.length > 0 ? `${sentence(wrong)} ` : ''}${read}, against ${against}.`,
    };
  if (wrong.length > 0)
    return {
      lead: sentence(wrong),
      text: `${formatNumber(alike, 'full')} of ${formatNumber(files, 'full')} are alike: ${read}, against ${against}.${others}`,
    };
  return {
    lead: `${files === 1 ? 'The file' : `All ${formatNumber(files, 'full')} files`} of the list ${files === 1 ? 'is' : 'are'} there and alike.`,
    text: `${read}, against ${against}.${others} What was written a short while ago may have come from this machine’s memory: take the drive off and attach it again to be sure.`,
  };
}

const sentence = (parts: readonly string[]): string => {
  const text = parts.join(', ');
  return `${capitalized(text)}.`;
};
