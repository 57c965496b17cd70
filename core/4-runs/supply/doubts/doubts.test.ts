import { describe, expect, it } from 'vitest';
import { healthIn, type DriveHealth } from '#core/2-trade/drives/health.ts';
import { hopOf } from '#core/2-trade/links/connection.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { runOf } from '#core/testing/run-of.ts';
import { evidenceOf } from '#core/4-runs/supply/evidence.ts';
import { reserveBytes, roomBytes } from '#core/4-runs/supply/room.ts';
import { summaryOf } from '#core/4-runs/supply/run-summary.ts';

const MB = 1e6;
/** Twelve seconds each way at 100 MB/s on a spinning drive: nothing to doubt. */
const clean = () =>
  runOf(
    [
      { direction: 'write', rates: Array<number>(12).fill(100 * MB) },
      { direction: 'read', rates: Array<number>(12).fill(100 * MB) },
    ],
    'spinning',
  );
const codes = (run: RunDocument) => summaryOf(run).doubts.map((doubt) => doubt.code);

/** Twelve seconds of writing with so many seconds in the middle in which nothing moved, or nothing was looked at. */
function stoodFor(seconds: number, isLookedAt: boolean): RunDocument {
  const half = Array<number>(12).fill(100 * MB);
  const run = runOf([{ direction: 'write', rates: [...half, ...Array<number>(seconds).fill(0), ...half] }], 'spinning');
  return isLookedAt ? run : without(run, (at) => at > 12 && at <= 12 + seconds);
}

/** Without the looks at some moments. */
function without(run: RunDocument, isMissing: (atSeconds: number) => boolean): RunDocument {
  const { samples } = run;
  const kept = samples.atSeconds.map((at) => !isMissing(at));
  for (const column of Object.values(samples) as unknown[][]) {
    const rows = column.filter((_, row) => kept[row]);
    column.splice(0, column.length, ...rows);
  }
  return run;
}

const SAYS_NOTHING = healthIn({ smart_status: { passed: true } })!;
const told = (of: Partial<DriveHealth>): DriveHealth => ({ ...SAYS_NOTHING, ...of });

function changed(change: (run: RunDocument) => void): RunDocument {
  const run = clean();
  change(run);
  return run;
}

describe('doubts', () => {
  it('a clean run has none', () => {
    expect(codes(clean())).toEqual([]);
    expect(evidenceOf(clean(), 'write')).toMatchObject({
      mayProveHolds: true,
      mayProveBreaks: true,
      provenBytes: 1200 * MB,
    });
  });

  it('tells of a run that stood still, and whether it was the drive', () => {
    const still = summaryOf(stoodFor(840, true)).doubts;
    expect(still).toMatchObject([{ code: 'stood-still', effect: 'finding', direction: 'write', atSeconds: 12 }]);
    expect(still[0]!.evidence).toBe('Nothing moved for 14 min in the middle of it.');
    const held = stoodFor(840, false);
    expect(summaryOf(held).doubts).toMatchObject([{ code: 'held-up', effect: 'too-low', atSeconds: 12 }]);
    expect(evidenceOf(held, 'write')).toMatchObject({ mayProveHolds: true, mayProveBreaks: false });
    // Seconds in which nothing moves are how many drives work.
    expect(codes(stoodFor(4, true))).toEqual([]);
  });

  it('does not take a processor that was elsewhere for a stop of the drive', () => {
    const tenth = (rates: number[]) => runOf([{ direction: 'write', rates, sampleSeconds: 0.1 }], 'spinning');
    const whole = Array<number>(120).fill(100 * MB);
    const unseen = (rates: number[], missing: number) =>
      without(tenth(rates), (at) => at > 5.05 && at < 5.05 + missing);
    const stopped = [...whole.slice(0, 50), ...Array<number>(8).fill(0), ...whole];
    expect(summaryOf(unseen(stopped, 0.7)).doubts).toMatchObject([
      {
        code: 'held-up',
        direction: 'write',
        evidence: 'For 800 ms the program itself did not run, so that it may not have been the drive.',
      },
    ]);
    // Seen all along: the drive's own stop.
    expect(codes(tenth(stopped))).toEqual([]);
    // A look that came late while bytes went on: what looks was held, not what writes.
    expect(codes(unseen(whole, 0.7))).toEqual([]);
    // Held from its first look on, there is nothing to hold it against: only a long time counts.
    const heldFirst = (seconds: number) =>
      codes(
        without(tenth([...Array<number>(10 * seconds).fill(0), ...whole]), (at) => at > 0.05 && at < seconds - 0.05),
      );
    expect(heldFirst(12)).toContain('held-up');
    expect(heldFirst(2)).not.toContain('held-up');
    // Few looks are exactly in time.
    expect(codes(unseen(stopped, 0.2))).toEqual([]);
  });

  it('takes no word of a drive for a doubt that says nothing against it', () => {
    const healthy = told({ mediaErrors: 3, wornShare: 0.99, celsius: 30 });
    expect(codes(changed((run) => (run.conditions.told = { start: healthy, end: healthy })))).toEqual([]);
    // What it did before it fails proves no Holds; that it was too slow stays true.
    const failing = changed((run) => (run.conditions.told = { start: told({ isFailing: true }), end: null }));
    expect(evidenceOf(failing, 'write')).toMatchObject({ mayProveHolds: false, mayProveBreaks: true });
  });

  it.each([
    ['buffered', (run: RunDocument) => (run.conditions.bypass[0]!.deviceBytes! *= 0.9)],
    ['memory-read', (run: RunDocument) => (run.conditions.bypass[1]!.deviceBytes! *= 0.9)],
    ['busy-drive', (run: RunDocument) => (run.conditions.bypass[0]!.deviceBytes! *= 1.1)],
    ['buffered', (run: RunDocument) => (run.conditions.ioMode = 'buffered')],
    ['nearly-full', (run: RunDocument) => (run.conditions.start.freeBytes = 1e11)],
    ['interrupted', (run: RunDocument) => (run.state = 'interrupted')],
    ['impossible', (run: RunDocument) => (run.connection.hops = [hopOf('usb-480')!])],
    ['link-downgrade', (run: RunDocument) => (run.connection.hops = [hopOf('pcie-3', 1, 4, 'pcie-4')!])],
    [
      'wrong-data',
      (run: RunDocument) => run.conditions.verification.mismatches.push({ fileOffset: 4096, foundOffset: 0, pass: 1 }),
    ],
    ['busy-processor', (run: RunDocument) => (run.conditions.series = { ...series(), processorShare: [0.9, 0.95] })],
    [
      'clone',
      (run: RunDocument) => Object.assign(run.conditions.bypass[0]!, { deviceBytes: 0, deviceBytesAfterFlush: 0 }),
    ],
    ['on-battery', (run: RunDocument) => (run.conditions.start.onBattery = true)],
    [
      'hot-start',
      (run: RunDocument) => {
        run.conditions.start.coolestCelsius = 30;
        run.conditions.series = { ...series(), temperatureCelsius: [41, 41] };
      },
    ],
    [
      // Where only the drive itself tells how warm it is.
      'hot-start',
      (run: RunDocument) => {
        run.conditions.start.coolestCelsius = 30;
        run.conditions.told = { start: told({ celsius: 41 }), end: null };
      },
    ],
    ['failing', (run: RunDocument) => (run.conditions.told = { start: told({ isFailing: true }), end: null })],
    ['worn-out', (run: RunDocument) => (run.conditions.told = { start: null, end: told({ wornShare: 1.03 }) })],
    [
      'new-errors',
      (run: RunDocument) => (run.conditions.told = { start: told({ mediaErrors: 4 }), end: told({ mediaErrors: 7 }) }),
    ],
    [
      'slept',
      (run: RunDocument) =>
        run.markers.push({
          kind: 'sleep',
          atSeconds: 5,
          seconds: 90,
          direction: null,
          pass: null,
          phase: null,
          note: '',
        }),
    ],
    [
      'link-downgrade',
      (run: RunDocument) => {
        run.connection.hops = [hopOf('usb-10')!];
        run.conditions.end = { freeBytes: 6e11, connection: { hops: [hopOf('usb-5')!] } };
      },
    ],
    [
      'busy-drive',
      (run: RunDocument) => (run.conditions.series = { ...series(), foreignBytesPerSecond: [5 * MB, 3 * MB] }),
    ],
  ])('%s is raised by its own evidence and nothing else', (code, change) => {
    const found = codes(changed(change));
    expect(new Set(found)).toEqual(new Set([code]));
  });

  it('say what to do', () => {
    const hot = changed((run) => (run.conditions.start.onBattery = true));
    expect(summaryOf(hot).doubts[0]!.advice).toBe('Plug the machine in and measure again.');
  });

  it('of files and frames pass over what names and folders write', () => {
    const scatter = changed((run) => {
      run.recipe = 'file-scatter';
      run.conditions.bypass[0]!.deviceBytes! *= 1.4;
    });
    expect(codes(scatter)).toEqual([]);
  });

  it('stay away just inside their thresholds', () => {
    expect(codes(changed((run) => (run.conditions.bypass[0]!.deviceBytes! *= 0.96)))).toEqual([]);
    expect(
      codes(changed((run) => (run.conditions.series = { ...series(), foreignBytesPerSecond: [2 * MB, 2 * MB] }))),
    ).toEqual([]);
  });

  it('of too high reads forbid Holds, of too low ones Breaks, and void runs testify nothing', () => {
    const short = runOf([{ direction: 'write', rates: [100, 100] }], 'spinning');
    expect(codes(short)).toEqual(['short-run']);
    expect(evidenceOf(short, 'write')).toMatchObject({ mayProveHolds: false, mayProveBreaks: true });
    const busy = changed((run) => (run.conditions.bypass[0]!.deviceBytes! *= 1.1));
    expect(evidenceOf(busy, 'write')).toMatchObject({ mayProveHolds: true, mayProveBreaks: false });
    const wrong = changed((run) =>
      run.conditions.verification.mismatches.push({ fileOffset: 0, foundOffset: null, pass: 1 }),
    );
    expect(evidenceOf(wrong, 'write')).toBeNull();
    expect(evidenceOf(clean(), 'read')?.direction).toBe('read');
  });

  it('of flash and shares that read what they just wrote', () => {
    const of = (medium: 'flash' | 'network') =>
      runOf(
        [
          { direction: 'write', rates: Array<number>(12).fill(100 * MB) },
          { direction: 'read', rates: Array<number>(12).fill(100 * MB) },
        ],
        medium,
      );
    expect(codes(of('flash'))).toEqual(['read-from-write-cache']);
    expect(codes(of('network'))).toEqual(['server-memory']);
  });
});

function series(): RunDocument['conditions']['series'] {
  return {
    atSeconds: [1, 2],
    temperatureCelsius: [null, null],
    foreignBytesPerSecond: [0, 0],
    processorShare: [0.1, 0.1],
  };
}

describe('evidence', () => {
  it('ends each piece with its flush as a stall', () => {
    const run = runOf([{ direction: 'write', rates: Array<number>(12).fill(100), flushSeconds: 2 }], 'spinning');
    const [piece] = evidenceOf(run, 'write')!.curves;
    expect([piece!.seconds.at(-1), piece!.bytes.at(-1), piece!.bytes.at(-2)]).toEqual([14, 1200, 1200]);
  });

  it('of memory goes on for ever', () => {
    const run = runOf([{ direction: 'write', rates: Array<number>(12).fill(100) }], 'memory');
    expect(evidenceOf(run, 'write')?.continuedBytes).toBeNull();
  });
});

it('always leaves the larger of 2 GB and 2 % free', () => {
  expect([reserveBytes({ freeBytes: 10e9 }), reserveBytes({ freeBytes: 1e12 })]).toEqual([2e9, 20e9]);
  expect([roomBytes({ freeBytes: 1e9 }), roomBytes({ freeBytes: 12e9 })]).toEqual([0, 10e9]);
  // Where nothing else is kept, what the filesystem needs for its books: 48 MB, and 3 of each 1,000 bytes.
  expect(roomBytes({ freeBytes: 64e9, usesAll: true })).toBe(64e9 - 48e6 - 192e6);
  expect(roomBytes({ freeBytes: 1e6, usesAll: true })).toBe(0);
});
