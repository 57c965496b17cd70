import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { parsePhase, phaseLine } from '#core/3-jobs/demand/loads/phase-line.ts';
import { profileRunOf, readRequests, supplyOf } from '#core/4-runs/supply/profile.ts';
import { loadTimes } from '#core/5-answers/verdict/loads/phase-times.ts';
import { timesOfReplay } from '#core/5-answers/verdict/loads/replay-times.ts';
import { TRIED_AGAIN, printFurtherTries } from '../../support/tried-again.ts';
import { canHold, makeThrottledDevice } from '../../support/throttled-device.ts';

/**
 * Truth from the kernel: a block device that it holds to an exact rate. A virtual machine whose host
 * takes its processors away for a while is not held to that rate.
 */
describe.skipIf(!canHold)('a device held to a rate by the kernel', TRIED_AGAIN, () => {
  printFurtherTries();
  let rig: ReturnType<typeof makeThrottledDevice>;
  beforeAll(() => {
    rig = makeThrottledDevice('throttled');
  });
  afterAll(() => rig.remove());

  /** Within 2 % writing; the kernel lets reading run about two per cent over its limit, and hands out slices of a tenth of a second. */
  function expectAtLimit(direction: 'write' | 'read', bytesPerSecond: number, limit: number, seconds = Infinity): void {
    const over = (direction === 'write' ? 1.02 : 1.03) + 0.1 / seconds;
    expect(bytesPerSecond / limit, direction).toBeGreaterThan(0.98);
    expect(bytesPerSecond / limit, direction).toBeLessThan(over);
  }

  it.each([60e6, 180e6])('of %d bytes a second is measured by short passes, both ways', async (limit) => {
    rig.limit(limit);
    const run = await rig.measure('--passes', '2', '--block', '1MiB', '--seconds', '6');
    expectAtLimit('write', run.figures.write!.medianBytesPerSecond, limit);
    expectAtLimit('read', run.figures.read!.medianBytesPerSecond, limit);
    expect(run.doubts.map((doubt) => doubt.code)).not.toContain('buffered');
  });

  it('is measured by a block ladder on every rung', async () => {
    rig.limit(80e6);
    const shape = ['--blocks', '64KiB,1MiB', '--depths', '4', '--seconds', '5', '--size', '400MB'];
    const run = await rig.measure('--recipe', 'block-ladder', ...shape);
    expect(run.figures.ladder).toHaveLength(8);
    for (const { bytesPerSecond } of run.figures.ladder!) expectAtLimit('read', bytesPerSecond, 80e6, 5);
  });

  it('is measured by reading existing material', async () => {
    writeFileSync(join(rig.mountPoint, 'reel.mov'), Buffer.alloc(500e6, 7));
    rig.limit(70e6);
    const run = await rig.measure('--recipe', 'existing-material', '--block', '1MiB');
    expectAtLimit('read', run.figures.read!.medianBytesPerSecond, 70e6);
    expect(run.doubts.map((doubt) => doubt.code)).not.toContain('memory-read');
  });

  it('is measured by a file scatter of files large enough for their bytes to count', async () => {
    rig.limit(90e6);
    const run = await rig.measure(
      '--recipe',
      'file-scatter',
      '--files',
      '120',
      '--sizes',
      'even',
      '--file-size',
      '8MiB',
    );
    const [create, read] = run.figures.files!;
    const seconds = (120 * 8 * 1024 ** 2) / 90e6;
    expectAtLimit('write', create!.bytesPerSecond, 90e6, seconds);
    expectAtLimit('read', read!.bytesPerSecond, 90e6, seconds);
  });

  it('replays a load as its own ladder predicts', async () => {
    rig.limit(80e6);
    const shape = ['--blocks', '64KiB,256KiB,1MiB', '--depths', '1,4', '--direction', 'read', '--order', 'random'];
    const ladder = await rig.measure('--recipe', 'block-ladder', ...shape, '--seconds', '4', '--size', '400MB');
    const phases = [
      'Launch: 1 s processor, 240 MB in 64 KiB x4',
      'Level: 500 ms processor, 320 MB in 256 KiB x4, overlap 50%',
    ].map(parsePhase);
    const supply = readRequests(supplyOf({ drive: ladder.drive, runs: [profileRunOf(ladder)] }));
    const predicted = loadTimes({ phases }, supply)!;
    const flags = phases.flatMap((phase) => ['--phase', phaseLine(phase)]);
    const run = await rig.measure('--recipe', 'replay', ...flags);
    const measured = timesOfReplay(phases, run.figures.phases!);
    console.log(`${measured.totalSeconds.toFixed(2)} s replayed, ${predicted.totalSeconds.toFixed(2)} s said`);
    expect(Math.abs(measured.totalSeconds / predicted.totalSeconds - 1)).toBeLessThan(0.05);
  });

  it('that becomes slower after so many bytes has its knee there, and both levels', async () => {
    const [fast, slow, after] = [200e6, 60e6, 1.6e9];
    rig.limit(fast);
    const begin = rig.writtenBytes();
    let turned = 0;
    const turning = (async () => {
      while (rig.writtenBytes() - begin < after) await wait(5);
      rig.limit(slow);
      turned = rig.writtenBytes() - begin;
    })();
    const run = await rig.measure('--recipe', 'long-fill', '--size', '2.4GB', '--until-floor', 'no', '--block', '1MiB');
    await turning;
    const reading = run.figures.write!.reading!;
    expect(Math.abs(reading.kneeBytes! - turned) / turned).toBeLessThan(0.03);
    expectAtLimit('write', reading.openingBytesPerSecond!, fast);
    expectAtLimit('write', reading.floorBytesPerSecond!, slow);
  });

  it('drops the first paced frame when arithmetic says', async () => {
    const [limit, frame, rate, bufferSeconds] = [40e6, 1024 * 1024, 50, 1];
    rig.limit(limit);
    const stream = `record ${frame}B ${rate}`;
    const run = await rig.measure('--recipe', 'paced-frames', '--stream', stream, '--seconds', '10', '--buffer', '1');
    const demand = frame * rate;
    // The buffer fills with what is asked for beyond the limit.
    const first = (bufferSeconds * demand) / (demand - limit);
    const { frames } = run.figures;
    const later = frames!.streams[0]!.firstDroppedSeconds! - first;
    // The kernel gives a tenth of a second's bytes at once: so much less is short of the demand.
    const headStart = (0.1 * limit) / (demand - limit);
    expect(later).toBeGreaterThan(-0.1 - 2 / rate);
    expect(later).toBeLessThan(headStart + 2 / rate);
    // From then on as many are lost as do not fit.
    const lost = frames!.dropped / ((10 - first) * rate);
    expect(lost).toBeCloseTo(1 - limit / demand, 1);
  });

  it('drops no paced frame that fits', async () => {
    rig.limit(80e6);
    const stream = 'record 1MiB 50 files';
    const run = await rig.measure('--recipe', 'paced-frames', '--stream', stream, '--seconds', '8');
    expect(run.figures.frames).toMatchObject({ frames: 400, dropped: 0 });
  });
});
