import { closeSync, unlinkSync } from 'node:fs';
import type { Problem } from '#core/1-ground/problem.ts';
import {
  FILE_FAULTS,
  FILE_STATE,
  NOT_OPEN,
  RAISED,
  hashText,
  type CopyMessage,
  type CopyTargetPlace,
  type FileFault,
} from '#engine/volumes/real/copy/copy-protocol.ts';
import { shareCopy } from '#engine/volumes/real/copy/copy-tasks.ts';
import type { PayloadFile } from '#engine/volumes/real/copy/payload-files.ts';
import { transferFailure } from '#engine/volumes/real/failures.ts';
import { STAT } from '#engine/volumes/real/io-protocol.ts';
import { startIoTeam } from '#engine/volumes/real/io-team.ts';

export interface PipelineRequest {
  files: readonly PayloadFile[];
  source: { folder: string; flags: number };
  targets: CopyTargetPlace[];
  blockBytes: number;
  depth: number;
  parallelFiles: number;
  hashes: boolean;
  flushEach: boolean;
  /** Whether files that are not as they were listed are left out. */
  checksListing: boolean;
  runSeed: number;
  /** Where a failure is said to have been. */
  mountPoint: string;
  sampleSeconds: number;
  signal: AbortSignal;
}

/** How far the source and the targets are. */
export interface PipelineReading {
  atSeconds: number;
  ends: { bytes: number; waitedSeconds: number }[];
}

/** What became of each file of a pipeline, in their order. */
export interface PipelineResult {
  /** Monotonic seconds. */
  startSeconds: number;
  endSeconds: number;
  /** `whole`, a fault, or null for a file that was not reached before the end. */
  outcomes: ('whole' | FileFault | null)[];
  /** XXH64 of whole files, 16 hexadecimal digits; empty where they were not asked for. */
  hashes: string[];
  failure: Problem | null;
}

/**
 * Moves files from a source to any number of targets, by a team of workers: so many readers and, of each
 * target, so many writers as blocks may be under way, and one that computes checksums. Without targets
 * files are only read. What could not be finished is not there afterwards.
 */
export async function runPipeline(
  request: PipelineRequest,
  onReading: (reading: PipelineReading) => void,
): Promise<PipelineResult> {
  const { files, targets, depth, parallelFiles, hashes, signal } = request;
  const readers = depth * parallelFiles;
  const { shared, slotCount } = shareCopy(files, request, targets.length, targets.length + (hashes ? 1 : 0));
  // Small files never leave their reader: without large ones nobody else has anything to do.
  const hasLarge = shared.placeTasks.byteLength > 0;
  const writers = hasLarge ? readers : 0;
  const roles: CopyMessage['role'][] = [
    ...Array.from({ length: readers }, () => ({ kind: 'read' as const })),
    ...targets.flatMap((_, target) => Array.from({ length: writers }, () => ({ kind: 'write' as const, target }))),
    ...(hashes && hasLarge ? [{ kind: 'hash' as const }] : []),
  ];
  const team = await startIoTeam(roles.length, request.runSeed);
  const isReader = (worker: number) => worker < readers;
  const isWriter = (target: number) => (worker: number) =>
    worker >= readers + writers * target && worker < readers + writers * (target + 1);
  const read = (atSeconds: number): PipelineReading => {
    const handed = team.sumOf(STAT.handedSeconds, isReader) / parallelFiles;
    const taken = team.sumOf(STAT.takenSeconds, isReader) / parallelFiles;
    const handedBytes = team.sumOf(STAT.handedBytes, isReader);
    return {
      atSeconds,
      ends: [
        { bytes: team.bytesOf(isReader), waitedSeconds: team.sumOf(STAT.waitedSeconds, isReader) / readers + handed },
        ...targets.map((_, target) => ({
          bytes: team.bytesOf(isWriter(target)) + handedBytes,
          waitedSeconds: team.sumOf(STAT.waitedSeconds, isWriter(target)) / readers + taken,
        })),
      ],
    };
  };
  const onAbort = () => team.stop();
  signal.addEventListener('abort', onAbort);
  let timer: NodeJS.Timeout | undefined;
  try {
    const messages = roles.map((role): CopyMessage => ({
      type: 'copy',
      role,
      shared,
      source: request.source,
      targets,
      blockBytes: request.blockBytes,
      slotCount,
      parallelFiles,
      hashes,
      checksListing: request.checksListing,
      flushEach: request.flushEach,
    }));
    const outcome = await team.run(messages, (startSeconds) => {
      onReading({ atSeconds: startSeconds, ends: [0, ...targets].map(() => ({ bytes: 0, waitedSeconds: 0 })) });
      timer = setInterval(() => onReading(read(team.read().atSeconds)), request.sampleSeconds * 1000);
      if (signal.aborted) team.stop();
    });
    clearInterval(timer);
    const endSeconds = team.read().atSeconds;
    onReading(read(endSeconds));
    const states = new Int32Array(shared.states);
    const outcomes = Array.from(states.subarray(0, files.length), outcomeOf);
    closeUnfinished(request, shared.sourceDescriptors, shared.targetDescriptors);
    const sums = new BigUint64Array(shared.hashes);
    return {
      startSeconds: outcome.startSeconds,
      endSeconds,
      outcomes,
      hashes: hashes ? files.map((_, file) => hashText(sums[file]!)) : [],
      failure: outcome.failure && transferFailure(outcome.failure, 'write', request.mountPoint),
    };
  } finally {
    clearInterval(timer);
    signal.removeEventListener('abort', onAbort);
    await team.close();
  }
}

function outcomeOf(state: number): 'whole' | FileFault | null {
  if (state === FILE_STATE.pending) return null;
  return state === FILE_STATE.whole ? 'whole' : FILE_FAULTS[state - FILE_STATE.firstFault]!;
}

/** Files that were at work when the copy ended before its end are closed, and not left behind in part. */
function closeUnfinished(
  { files, targets }: PipelineRequest,
  source: SharedArrayBuffer,
  targetDescriptors: readonly SharedArrayBuffer[],
): void {
  const close = (shared: SharedArrayBuffer, afterwards: (file: number) => void) =>
    new Int32Array(shared).forEach((raised, file) => {
      if (file >= files.length || raised === NOT_OPEN || raised < RAISED) return;
      try {
        closeSync(raised - RAISED);
        afterwards(file);
      } catch {
        // A drive that is gone has nothing left to be closed or removed.
      }
    });
  close(source, () => undefined);
  targetDescriptors.forEach((shared, target) =>
    close(shared, (file) => unlinkSync(`${targets[target]!.folder}/${files[file]!.path}`)),
  );
}
