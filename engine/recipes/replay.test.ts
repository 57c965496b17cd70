import { describe, expect, it } from 'vitest';
import type { Phase } from '#core/3-jobs/demand/loads/load-item.ts';
import { randomFrom } from '#core/1-ground/random.ts';
import { replayAreaBytes, replaySteps, requestBlock } from '#core/3-jobs/recipes/replay.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { profileRunOf, readRequests, supplyOf } from '#core/4-runs/supply/profile.ts';
import { replayedOf } from '#core/4-runs/trace/replayed.ts';
import { loadTimes } from '#core/5-answers/verdict/loads/phase-times.ts';
import { timesOfReplay } from '#core/5-answers/verdict/loads/replay-times.ts';
import { simulateRun } from '#engine/run/simulate.ts';
import { replay } from '#engine/recipes/replay.ts';

const LADDER = {
  blocks: [4, 8, 16, 32, 64, 128, 256, 512, 1024, 4096].map((kibibytes) => kibibytes * 1024),
  depths: [1, 2, 4, 8, 16],
  order: 'random',
  direction: 'read',
  seconds: 1,
};
const STAND_INS = ['petrel-2t', 'limpet-1t', 'skerry-512', 'cormorant-x2', 'anchor-16t'];

const phase = (more: Partial<Phase>): Phase => ({
  name: 'Phase',
  processorSeconds: 0,
  bytes: 0,
  requestBytes: 65_536,
  parallel: 1,
  operations: 0,
  overlapShare: 0,
  limitSeconds: null,
  stream: null,
  ...more,
});

/** A load of one to three phases, of sizes that a second or a minute of any stand-in reads. */
function anyLoad(seed: number): Phase[] {
  const random = randomFrom(seed);
  const among = <T>(values: readonly T[]): T => values[Math.floor(values.length * random())]!;
  return Array.from({ length: 1 + Math.floor(3 * random()) }, (_, index) =>
    phase({
      name: `Phase ${index + 1}`,
      processorSeconds: Math.round(50 * random()) / 10,
      bytes: Math.round(2e7 * 40 ** random()),
      requestBytes: 2 ** (12 + Math.floor(10 * random())),
      parallel: among([1, 2, 3, 4, 6, 8, 16]),
      overlapShare: among([0, 0, 0.5, 1]),
    }),
  );
}

const ladders = new Map<string, Promise<RunDocument>>();
function ladderOf(standIn: string): Promise<RunDocument> {
  const known = ladders.get(standIn) ?? simulateRun({ standIn, recipeId: 'block-ladder', options: LADDER, seed: 5 });
  ladders.set(standIn, known);
  return known;
}

describe('a load that is replayed', () => {
  it(
    'takes what its drive’s ladder predicted, within 5 %: 50 loads on five stand-ins',
    { timeout: 120_000 },
    async () => {
      for (let seed = 1; seed <= 50; seed += 1) {
        const standIn = STAND_INS[seed % STAND_INS.length]!;
        const phases = anyLoad(seed);
        const ladder = await ladderOf(standIn);
        const supply = readRequests(supplyOf({ drive: ladder.drive, runs: [profileRunOf(ladder)] }));
        const predicted = loadTimes({ phases }, supply)!;
        const run = await simulateRun({ standIn, recipeId: 'replay', options: { phases }, seed: seed + 100 });
        const measured = timesOfReplay(phases, replayedOf(run));
        const off = measured.totalSeconds / predicted.totalSeconds - 1;
        expect(
          Math.abs(off),
          `seed ${seed} on ${standIn}: ${measured.totalSeconds} s, ${predicted.totalSeconds} s said`,
        ).toBeLessThan(0.05);
        expect(measured.phases.map(({ name }) => name)).toEqual(phases.map(({ name }) => name));
      }
    },
  );

  it('streams chunk by chunk at its own pace and tells which came too late', async () => {
    const stream = { everySeconds: 0.5, forSeconds: 20 };
    const slow = [phase({ name: 'Stream', bytes: 4e6, stream, limitSeconds: 0.1 })];
    const run = await simulateRun({ standIn: 'anchor-16t', recipeId: 'replay', options: { phases: slow }, seed: 3 });
    const [seen] = replayedOf(run);
    expect(seen).toMatchObject({ chunks: 40, lateChunks: 40 });
    const fast = await simulateRun({ standIn: 'petrel-2t', recipeId: 'replay', options: { phases: slow }, seed: 3 });
    expect(replayedOf(fast)[0]).toMatchObject({ chunks: 40, lateChunks: 0 });
    // Chunks keep their pace: forty of half a second, and the laying out before.
    const rests = fast.markers.filter(({ kind }) => kind === 'rest').reduce((sum, { seconds }) => sum + seconds, 0);
    expect(rests + 40 * replayedOf(fast)[0]!.dataSeconds).toBeCloseTo(20, 0);
  });

  it('moves whole requests of a power of two, from an area as large as its largest phase', () => {
    const phases = [
      phase({ bytes: 1e6, requestBytes: 100_000 }),
      phase({ processorSeconds: 2 }),
      phase({ bytes: 5e6, parallel: 64 }),
    ];
    expect(requestBlock({ requestBytes: 100_000 })).toBe(131_072);
    expect(replaySteps({ phases })).toEqual([
      { pass: 1, phase: 0, bytes: 8 * 131_072, blockBytes: 131_072, parallel: 1 },
      { pass: 2, phase: 2, bytes: 77 * 65_536, blockBytes: 65_536, parallel: 32 },
    ]);
    expect(replayAreaBytes({ phases })).toBe(77 * 65_536);
    expect(() =>
      replay.check(
        { phases: [phase({ bytes: 1e12 })] },
        {
          isSimulated: true,
          room: { label: 'A', space: 'a', bytes: 1e9, promisedBytes: 0, usesAll: false },
          targetRooms: [],
          fileSizes: [],
          run: null,
          tellJobs: () => undefined,
        },
      ),
    ).toThrow(/laid out/);
  });
});
