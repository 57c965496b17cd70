import { Command } from 'commander';
import { addAgentCommand } from '#cli/commands/agent.ts';
import { addAnalyseCommand } from '#cli/commands/analyse.ts';
import { addArchiveCommands } from '#cli/commands/archive.ts';
import { addBackupCommands } from '#cli/commands/backup.ts';
import { addCheckCommand } from '#cli/commands/check.ts';
import { addCompletionCommand } from '#cli/commands/completion.ts';
import { addDoctorCommand } from '#cli/commands/doctor.ts';
import { addDriveCommand } from '#cli/commands/drive.ts';
import { addFitCommand } from '#cli/commands/fit.ts';
import { addMaterialCommand } from '#cli/commands/material.ts';
import { addMeasureCommand } from '#cli/commands/measure.ts';
import { addMoveCommand } from '#cli/commands/move.ts';
import { addRateCommand } from '#cli/commands/rate.ts';
import { addRecordCommand } from '#cli/commands/record.ts';
import { addReportCommand } from '#cli/commands/report.ts';
import { addAddressCommand, addServeCommands } from '#cli/commands/serve.ts';
import { addSizeCommand } from '#cli/commands/size.ts';
import { addTokenCommand } from '#cli/commands/token.ts';
import { addVerifyCommand } from '#cli/commands/verify.ts';
import { addVolumesCommand } from '#cli/commands/volumes.ts';
import { plainText } from '#core/1-ground/units/plain-text.ts';
import { SOFTWARE_VERSION } from '#engine/software.ts';

/** The command line with all its commands, in the order in which they are told. */
export function createProgram(): Command {
  const program = new Command('tavrox')
    .description('Measures whether a drive carries the job, and for how long.')
    .version(SOFTWARE_VERSION)
    .exitOverride()
    .configureOutput({ outputError: (text, write) => write(plainText(text.replace(/^error: /, ''))) });
  addServeCommands(program);
  addAddressCommand(program);
  addCheckCommand(program);
  addMeasureCommand(program);
  addVolumesCommand(program);
  addDriveCommand(program);
  addRateCommand(program);
  addAnalyseCommand(program);
  addFitCommand(program);
  addMaterialCommand(program);
  addVerifyCommand(program);
  addRecordCommand(program);
  addSizeCommand(program);
  addReportCommand(program);
  addArchiveCommands(program);
  addBackupCommands(program);
  addTokenCommand(program);
  addAgentCommand(program);
  addMoveCommand(program);
  addDoctorCommand(program);
  addCompletionCommand(program);
  for (const command of program.commands) command.exitOverride();
  return program;
}
