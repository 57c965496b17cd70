import type { Command } from 'commander';
import { endProgress, endWith, print, printJson, showProgress } from '#cli/output.ts';
import { onEnding } from '#cli/signals.ts';
import { isAllAlike, verifiedWords } from '#core/5-answers/copies/verified-folder.ts';
import { bytesText } from '#core/1-ground/units/format.ts';
import { verifyFolder } from '#engine/hash-lists/verify-folder.ts';
import { notedFolders } from '#engine/scratch/journal.ts';
import { defaultDataFolder, journalFolderOf } from '#server/serve.ts';

/** Exit code of a folder that is not as its list says. */
const NOT_ALIKE = 3;
const MOST_PRINTED = 50;

export function addVerifyCommand(program: Command): void {
  program
    .command('verify')
    .description('whether the files of a folder are those of the media hash list in it (ASC MHL, MHL); writes nothing')
    .argument('<folder>', 'folder that a hash list lies in')
    .option('--json', 'print JSON')
    .action(async (folder: string, flags: { json?: boolean }) => {
      const stop = new AbortController();
      const leave = onEnding(() => stop.abort());
      const begun = performance.now();
      const found = await verifyFolder(
        folder,
        ({ files, ofFiles, bytes, ofBytes }) => {
          const seconds = (performance.now() - begun) / 1000;
          // Of what is soon done nothing is said meanwhile.
          if (seconds < 2) return;
          showProgress(`${files} of ${ofFiles} files, ${bytesText(bytes)} of ${bytesText(ofBytes)}`, seconds);
        },
        stop.signal,
        await notedFolders(journalFolderOf(defaultDataFolder())),
      ).finally(() => {
        endProgress();
        leave();
      });
      if (flags.json) printJson(found);
      else {
        const { lead, text } = verifiedWords(found);
        print(lead);
        print(text);
        const lines = [
          ...found.differing.map((path) => `differs   ${path}`),
          ...found.missing.map((path) => `missing   ${path}`),
          ...found.unreadable.map(({ path, why }) => `unread    ${path}: ${why}`),
          ...found.unlisted.map((path) => `unlisted  ${path}`),
        ];
        lines.slice(0, MOST_PRINTED).forEach(print);
        if (lines.length > MOST_PRINTED) print(`and ${lines.length - MOST_PRINTED} more; --json names all.`);
      }
      endWith(isAllAlike(found) ? 0 : NOT_ALIKE);
    });
}
