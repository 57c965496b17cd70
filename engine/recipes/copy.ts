import { Problem } from '#core/1-ground/problem.ts';
import { copyKind, keepsCopy, legsOf, type CopyOptions } from '#core/3-jobs/recipes/copy.ts';
import { madeSizes } from '#core/3-jobs/recipes/file-sizes.ts';
import { bytesText } from '#core/1-ground/units/format.ts';
import { PAGE_BYTES } from '#core/1-ground/units/page.ts';
import { requireRoom } from '#engine/recipes/room.ts';
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
    const taken = bytesOnDrive(options, facts);
    const own = (options.payload === 'made' ? taken : 0) + (options.back ? taken : 0);
    requireRoom(`Beside the source ${bytesText(own)} are needed`, own, facts.room, 'Copy less', 'targets');
    // What several ends take from one space has to fit there together.
    const inSpace = new Map([[facts.room.space, own]]);
    for (const room of facts.targetRooms) {
      const all = (inSpace.get(room.space) ?? 0) + taken;
      inSpace.set(room.space, all);
      const where = all > taken ? `${room.label}, which other parts of this copy go to as well` : room.label;
      requireRoom(`On ${where}, ${bytesText(all)} are needed`, all, room, 'Copy less', 'targets');
    }
  },
  leaves: (options, facts) => ({ here: 0, atEachTarget: keepsCopy(options) ? bytesOnDrive(options, facts) : 0 }),
  plan: composePlan,
};

/** What files take of a filesystem: whole blocks, of the usual size. */
const bytesOnDrive = ({ payload, bytes, files }: CopyOptions, { fileSizes }: PlanFacts): number =>
  payload === 'made'
    ? bytes + files * PAGE_BYTES
    : fileSizes.reduce((sum, size) => sum + Math.ceil(size / PAGE_BYTES) * PAGE_BYTES, 0);

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
