import { Problem } from '#core/1-ground/problem.ts';
import { pacedFramesKind, type PacedFramesOptions } from '#core/3-jobs/recipes/paced-frames.ts';
import { streamsBytesPerSecond } from '#core/2-trade/media/frame-stream.ts';
import { bytesText } from '#core/1-ground/units/format.ts';
import { SAMPLE_SECONDS, type Recipe } from '#engine/recipes/recipe.ts';
import { requireRoom } from '#engine/recipes/room.ts';
import type { Plan } from '#engine/volumes/volume.ts';

/** Streams beyond which a machine's threads and not its drive are measured. */
const MOST_WORKERS = 64;

/** *Paced frames*: frames at their own rate, each with its deadline. */
export const pacedFrames: Recipe<PacedFramesOptions> = {
  kind: pacedFramesKind,
  stepCount: () => 1,
  stepText: (_options, { phase }) => (phase === 'laying-out' ? 'writing what will be played' : 'frames at their rate'),
  check({ streams, seconds, depth }, { room }) {
    const bytes = streamsBytesPerSecond(streams) * seconds;
    const workers = depth * streams.reduce((sum, stream) => sum + stream.count, 0);
    if (workers > MOST_WORKERS) {
      throw new Problem(
        'bad-input',
        `${workers} frames would be under way at once; this program keeps at most ${MOST_WORKERS}. Type fewer streams or a lower depth.`,
        { where: 'streams' },
      );
    }
    requireRoom(`The streams take ${bytesText(bytes)} in this time`, bytes, room, 'Type a shorter time', 'seconds');
  },
  plan: composePlan,
};

function* composePlan({ streams, seconds, bufferSeconds, depth }: PacedFramesOptions): Plan {
  yield { kind: 'frames', streams, seconds, bufferSeconds, depth, sampleSeconds: SAMPLE_SECONDS };
}
