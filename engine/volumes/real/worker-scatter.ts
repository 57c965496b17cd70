import { closeSync, constants, fsyncSync, openSync, readdirSync, unlinkSync } from 'node:fs';
import { join } from 'node:path';
import { paddedFrameBytes } from '#core/2-trade/media/frame-stream.ts';
import {
  CONTROL,
  fileName,
  folderName,
  monotonicSeconds,
  type ScatterMessage,
} from '#engine/volumes/real/io-protocol.ts';
import { ENDED_WELL, failureOf, type StepEnd, type WorkerTools } from '#engine/volumes/real/worker-tools.ts';
import { moveWhole } from '#engine/volumes/real/worker-transfer.ts';

const REQUEST_BYTES = 1024 * 1024;

/** Takes file after file from the shared counter: creates, reads or deletes it; or lists a folder. */
export function runScatter(step: ScatterMessage, tools: WorkerTools): StepEnd {
  const sizes = new Float64Array(step.sizes);
  const results = new Float64Array(step.results);
  const { data, readBuffer } = tools.memoryFor(REQUEST_BYTES, 'incompressible');
  const count = results.length / 2;

  function moveFile(path: string, index: number): void {
    const reading = step.action === 'read';
    const own = reading ? constants.O_RDONLY : constants.O_WRONLY | constants.O_CREAT | constants.O_EXCL;
    const descriptor = openSync(path, own | constants.O_NOFOLLOW | step.flags, 0o600);
    try {
      const bytes = paddedFrameBytes(sizes[index]!);
      for (let moved = 0; moved < bytes; moved += REQUEST_BYTES) {
        const length = Math.min(REQUEST_BYTES, bytes - moved);
        const buffer = reading ? readBuffer : data.blockFor(moved, index + 1, length);
        const begin = performance.now();
        moveWhole(reading ? 'read' : 'write', descriptor, buffer, length, moved);
        tools.noteRequest(begin, length);
      }
      if (step.flushEach && !reading) fsyncSync(descriptor);
    } finally {
      closeSync(descriptor);
    }
  }

  tools.waitForGo();
  while (!tools.stopped()) {
    const index = Atomics.add(tools.control, CONTROL.nextBlock, 1);
    if (index >= count) break;
    const begin = monotonicSeconds();
    try {
      if (step.action === 'list') {
        readdirSync(join(step.folder, folderName(index)), { withFileTypes: true });
      } else {
        const folder = folderName(Math.floor(index / step.filesPerFolder));
        const path = join(step.folder, folder, fileName(index));
        if (step.action === 'delete') unlinkSync(path);
        else moveFile(path, index);
      }
    } catch (error) {
      return { failure: failureOf(error, 0), mismatches: [] };
    }
    const now = monotonicSeconds();
    results[2 * index + 1] = now;
    results[2 * index] = now - begin;
  }
  return ENDED_WELL;
}
