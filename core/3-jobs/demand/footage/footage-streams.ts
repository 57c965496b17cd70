import type { FrameStream } from '#core/2-trade/media/frame-stream.ts';
import { isFootage } from '#core/3-jobs/demand/items.ts';
import { rateOf } from '#core/3-jobs/demand/essences/registry.ts';
import type { FootageItem } from '#core/3-jobs/demand/footage/footage-item.ts';
import type { Workload } from '#core/3-jobs/demand/workload.ts';
import { wholeUp } from '#core/1-ground/units/whole.ts';

/** The streams of footage in a workload, for playing through what the job does. */
export function streamsOfWorkload(workload: Workload): FrameStream[] {
  return workload.items.filter(isFootage).map(streamOfItem);
}

/** What has no frames goes as ten chunks a second. */
const CHUNKS = { numerator: 10, denominator: 1 };

/** An item as it is played frame by frame. */
export function streamOfItem({ name, action, essence, streams }: FootageItem): FrameStream {
  const { frameRate, storedFrameBytes, isSequence } = rateOf(essence, streams);
  return {
    name,
    action,
    count: Math.min(32, streams),
    frameBytes: Math.max(1, wholeUp(storedFrameBytes)),
    frameRate: frameRate ?? CHUNKS,
    files: isSequence ? 'sequence' : 'container',
  };
}
