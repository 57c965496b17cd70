import type { Command } from 'commander';
import { endWith, print, printJson, tableLines } from '#cli/output.ts';
import { portOf } from '#cli/commands/serve.ts';
import { examine } from '#server/doctor.ts';
import { defaultDataFolder } from '#server/serve.ts';
import { databaseUrlOf } from '#server/store/folder.ts';

interface DoctorFlags {
  data?: string;
  port?: string;
  json?: boolean;
}

const SIGN = { fine: 'fine', note: 'note', wrong: 'WRONG', unknown: 'unknown' } as const;

export function addDoctorCommand(program: Command): void {
  program
    .command('doctor')
    .description('what is right and wrong with this installation; nothing is changed')
    .option('--data <folder>', 'data folder (default TAVROX_DATA or your own)')
    .option('--port <n>', 'port that Tavrox is to use (default PORT or 4780)')
    .option('--json', 'print JSON')
    .action(async ({ data = defaultDataFolder(), json, ...flags }: DoctorFlags) => {
      const findings = await examine({
        dataFolder: data,
        port: portOf(flags),
        databaseUrl: databaseUrlOf(process.env),
      });
      if (json) printJson(findings);
      else tableLines(findings.map(({ what, verdict, text }) => [what, SIGN[verdict], text])).forEach(print);
      if (findings.some(({ verdict }) => verdict === 'wrong')) endWith(1);
    });
}
