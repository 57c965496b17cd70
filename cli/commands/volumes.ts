import type { Command } from 'commander';
import { print, printJson, tableLines } from '#cli/output.ts';
import { bindingHop, downgradedHops } from '#core/2-trade/links/connection.ts';
import { bytesText, rateText } from '#core/1-ground/units/format.ts';
import { NONE_WHOLE, listVolumes } from '#engine/volumes/registry.ts';
import { defaultDataFolder, journalFolderOf } from '#server/serve.ts';

/** What a person should know of a volume before measuring on it. */
function remarksOf(info: {
  readOnly: boolean;
  medium: string;
  connection: Parameters<typeof downgradedHops>[0];
}): string[] {
  return [
    ...(info.readOnly ? ['read-only'] : []),
    ...(info.medium === 'memory' ? ['memory: nothing here reaches a drive'] : []),
    ...downgradedHops(info.connection).map((hop) => `link-downgrade: ${hop.label} below what both ends can do`),
  ];
}

/** What is said of a volume as it is, beside its drive's name and remarks. */
const TOLD = [
  'id',
  'kind',
  'label',
  'mountPoint',
  'filesystem',
  'totalBytes',
  'freeBytes',
  'readOnly',
  'medium',
  'connection',
] as const;

export function addVolumesCommand(program: Command): void {
  program
    .command('volumes')
    .description('what is attached, with links and free space')
    .option('--json', 'print JSON')
    .action(async ({ json }: { json?: boolean }) => {
      const volumes = await listVolumes({
        journalFolder: journalFolderOf(defaultDataFolder()),
        pace: { speed: 1, seed: 1 },
        faults: new Map(),
        usedWhole: NONE_WHOLE,
      });
      const rows = volumes.map(({ info }) => ({
        ...Object.fromEntries(TOLD.map((field) => [field, info[field]])),
        drive: info.driveLabel,
        doubts: remarksOf(info),
      }));
      if (json) {
        printJson(rows);
        return;
      }
      const lines = volumes.map(({ info }) => {
        const hop = bindingHop(info.connection);
        return [
          info.mountPoint || info.id,
          info.filesystem,
          info.medium,
          info.driveLabel,
          `${bytesText(info.freeBytes)} of ${bytesText(info.totalBytes)} free`,
          hop ? `${hop.label}, up to ${rateText(hop.ceilingBytesPerSecond)}` : 'link not known',
          remarksOf(info).join('; '),
        ];
      });
      tableLines([['volume', 'filesystem', 'medium', 'drive', 'space', 'link', 'remarks'], ...lines]).forEach(print);
    });
}
