import { blockLadderKind, rungsOf, type BlockLadderOptions } from '#core/3-jobs/recipes/block-ladder.ts';
import { DEFAULT_BLOCK_BYTES, LARGEST_BLOCK_BYTES } from '#core/3-jobs/recipes/option-fields.ts';
import { blockText, bytesText, formatNumber } from '#core/1-ground/units/format.ts';
import { transferStep, type Recipe } from '#engine/recipes/recipe.ts';
import { requireRoom } from '#engine/recipes/room.ts';
import type { Plan } from '#engine/volumes/volume.ts';

/** *Block ladder*: every block size at every queue depth, for a chosen time each. */
export const blockLadder: Recipe<BlockLadderOptions> = {
  kind: blockLadderKind,
  stepCount: (options) => rungsOf(options).length,
  stepText(options, { pass, phase }) {
    const rungs = rungsOf(options);
    const rung = rungs[pass - 1];
    if (phase === 'laying-out' || !rung) return 'laying out the stretch';
    const doing = rung.direction === 'write' ? 'writing' : 'reading';
    return `rung ${pass} of ${formatNumber(rungs.length)}, ${doing} ${blockText(rung.blockBytes)} ${rung.order} at depth ${rung.depth}`;
  },
  check({ areaBytes }, { room }) {
    const bytes = areaFor(areaBytes);
    requireRoom(`The stretch takes ${bytesText(bytes)}`, bytes, room, 'Type a smaller one', 'size');
  },
  plan: composePlan,
};

/** A stretch of whole blocks of every size there is. */
function areaFor(areaBytes: number): number {
  return Math.max(2, Math.ceil(areaBytes / LARGEST_BLOCK_BYTES)) * LARGEST_BLOCK_BYTES;
}

function* composePlan(options: BlockLadderOptions): Plan {
  const bytes = areaFor(options.areaBytes);
  yield { kind: 'allot', bytes };
  yield transferStep({
    direction: 'write',
    phase: 'laying-out',
    pass: 0,
    bytes,
    blockBytes: DEFAULT_BLOCK_BYTES,
    depth: 4,
  });
  for (const { rung, blockBytes, depth, order, direction } of rungsOf(options)) {
    yield transferStep({
      direction,
      phase: direction === 'write' ? 'overwriting' : 'reading',
      pass: rung,
      rung,
      bytes,
      blockBytes,
      depth,
      order,
      repeat: true,
      untilSeconds: options.seconds,
      flush: false,
      verify: false,
    });
  }
}
