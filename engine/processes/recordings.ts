import type { RunningProgram } from '#core/6-exchange/api/wire.ts';
import { Problem } from '#core/1-ground/problem.ts';
import { recordProcess, type Recorder } from '#engine/processes/recorder.ts';
import { system } from '#engine/system/this-system.ts';

/** Recordings that go on at the same time: each reads the list of processes ten times a second. */
const MOST_GOING = 4;
const MOST_KEPT = 20;
const MOST_LISTED = 300;

/** Recordings of this process: those that go on and those that ended last. */
export function createRecordings() {
  const recorders = new Map<string, Recorder>();

  function find(id: string): Recorder {
    const recorder = recorders.get(id);
    if (!recorder)
      throw new Problem('no-such-recording', 'There is no such recording; it may have been removed.', {
        status: 404,
        where: 'id',
      });
    return recorder;
  }

  return {
    list: (): Recorder[] => [...recorders.values()],
    find,
    start(pid: number): Recorder {
      if ([...recorders.values()].filter(({ isGoing }) => isGoing).length >= MOST_GOING) {
        throw new Problem('too-many', `${MOST_GOING} programs are being recorded already. Stop one of them first.`, {
          status: 409,
        });
      }
      const recorder = recordProcess(pid);
      recorders.set(recorder.recording.id, recorder);
      const ended = [...recorders.values()].find(({ isGoing }) => !isGoing);
      if (recorders.size > MOST_KEPT && ended) recorders.delete(ended.recording.id);
      return recorder;
    },
    remove(id: string): void {
      find(id).stop();
      recorders.delete(id);
    },
    /** Ends all of them. */
    close(): void {
      for (const recorder of recorders.values()) recorder.stop();
    },
  };
}
export type Recordings = ReturnType<typeof createRecordings>;

/**
 * Programs that may be recorded, those that moved most first. Those of others, which the system
 * does not show, and this one are left out. Empty where the system does not count.
 */
export function recordablePrograms(): RunningProgram[] {
  const { programs } = system;
  if (programs === null) return [];
  return programs
    .list()
    .filter(({ pid }) => pid !== process.pid)
    .flatMap(({ pid, name, command }) => {
      try {
        const counters = programs.counters(pid);
        // What runs inside the kernel has no command of its own and never reads for itself.
        if (counters === null || (counters.askedReadBytes === 0 && counters.processorSeconds === 0)) return [];
        return [{ pid, name, command, readBytes: counters.readBytes, writtenBytes: counters.writtenBytes }];
      } catch {
        return [];
      }
    })
    .sort((a, b) => b.readBytes + b.writtenBytes - a.readBytes - a.writtenBytes)
    .slice(0, MOST_LISTED);
}
