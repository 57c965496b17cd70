import type { Command } from 'commander';
import { print, printJson, tableLines } from '#cli/output.ts';
import { bindingHop, downgradedHops } from '#core/links/connection.ts';
import { bytesText, rateText } from '#core/units/format.ts';
import { listVolumes } from '#engine/volumes/registry.ts';
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
      });
      const rows = volumes.map(({ info }) => {
        const {
          id,
          kind,
          label,
          mountPoint,
          filesystem,
          totalBytes,
          freeBytes,
          readOnly,
          medium,
          connection,
          driveLabel,
        } = info;
        return {
          id,
          kind,
          label,
          mountPoint,
          filesystem,
          totalBytes,
          freeBytes,
          readOnly,
          medium,
          drive: driveLabel,
          connection,
          doubts: remarksOf(info),
        };
      });
      if (json) {
        printJson(rows);
        return;
      }
      const lines = rows.map((row) => {
        const hop = bindingHop(row.connection);
        return [
          row.mountPoint || row.id,
          row.filesystem,
          row.medium,
          row.drive,
          `${bytesText(row.freeBytes)} of ${bytesText(row.totalBytes)} free`,
          hop ? `${hop.label}, up to ${rateText(hop.ceilingBytesPerSecond)}` : 'link not known',
          row.doubts.join('; '),
        ];
      });
      tableLines([['volume', 'filesystem', 'medium', 'drive', 'space', 'link', 'remarks'], ...lines]).forEach(print);
    });
}
