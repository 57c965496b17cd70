import { takeBytesOf } from '#core/3-jobs/demand/demand.ts';
import {
  allowedBytes,
  demandOfJob,
  untilDecidedKind,
  type UntilDecidedOptions,
} from '#core/3-jobs/recipes/until-decided.ts';
import { SMALLEST_BLOCK_BYTES } from '#core/3-jobs/recipes/option-fields.ts';
import { bytesText } from '#core/1-ground/units/format.ts';
import { MOST_BEHIND_SECONDS } from '#core/4-runs/trace/watched.ts';
import type { Direction } from '#core/1-ground/curves/direction.ts';
import { followJobs, type Decider } from '#core/5-answers/verdict/until-decided.ts';
import { inBlocks, transferStep, type PlanFacts, type Recipe } from '#engine/recipes/recipe.ts';
import { requireRoom } from '#engine/recipes/room.ts';
import type { AwaitQuietStep, Plan } from '#engine/volumes/volume.ts';

/** Beside what jobs ask for: how much faster the drive is watched than the fastest of them goes. */
const WATCH_TIMES = 1.25;
/** Others that keep the processor busy are waited for so long. */
const MOST_BUSY_SECONDS = 120;
/** Blocks a second in which it is watched at least: a pause is told from the gap between two of them. */
const WATCH_BLOCKS = 20;

/**
 * *Until it is decided*: writes at full speed until each job is decided by what was seen, then on at the jobs' own rate
 * where a pause may still come; what is to be played is read back afterwards, the same way.
 */
export const untilDecided: Recipe<UntilDecidedOptions> = {
  kind: untilDecidedKind,
  stepCount: () => null,
  stepText(_options, { phase }) {
    if (phase === 'reading') return 'reading, until it is decided';
    if (phase === 'watching') return 'writing at the rate of the jobs: does a pause come?';
    if (phase === 'laying-out') return 'writing what will be read';
    return 'writing, until it is decided';
  },
  check({ jobs, blockBytes, depth, mostBytes }, { room }) {
    // What is only played may lie there, and takes no room then.
    if (jobs.every(({ direction }) => direction === 'read')) return;
    const least = mostBytes ?? inBlocks(0, blockBytes, depth);
    requireRoom(`This may write ${bytesText(least)}`, least, room, 'Type a smaller amount', 'at-most');
  },
  mayOnlyRead: ({ jobs }) => jobs.every(({ direction }) => direction === 'read'),
  plan: composePlan,
};

function* composePlan(options: UntilDecidedOptions, { room, run, tellJobs }: PlanFacts): Plan {
  if (run === null) throw new RangeError('A run that goes by what it sees needs its document.');
  const { jobs, headroomShare, mostSeconds, blockBytes, depth, data } = options;
  const demands = jobs.map(demandOfJob);
  const policy = { headroomShare };
  const base = { blockBytes, depth, data };
  const mostBytes = Math.floor(allowedBytes(options.mostBytes, room.bytes, room.usesAll) / blockBytes) * blockBytes;
  const reads = demands.filter(({ direction }) => direction === 'read');
  const isRead = reads.length > 0;
  const isWritten = reads.length < demands.length;
  const wantedBytes = inBlocks(Math.max(0, ...reads.map(takeBytesOf)), blockBytes, depth);
  const limits = { mostBytes, mostSeconds: isRead && isWritten ? mostSeconds / 2 : mostSeconds };
  const writer = followJobs(demands, 'write', run, policy, limits);
  const reader = followJobs(demands, 'read', run, policy, limits);
  const tell = (): void => tellJobs([...writer.states, ...reader.states]);

  /** Goes on at the pace of the jobs that only a pause could still change, over what there is. */
  function* watch(jobs: Decider, direction: Direction, bytes: number, spentSeconds: number): Plan {
    const seconds = Math.min(jobs.watchSeconds(), limits.mostSeconds - spentSeconds);
    if (seconds < 1) return;
    yield QUIET;
    let toldSeconds = 0;
    const pace = WATCH_TIMES * Math.max(...jobs.waiting().map(({ bytesPerSecond }) => bytesPerSecond));
    yield transferStep({
      ...base,
      blockBytes: watchBlock(pace, blockBytes),
      direction,
      phase: 'watching',
      pass: 2,
      bytes,
      repeat: true,
      pacedBytesPerSecond: pace,
      untilSeconds: seconds,
      verify: false,
      stopWhen: (after, moved) => {
        if (after >= toldSeconds + 1) {
          toldSeconds = after;
          jobs.watching(after);
          tell();
        }
        return after - moved / pace > MOST_BEHIND_SECONDS;
      },
    });
    jobs.watched(seconds);
    tell();
  }

  yield QUIET;
  // Material that is there proves more of reading than what was just written, and costs nothing.
  const found = isWritten ? null : yield { kind: 'use-existing', mostBytes: wantedBytes, leastBytes: wantedBytes };
  const isThere = found !== null && found.bytes > 0;
  const readBytes = isThere ? Math.min(found.bytes, wantedBytes) : Math.min(mostBytes, wantedBytes);
  if (!isThere && mostBytes === 0) return;
  if (!isThere) yield { kind: 'allot', bytes: mostBytes };
  let writtenBytes = isThere ? found.bytes : 0;
  if (isWritten) {
    const filled = yield transferStep({
      ...base,
      direction: 'write',
      phase: 'allocating',
      pass: 1,
      bytes: mostBytes,
      untilSeconds: limits.mostSeconds,
      stopWhen: lookEverySecond(writer.add, tell),
    });
    writtenBytes = Math.floor(filled.bytes / blockBytes) * blockBytes;
    // Its end may have come between two looks.
    writer.add(filled.transferSeconds, filled.bytes);
    writer.conclude();
    tell();
    if (writtenBytes > 0) yield* watch(writer, 'write', writtenBytes, filled.transferSeconds);
  }
  if (!isRead) return;
  if (writtenBytes < readBytes) {
    const laid = yield transferStep({
      ...base,
      direction: 'write',
      phase: 'laying-out',
      pass: 3,
      fromByte: writtenBytes,
      bytes: readBytes - writtenBytes,
    });
    writtenBytes += Math.floor(laid.bytes / blockBytes) * blockBytes;
  }
  const bytes = Math.min(writtenBytes, readBytes);
  if (bytes === 0) return;
  yield QUIET;
  const read = yield transferStep({
    ...base,
    direction: 'read',
    phase: 'reading',
    pass: 1,
    bytes,
    untilSeconds: limits.mostSeconds,
    // What was watched on was written in other blocks.
    verify: false,
    stopWhen: lookEverySecond(reader.add, tell),
  });
  reader.add(read.transferSeconds, read.bytes);
  reader.conclude();
  tell();
  yield* watch(reader, 'read', bytes, read.transferSeconds);
}

const QUIET: AwaitQuietStep = { kind: 'await-quiet', mostSeconds: MOST_BUSY_SECONDS };

/** Tells how jobs stand once a second. */
function lookEverySecond(add: (seconds: number, bytes: number) => boolean, tell: () => void) {
  let told = 0;
  return (seconds: number, bytes: number): boolean => {
    const isDone = add(seconds, bytes);
    if (isDone || seconds >= told + 1) {
      told = seconds;
      tell();
    }
    return isDone;
  };
}

/** Blocks small enough for a pause to be seen between them: a power of two. */
function watchBlock(bytesPerSecond: number, mostBytes: number): number {
  const wanted = 2 ** Math.floor(Math.log2(Math.max(1, bytesPerSecond / WATCH_BLOCKS)));
  return Math.min(mostBytes, Math.max(SMALLEST_BLOCK_BYTES, wanted));
}
