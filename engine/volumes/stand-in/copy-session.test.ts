import { describe, expect, it } from 'vitest';
import { copySentence } from '#core/5-answers/copies/copy-words.ts';
import { predictCopy } from '#core/5-answers/copies/predict.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { copyFiguresOf } from '#core/4-runs/trace/copied.ts';
import { simulateRun } from '#engine/run/simulate.ts';
import { pairsOff, predictedSeconds, profileOf, standInById as standIn } from '#engine/testing/copied-drives.ts';
import type { StandIn } from '#engine/volumes/stand-in/catalogue.ts';

const GB = 1e9;

async function copied(from: StandIn, to: readonly StandIn[], options: object, seed = 3): Promise<RunDocument> {
  const run = await simulateRun({ standIn: from, targets: to, recipeId: 'copy', options, seed });
  expect(run.failure).toBeNull();
  return run;
}

const copySecondsOf = ({ copy }: RunDocument, leg = 0): number => copy!.legs[leg]!.copySeconds;

describe('a copy between stand-ins', () => {
  it('takes what their runs predict, within three per cent', async () => {
    expect(await pairsOff(6, 12)).toEqual([]);
  });

  it('of thousands of small files takes what the files cost on both, within fifteen per cent', async () => {
    for (const [from, to, parallelFiles] of [
      ['petrel-2t', 'cormorant-x2', 4],
      ['cormorant-x2', 'limpet-1t', 1],
      ['anchor-16t', 'petrel-2t', 2],
      ['limpet-1t', 'anchor-16t', 1],
      ['petrel-2t', 'jetty-4', 1],
    ] as const) {
      const ends = [standIn(from), standIn(to)] as const;
      const options = { bytes: 0.4 * GB, files: 3000, parallelFiles };
      const run = await copied(ends[0], [ends[1]], { ...options, verify: 'none' });
      const payload = { ...options, verifies: false };
      const spinUp = Math.max(ends[0].model.spinUpSeconds, ends[1].model.spinUpSeconds);
      const [source, target] = [await profileOf(ends[0], GB), await profileOf(ends[1], GB)];
      const predicted = predictedSeconds(predictCopy(payload, source, [target])!) + spinUp;
      expect(Math.abs(predicted / copySecondsOf(run) - 1), `${from} to ${to}`).toBeLessThan(0.15);
    }
  });

  it('to two places at once is bound by the slower, is read back from both, and ends in a sentence', async () => {
    const [source, ...targets] = ['petrel-2t', 'cormorant-x2', 'anchor-16t'].map(standIn) as [StandIn, ...StandIn[]];
    const bytes = 64 * GB;
    const run = await copied(source, targets, { bytes, files: 400, spread: 'photo', verify: 'read-back' });
    const [leg] = run.copy!.legs;
    expect(leg).toMatchObject({ to: [1, 2], wholeFiles: 400, checkedFiles: 800, differingFiles: 0 });
    const profiles = await Promise.all([source, ...targets].map((one) => profileOf(one, bytes)));
    const payload = { bytes, files: 400, parallelFiles: 2, verifies: true };
    const predicted = predictCopy(payload, profiles[0]!, profiles.slice(1))!;
    const spinUp = standIn('anchor-16t').model.spinUpSeconds;
    expect(Math.abs((predictedSeconds(predicted) + spinUp) / leg!.copySeconds - 1)).toBeLessThan(0.05);
    expect(Math.abs(predicted.verifyingSeconds / leg!.verifySeconds - 1)).toBeLessThan(0.03);
    expect(copySentence('Petrel 2T', 'both', payload, predicted)).toMatch(/writing Anchor 16T holds it back/);
  });

  it('shows which side waits, and what the first seconds promised', async () => {
    const run = await copied(standIn('petrel-2t'), [standIn('limpet-1t')], {
      bytes: 100 * GB,
      files: 4,
      verify: 'none',
    });
    const [leg] = copyFiguresOf(run.copy!).legs;
    // 46 GB at 2.1 GB/s and the rest at a floor that swings between 90 and 640 MB/s.
    expect(leg!.earlySeconds).toBeCloseTo(100 / 2.1, -1);
    expect(leg!.seconds).toBeGreaterThan(4 * leg!.earlySeconds!);
    const [sourceWaits, targetWaits] = leg!.waits;
    expect(sourceWaits!.share).toBeGreaterThan(0.8);
    expect(targetWaits!.share).toBeLessThan(0.05);
    expect(leg!.stretches.every(({ binds }) => binds.kind === 'target')).toBe(true);
    const slow = await copied(standIn('cormorant-x2'), [standIn('petrel-2t')], {
      bytes: 20 * GB,
      files: 2,
      verify: 'none',
    });
    expect(copyFiguresOf(slow.copy!).legs[0]!.stretches.every(({ binds }) => binds.kind === 'source')).toBe(true);
  });

  it('on one drive takes turns: the times of reading and of writing add up', async () => {
    const drive = standIn('cormorant-x2');
    const run = await copied(drive, [drive], { bytes: 30 * GB, files: 3, verify: 'none' });
    const { readBytesPerSecond, writeBytesPerSecond, linkBytesPerSecond } = drive.model;
    const each = (rate: number) => (30 * GB) / Math.min(rate, linkBytesPerSecond);
    expect(copySecondsOf(run) / (each(readBytesPerSecond) + each(writeBytesPerSecond))).toBeCloseTo(1, 1);
  });

  it('three times with rests tells spread and trend: a cache that empties itself, and one that does not', async () => {
    const often = (restSeconds: number) =>
      copied(standIn('petrel-2t'), [standIn('limpet-1t')], {
        bytes: 40 * GB,
        files: 4,
        verify: 'none',
        repeats: 3,
        restSeconds,
      });
    const rested = copyFiguresOf((await often(900)).copy!).spread!;
    const hurried = copyFiguresOf((await often(0)).copy!).spread!;
    expect(rested.times).toBe(3);
    expect(Math.abs(rested.trendShare)).toBeLessThan(0.05);
    expect(rested.highestSeconds / rested.lowestSeconds).toBeLessThan(1.1);
    expect(hurried.trendShare).toBeGreaterThan(0.3);
  });

  it('there and back is two copies; a drive that is unplugged ends it with what was copied', async () => {
    const run = await copied(standIn('petrel-2t'), [standIn('cormorant-x2')], {
      bytes: 10 * GB,
      files: 10,
      back: true,
    });
    expect(run.copy!.legs.map(({ from, to, checkedFiles }) => [from, to, checkedFiles])).toEqual([
      [0, [1], 10],
      [1, [0], 10],
    ]);
    const cut = await simulateRun({
      standIn: 'petrel-2t',
      targets: ['cormorant-x2'],
      recipeId: 'copy',
      options: { bytes: 40 * GB, files: 40 },
      faults: [{ kind: 'unplugged', at: 10 }],
    });
    expect(cut.state).toBe('failed');
    expect(cut.failure!.detail).toMatch(/The drive is gone/);
    const [leg] = cut.copy!.legs;
    expect(leg!.wholeFiles).toBeGreaterThan(5);
    expect(leg!.wholeFiles).toBeLessThan(12);
  });

  it('is the same for the same seed, and refuses a folder and what does not fit', async () => {
    const options = { bytes: 5 * GB, files: 5 };
    const run = () => copied(standIn('petrel-2t'), [standIn('skerry-512')], options);
    expect(await run()).toEqual(await run());
    const refused = (more: object) =>
      simulateRun({ standIn: 'petrel-2t', targets: ['skerry-512'], recipeId: 'copy', options: more });
    await expect(refused({ payload: 'folder' })).rejects.toThrow(/holds no folder/);
    await expect(refused({ bytes: 900 * GB })).rejects.toThrow(/On Skerry 512, 900.GB are needed/);
  });
});
