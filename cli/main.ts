import { Command } from 'commander';
import { addAnalyseCommand } from '#cli/commands/analyse.ts';
import { addFitCommand } from '#cli/commands/fit.ts';
import { addVerifyCommand } from '#cli/commands/verify.ts';
import { addMaterialCommand } from '#cli/commands/material.ts';
import { addMeasureCommand } from '#cli/commands/measure.ts';
import { addRateCommand } from '#cli/commands/rate.ts';
import { addRecordCommand } from '#cli/commands/record.ts';
import { addBackupCommands } from '#cli/commands/backup.ts';
import { addAddressCommand, addServeCommands } from '#cli/commands/serve.ts';
import { addSizeCommand } from '#cli/commands/size.ts';
import { addVolumesCommand } from '#cli/commands/volumes.ts';
import { reportError } from '#cli/output.ts';
import { plainText } from '#core/1-ground/units/plain-text.ts';
import { SOFTWARE_VERSION } from '#engine/software.ts';

/** Runs a command line and returns its exit code: 0, 1 for a failed run, 2 for bad input, 3 and 4 as commands say. */
export async function main(argv: readonly string[]): Promise<number> {
  const program = new Command('tavrox')
    .description('Measures whether a drive carries the job, and for how long.')
    .version(SOFTWARE_VERSION)
    .exitOverride()
    .configureOutput({ outputError: (text, write) => write(plainText(text.replace(/^error: /, ''))) });
  addServeCommands(program);
  addAddressCommand(program);
  addBackupCommands(program);
  addMeasureCommand(program);
  addVolumesCommand(program);
  addRateCommand(program);
  addAnalyseCommand(program);
  addFitCommand(program);
  addMaterialCommand(program);
  addVerifyCommand(program);
  addRecordCommand(program);
  addSizeCommand(program);
  // Whoever reads the output may have enough of it, as head does.
  process.stdout.on('error', (error: NodeJS.ErrnoException) => {
    if (error.code === 'EPIPE') process.exit(0);
    // A terminal that was closed takes no more; the work is ended by its signal.
    if (error.code !== 'EIO') throw error;
  });
  process.stderr.on('error', () => undefined);
  for (const command of program.commands) command.exitOverride();
  try {
    await program.parseAsync(argv);
    return typeof process.exitCode === 'number' ? process.exitCode : 0;
  } catch (error) {
    return reportError(error);
  }
}
