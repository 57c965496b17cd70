import { longFillKind, type LongFillOptions } from '#core/3-jobs/recipes/long-fill.ts';
import { evened } from '#core/4-runs/trace/evened.ts';
import { KNEE_SHARE, readTrace, type TraceReading } from '#core/4-runs/trace/reading.ts';
import type { Progress } from '#core/1-ground/curves/progress.ts';
import { bytesText } from '#core/1-ground/units/format.ts';
import { inBlocks, transferStep, type Recipe } from '#engine/recipes/recipe.ts';
import { requireRoom } from '#engine/recipes/room.ts';
import type { Plan } from '#engine/volumes/volume.ts';

/** How long the floor is to be seen before the filling ends. */
const FLOOR_SECONDS = 60;
/** Reading a trace takes milliseconds: it is read anew when it has grown by this share. */
const READ_GROWTH = 1.08;
const LEAST_READ_SECONDS = 5;
/** After a rest, the rate that counts as the cache's again, and how long it is then looked at below that. */
const RECOVERY_LOOK_SECONDS = 3;
/** A drive that regained nothing shows it within this time. */
const RECOVERY_LEAST_SECONDS = 6;

/**
 * *Long fill*: write on until the fast cache is used up and the floor has been seen, read it back,
 * and see how much of the cache a rest regains.
 */
export const longFill: Recipe<LongFillOptions> = {
  kind: longFillKind,
  keepsScratch: ({ keepScratch }) => keepScratch,
  stepCount: ({ readBack, restSeconds }) => 1 + (readBack ? 1 : 0) + 2 * (restSeconds?.length ?? 0),
  stepText(_options, { pass, phase }) {
    if (phase === 'reading') return 'reading everything back';
    if (phase === 'recovery') return `after rest ${pass - 1}, writing until the next knee`;
    return 'filling';
  },
  leaves: ({ keepScratch, amountBytes, blockBytes, depth }, { room }) => ({
    here: keepScratch ? (amountBytes === null ? room.bytes : inBlocks(amountBytes, blockBytes, depth)) : 0,
    atEachTarget: 0,
  }),
  check({ amountBytes, blockBytes, depth }, { room }) {
    const bytes = inBlocks(amountBytes ?? 0, blockBytes, depth);
    requireRoom(`This fill takes ${bytesText(bytes)}`, bytes, room, 'Type a smaller amount', 'size');
  },
  plan: (options, { room }) => composePlan(options, room.bytes),
};

function* composePlan(options: LongFillOptions, roomBytes: number): Plan {
  const { blockBytes, depth, data, flushEverySeconds } = options;
  const most = Math.floor(roomBytes / blockBytes) * blockBytes;
  const bytes = options.amountBytes === null ? most : Math.min(most, inBlocks(options.amountBytes, blockBytes, depth));
  const base = { blockBytes, depth, data };
  const fillWatch = watchTrace(blockBytes);
  yield { kind: 'allot', bytes };
  const filled = yield transferStep({
    ...base,
    direction: 'write',
    phase: 'allocating',
    pass: 1,
    bytes,
    flushEverySeconds,
    stopWhen: (seconds, moved) => {
      const reading = fillWatch.add(seconds, moved);
      return options.untilFloor && reading !== null && seconds - (reading.kneeSeconds ?? seconds) >= FLOOR_SECONDS;
    },
  });
  const written = Math.floor(filled.bytes / blockBytes) * blockBytes;
  if (written === 0) return;
  if (options.readBack) {
    yield transferStep({ ...base, direction: 'read', phase: 'reading', pass: 1, bytes: written });
  }
  // Without a knee there is no cache for a rest to regain.
  const read = fillWatch.final();
  if (read === null || read.kneeBytes === null) return;
  const knee = KNEE_SHARE * (read.openingBytesPerSecond ?? 0);
  for (const [index, seconds] of (options.restSeconds ?? []).entries()) {
    yield { kind: 'rest', seconds, note: '' };
    yield transferStep({
      ...base,
      direction: 'write',
      phase: 'recovery',
      pass: index + 2,
      bytes: written,
      stopWhen: watchRecovery(knee),
    });
  }
}

/** Keeps the trace of a transfer and reads it again whenever it has grown by some per cent. */
function watchTrace(requestBytes: number) {
  const progress: Progress = { seconds: [0], bytes: [0] };
  let reading: TraceReading | null = null;
  let readSeconds = LEAST_READ_SECONDS / READ_GROWTH;
  return {
    add(seconds: number, bytes: number): TraceReading | null {
      progress.seconds.push(seconds);
      progress.bytes.push(bytes);
      if (seconds >= readSeconds * READ_GROWTH) {
        reading = readTrace(evened(progress, requestBytes));
        readSeconds = seconds;
      }
      return reading;
    },
    final: () => readTrace(evened(progress, requestBytes)),
  };
}

/** Whether the rate has been under the knee's for a while: what the rest regained is used up again. */
function watchRecovery(kneeBytesPerSecond: number): (seconds: number, bytes: number) => boolean {
  const recent: [seconds: number, bytes: number][] = [[0, 0]];
  return (seconds, bytes) => {
    recent.push([seconds, bytes]);
    while (recent.length > 2 && recent[1]![0] <= seconds - RECOVERY_LOOK_SECONDS) recent.shift();
    const [fromSeconds, fromBytes] = recent[0]!;
    if (seconds < RECOVERY_LEAST_SECONDS) return false;
    return (bytes - fromBytes) / (seconds - fromSeconds) < kneeBytesPerSecond;
  };
}
