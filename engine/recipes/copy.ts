import { Problem } from '#core/problem.ts';
import { copyKind, keepsCopy, legsOf, type CopyOptions } from '#core/recipes/copy.ts';
import { madeSizes } from '#core/recipes/file-sizes.ts';
import { bytesText } from '#core/units/format.ts';
import type { PlanFacts, Recipe } from '#engine/recipes/recipe.ts';
import type { Plan } from '#engine/volumes/volume.ts';

/** Often enough to see which side waits, seldom enough for a copy of a night. */
const COPY_SAMPLE_SECONDS = 0.25;

/** *Copy*: from one volume to one or several, there and perhaps back. */
export const copy: Recipe<CopyOptions> = {
  kind: copyKind,
  needsFileSizes: ({ payload }) => payload === 'folder',
  leavesSource: ({ payload, back }) => payload === 'folder' && !back,
  stepCount: (options) => legsOf(options) + (options.restSeconds > 0 ? options.repeats - 1 : 0),
  stepText(options, { pass, phase }) {
    const legs = legsOf(options);
    const which = legs === 1 ? '' : `, copy ${pass} of ${legs}`;
    const way = options.back && pass % 2 === 0 ? 'copying back' : 'copying';
    return `${phase === 'verifying' ? 'reading back' : way}${which}`;
  },
  check(options, facts) {
    if (options.payload === 'folder' && facts.isSimulated) {
      throw new Problem('nothing-to-read', 'A stand-in holds no folder to copy. Choose made files.', {
        where: 'payload',
      });
    }
    const bytes = payloadBytes(options, facts);
    if (bytes === 0) {
      throw new Problem('nothing-to-read', 'The folder chosen holds no files that could be copied. Choose another.', {
        where: 'folder',
      });
    }
    const own = (options.payload === 'made' ? bytes : 0) + (options.back ? bytes : 0);
    requireRoom('Beside the source', own, facts.roomBytes);
    // What several ends take from one space has to fit there together.
    const taken = new Map([[facts.space, own]]);
    for (const { label, bytes: room, space } of facts.targetRooms) {
      const all = (taken.get(space) ?? 0) + bytes;
      taken.set(space, all);
      requireRoom(all > bytes ? `On ${label}, which other parts of this copy go to as well` : `On ${label}`, all, room);
    }
  },
  plan: composePlan,
};

function requireRoom(where: string, bytes: number, roomBytes: number): void {
  if (bytes <= roomBytes) return;
  throw new Problem(
    'not-enough-room',
    `${where}, ${bytesText(bytes)} are needed, and ${bytesText(roomBytes)} can be used there with the reserve left alone. Copy less, or free some space.`,
    { where: 'targets' },
  );
}

const payloadBytes = ({ payload, bytes }: CopyOptions, { fileSizes }: PlanFacts): number =>
  payload === 'made' ? bytes : fileSizes.reduce((sum, size) => sum + size, 0);

function* composePlan(options: CopyOptions, facts: PlanFacts): Plan {
  const { payload, bytes, files, spread, repeats, back, restSeconds } = options;
  if (payload === 'made') yield { kind: 'make-payload', sizes: madeSizes(bytes, files, spread) };
  const targets = facts.targetRooms.map((_, index) => index + 1);
  const common = {
    kind: 'copy',
    expectedBytes: payloadBytes(options, facts),
    blockBytes: options.blockBytes,
    depth: options.depth,
    parallelFiles: options.parallelFiles,
    verify: options.verify,
    flushEach: options.flushEach,
    sampleSeconds: COPY_SAMPLE_SECONDS,
  } as const;
  let leg = 0;
  for (let time = 1; time <= repeats; time += 1) {
    if (time > 1 && restSeconds > 0) yield { kind: 'rest', seconds: restSeconds, note: 'between copies' };
    yield { ...common, leg: (leg += 1), from: 0, to: targets, keeps: keepsCopy(options) && time === repeats };
    if (back) yield { ...common, leg: (leg += 1), from: 1, to: [0], keeps: false };
  }
}
