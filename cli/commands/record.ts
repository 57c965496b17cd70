import { writeFileSync } from 'node:fs';
import type { Command } from 'commander';
import { note, print, printJson, tableLines } from '#cli/output.ts';
import { onEnding } from '#cli/signals.ts';
import { badInput, Problem } from '#core/1-ground/problem.ts';
import { phasesOfRecording, recordingCsv, recordingTotals, type Recording } from '#core/3-jobs/recording/recording.ts';
import { phaseLine } from '#core/3-jobs/demand/loads/phase-line.ts';
import { bytesText, formatDuration, formatNumber } from '#core/1-ground/units/format.ts';
import { parseCount, parseDuration } from '#core/1-ground/units/quantity.ts';
import { system } from '#engine/system/this-system.ts';
import { recordCommand, recordProcess } from '#engine/processes/recorder.ts';

interface RecordFlags {
  pid?: string;
  repeat: string;
  seconds?: string;
  cold?: boolean;
  out?: string;
  json?: boolean;
}

export function addRecordCommand(program: Command): void {
  program
    .command('record')
    .description('what a program reads, writes and computes: a running one, or a command that is started')
    .argument('[command...]', 'command to start, after --')
    .option('--pid <n>', 'process that runs already')
    .option('--seconds <time>', 'ends the recording of a running process after so long, such as 2min')
    .option('--repeat <n>', 'runs the command so many times', '1')
    .option('--cold', 'empties the system’s memory of files before the first time (as the administrator)')
    .option('--out <file>', 'keeps the first recording, as .json or .csv')
    .option('--json', 'print JSON')
    .action(async (command: string[], flags: RecordFlags) => {
      if (flags.pid !== undefined && command.length > 0) {
        throw badInput('pid', 'pid: give either a process that runs or a command to start, not both.');
      }
      if (flags.pid === undefined && command.length === 0) {
        throw badInput('command', 'command: is missing. Give one after --, or a process with --pid.');
      }
      const runs = flags.pid === undefined ? await startedRuns(command, flags) : [await attached(flags)];
      if (flags.out !== undefined) keep(runs[0]!.recording, flags.out);
      if (flags.json)
        printJson(runs.map(({ recording, seconds, isWarm }) => ({ ...recording, tookSeconds: seconds, isWarm })));
      else show(runs);
    });
}

interface TimedRecording {
  recording: Recording;
  seconds: number;
  isWarm: boolean;
}

async function startedRuns([command, ...args]: string[], flags: RecordFlags): Promise<TimedRecording[]> {
  const times = parseCount(flags.repeat, 'repeat');
  const runs: TimedRecording[] = [];
  if (flags.cold) {
    if (!system.fileMemory?.canEmpty()) {
      throw new Problem(
        'no-permission',
        'cold: only the administrator can empty the system’s memory of files. Run this as root, or restart the machine for a cold start.',
        { status: 403, where: 'cold' },
      );
    }
    system.fileMemory.empty();
  }
  for (let time = 0; time < times; time += 1) {
    const run = recordCommand(command!, args);
    const { code, seconds } = await run.outcome;
    if (code === 127)
      throw new Problem('command-failed', `There is no command ${command}.`, { status: 422, where: 'command' });
    if (code !== 0) note(`${command} ended with ${code ?? 'a signal'}.`);
    runs.push({ recording: run.recording, seconds, isWarm: time > 0 });
  }
  return runs;
}

async function attached(flags: RecordFlags): Promise<TimedRecording> {
  const recorder = recordProcess(parseCount(flags.pid!, 'pid'));
  note(`Recording ${recorder.recording.name} until it ends; Ctrl-C ends the recording.`);
  const stop = () => recorder.stop();
  const leave = onEnding(stop);
  const timer =
    flags.seconds === undefined ? undefined : setTimeout(stop, parseDuration(flags.seconds, 'seconds') * 1000);
  await recorder.ended;
  clearTimeout(timer);
  leave();
  return { recording: recorder.recording, seconds: recorder.recording.rows.seconds.at(-1)!, isWarm: false };
}

function keep(recording: Recording, path: string): void {
  const text = path.endsWith('.csv') ? recordingCsv(recording) : `${JSON.stringify(recording, null, 2)}\n`;
  try {
    // What is there already stays.
    writeFileSync(path, text, { flag: 'wx' });
  } catch (error) {
    throw badInput(
      'out',
      `out: ${path} was not written: ${(error as NodeJS.ErrnoException).code === 'EEXIST' ? 'it is there already' : (error as Error).message}.`,
    );
  }
}

function show(runs: readonly TimedRecording[]): void {
  const rows = runs.map(({ recording, seconds, isWarm }) => {
    const totals = recordingTotals(recording.rows);
    return [
      isWarm ? 'warm' : 'first',
      formatDuration(seconds),
      formatDuration(totals.processorSeconds),
      bytesText(totals.readBytes),
      bytesText(totals.askedReadBytes),
      bytesText(totals.writtenBytes),
      formatNumber(totals.readCalls + totals.writeCalls),
    ];
  });
  tableLines([
    ['run', 'took', 'processor', 'read from the drive', 'read by the program', 'written', 'calls'],
    ...rows,
  ]).forEach(print);
  print('As phases of a load:');
  const first = runs[0]!.recording.rows;
  const read = recordingTotals(first).readBytes > 0;
  phasesOfRecording(first, read).map(phaseLine).forEach(print);
}
