import { spawn } from 'node:child_process';
import { basename } from 'node:path';
import { Problem } from '#core/1-ground/problem.ts';
import { RECORDING_VERSION, emptyRows, type Recording } from '#core/3-jobs/recording/recording.ts';
import { addCounters, noCounters, treeOf } from '#engine/processes/counters.ts';
import type { ProcessCounters, Programs } from '#engine/system/system.ts';
import { system } from '#engine/system/this-system.ts';

/** How often the system's counters are read. */
const SAMPLE_SECONDS = 0.1;
/** A recording that nobody stops ends after so long. */
const MOST_SECONDS = 4 * 3600;

/** A program whose counters are being read. */
export interface Recorder {
  readonly recording: Recording;
  readonly isGoing: boolean;
  /** Resolves when the program has ended or the recording was stopped. */
  readonly ended: Promise<void>;
  stop(): void;
}

/** @throws Problem `not-on-this-system` */
function countedPrograms(): Programs {
  if (system.programs !== null) return system.programs;
  throw new Problem(
    'not-on-this-system',
    'Only Linux counts what a program reads and writes. Record it there, or import a CSV of seconds and readBytes.',
  );
}

function refused(pid: number): Problem {
  return new Problem(
    'no-permission',
    `Process ${pid} belongs to somebody else: the system does not show what it reads and writes. Choose one of your own, or start Tavrox as the one who owns it.`,
    { status: 403, where: 'pid' },
  );
}

/**
 * The sum over a process and everything it started. One that ended is counted by its parent once
 * that has waited for it; one that nobody waits for is missing from then on.
 */
function treeCounter(root: number, programs: Programs) {
  const seen = new Map<number, ProcessCounters>();
  return {
    processes: seen,
    /** The sum now; null once the first process is gone. */
    read(): ProcessCounters | null {
      const tree = treeOf(root, programs.list());
      const own = programs.counters(root);
      if (own === null) return null;
      const now = new Map<number, ProcessCounters>([[root, own]]);
      for (const pid of tree) {
        if (pid === root) continue;
        try {
          const counters = programs.counters(pid);
          if (counters) now.set(pid, counters);
        } catch {
          // A helper that runs as somebody else is not counted; the rest is.
        }
      }
      const sum = noCounters();
      for (const counters of now.values()) addCounters(sum, counters);
      for (const [pid, counters] of now) seen.set(pid, counters);
      return sum;
    },
  };
}

function openRecording(name: string): Recording {
  return {
    tavrox: RECORDING_VERSION,
    id: crypto.randomUUID(),
    name: name.slice(0, 120) || 'Program',
    startedAt: new Date().toISOString(),
    processes: 1,
    rows: emptyRows(),
  };
}

function addRow({ rows }: Recording, seconds: number, counters: ProcessCounters): void {
  rows.seconds.push(seconds);
  for (const [name, value] of Object.entries(counters) as [keyof ProcessCounters, number][]) {
    // Counters that fall, when a process has ended and nobody was told yet, stand still until they catch up.
    rows[name].push(Math.max(value, rows[name].at(-1) ?? 0));
  }
}

/**
 * Records a running process with its children until it ends or is stopped.
 * @throws Problem `no-such-process`, `no-permission`, `not-on-this-system`
 */
export function recordProcess(pid: number): Recorder {
  const programs = countedPrograms();
  const entry = programs.find(pid);
  if (entry === null) {
    throw new Problem('no-such-process', `There is no process ${pid}; it may have ended. Choose one that runs.`, {
      status: 404,
      where: 'pid',
    });
  }
  const counter = treeCounter(pid, programs);
  let base: ProcessCounters;
  try {
    const first = counter.read();
    if (first === null)
      throw new Problem('no-such-process', `Process ${pid} has just ended.`, { status: 404, where: 'pid' });
    base = first;
  } catch (error) {
    throw error instanceof Problem ? error : refused(pid);
  }
  const recording = openRecording(entry.name);
  const isSame = () => programs.find(pid)?.mark === entry.mark;
  return sampleUntilEnd(recording, base, () => (isSame() ? counter.read() : null), counter.processes);
}

function sampleUntilEnd(
  recording: Recording,
  base: ProcessCounters,
  read: () => ProcessCounters | null,
  processes: ReadonlyMap<number, unknown>,
): Recorder {
  const begin = performance.now();
  const since = (counters: ProcessCounters): ProcessCounters => {
    const own = noCounters();
    for (const name of Object.keys(own) as (keyof ProcessCounters)[])
      own[name] = Math.max(0, counters[name] - base[name]);
    return own;
  };
  addRow(recording, 0, noCounters());
  let going = true;
  let settle: () => void;
  const ended = new Promise<void>((resolve) => (settle = resolve));
  const take = () => {
    const seconds = (performance.now() - begin) / 1000;
    let counters: ProcessCounters | null;
    try {
      counters = read();
    } catch {
      counters = null;
    }
    if (counters) addRow(recording, seconds, since(counters));
    recording.processes = Math.max(1, processes.size);
    if (counters === null || seconds > MOST_SECONDS) finish();
  };
  const timer = setInterval(take, SAMPLE_SECONDS * 1000);
  function finish(): void {
    if (!going) return;
    going = false;
    clearInterval(timer);
    settle();
  }
  return {
    recording,
    get isGoing() {
      return going;
    },
    ended,
    stop() {
      if (going) take();
      finish();
    },
  };
}

/** A command that was run from its start to its end. */
export interface CommandRun extends Recorder {
  /** Exit code, once it has ended; null when a signal ended it. */
  readonly outcome: Promise<{ code: number | null; seconds: number }>;
}

/**
 * Starts a command and records it to its end. Its output goes to standard error, so that standard
 * output stays whoever's started this. @throws Problem `not-on-this-system`
 */
export function recordCommand(command: string, args: readonly string[]): CommandRun {
  const programs = countedPrograms();
  const wrapped = programs.wrapped(command, args);
  const child = spawn(wrapped.program, wrapped.args, {
    stdio: ['ignore', 2, 2, 0, 'pipe'],
  });
  const begin = performance.now();
  const recording = openRecording(basename(command));
  let told = '';
  (child.stdio[4] as NodeJS.ReadableStream | null)?.on('data', (text: Buffer) => (told += text.toString()));
  const counter = treeCounter(child.pid ?? -1, programs);
  const recorder = sampleUntilEnd(
    recording,
    noCounters(),
    () => (child.exitCode === null && child.signalCode === null ? counter.read() : null),
    counter.processes,
  );
  const outcome = new Promise<{ code: number | null; seconds: number }>((resolve, reject) => {
    child.once('error', (cause) =>
      reject(
        new Problem('command-failed', `${command} could not be started: ${cause.message}.`, { status: 500, cause }),
      ),
    );
    child.once('close', (code) => {
      const seconds = (performance.now() - begin) / 1000;
      recorder.stop();
      const whole = programs.readTold(told);
      if (whole) addRow(recording, seconds, whole);
      resolve({ code, seconds });
    });
  });
  return {
    recording,
    get isGoing() {
      return recorder.isGoing;
    },
    ended: recorder.ended,
    outcome,
    stop() {
      child.kill('SIGTERM');
    },
  };
}
