import { closeSync, constants, openSync } from 'node:fs';
import { join } from 'node:path';
import { STAT, fileName, monotonicSeconds, type FramesMessage } from '#engine/volumes/real/io-protocol.ts';
import { ENDED_WELL, failureOf, waitUntil, type StepEnd, type WorkerTools } from '#engine/volumes/real/worker-tools.ts';
import { moveWhole } from '#engine/volumes/real/worker-transfer.ts';

/** Requests of a frame: as large as recording programs make them. */
const REQUEST_BYTES = 8 * 1024 * 1024;

/**
 * One worker's frames of a stream, each at its moment. Recorded frames come at their rate whether
 * or not there is room: one that finds the buffer full is dropped. Played frames are read ahead
 * as far as the buffer goes; one whose time is over before its reading begins is passed over.
 */
export function runFrames(step: FramesMessage, tools: WorkerTools): StepEnd {
  const { stats } = tools;
  const { stride, bufferFrames, periodSeconds } = step;
  const lateness = new Float64Array(step.lateness);
  const { data, readBuffer } = tools.memoryFor(REQUEST_BYTES, 'incompressible');
  const reading = step.direction === 'read';

  function moveFrame(frame: number): void {
    const ownFile = 'folder' in step.target;
    const descriptor = ownFile ? openFrame(step, frame) : (step.target as { descriptor: number }).descriptor;
    try {
      for (let moved = 0; moved < step.bytes; moved += REQUEST_BYTES) {
        const length = Math.min(REQUEST_BYTES, step.bytes - moved);
        const place = frame * step.bytes + moved;
        const buffer = reading ? readBuffer : data.blockFor(place, step.stream + 1, length);
        const begin = performance.now();
        moveWhole(step.direction, descriptor, buffer, length, ownFile ? moved : place);
        tools.noteRequest(begin, length);
      }
    } finally {
      if (ownFile) closeSync(descriptor);
    }
  }

  let at = 0;
  try {
    // What a playing program reads ahead before it starts.
    const ahead = step.paced && reading ? Math.min(bufferFrames, lateness.length) : 0;
    const doneAhead: number[] = [];
    for (; at < ahead && !tools.stopped(); at += 1) {
      moveFrame(step.firstFrame + at * stride);
      doneAhead.push(monotonicSeconds());
    }
    tools.waitForGo();
    const start = stats[STAT.startSeconds]!;
    for (let index = 0; index < at; index += 1) {
      lateness[index] = doneAhead[index]! - dueSeconds(step, start, step.firstFrame + index * stride);
    }
    /** When accepted frames were done, as many as the buffer holds. */
    const done = new Float64Array(bufferFrames).fill(-Infinity);
    let accepted = 0;
    for (; at < lateness.length && !tools.stopped(); at += 1) {
      const frame = step.firstFrame + at * stride;
      const due = dueSeconds(step, start, frame);
      if (step.paced) {
        const comes = start + (frame - (reading ? bufferFrames * stride : 0)) * periodSeconds;
        if (!waitUntil(comes, tools)) break;
        const lost = reading ? monotonicSeconds() > due + periodSeconds : done[accepted % bufferFrames]! > comes;
        if (lost) {
          lateness[at] = Infinity;
          continue;
        }
      }
      moveFrame(frame);
      const now = monotonicSeconds();
      done[accepted % bufferFrames] = now;
      accepted += 1;
      lateness[at] = now - due;
    }
  } catch (error) {
    return { failure: failureOf(error, (step.firstFrame + at * stride) * step.bytes), mismatches: [] };
  }
  return ENDED_WELL;
}

/** A recorded frame is due one period after it came, a played one when it is shown. */
function dueSeconds({ direction, periodSeconds }: FramesMessage, start: number, frame: number): number {
  return start + (frame + (direction === 'write' ? 1 : 0)) * periodSeconds;
}

function openFrame({ target, direction }: FramesMessage, frame: number): number {
  const { folder, flags } = target as { folder: string; flags: number };
  const own = direction === 'write' ? constants.O_WRONLY | constants.O_CREAT | constants.O_EXCL : constants.O_RDONLY;
  return openSync(join(folder, fileName(frame)), own | constants.O_NOFOLLOW | flags, 0o600);
}
