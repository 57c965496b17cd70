import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { bindingText, copySentence, timesEarly } from '#core/5-answers/copies/copy-words.ts';
import { USUAL_PAYLOADS, payloadTexts, readPayload } from '#core/5-answers/copies/payload.ts';
import { moveStretches, predictCopy, type Payload } from '#core/5-answers/copies/predict.ts';
import type { Evidence } from '#core/4-runs/supply/evidence.ts';
import type { Profile } from '#core/4-runs/supply/profile.ts';
import { curveFrom, evidenceFrom } from '#core/testing/curves.ts';
import { curveOf } from '#core/4-runs/trace/supply-curve.ts';

const GB = 1e9;
const MB = 1e6;
type Pieces = [seconds: number, rate: number][];

/** A drive that was measured both ways at these rates, and goes on at the last of them. */
function drive(
  id: string,
  read: Pieces,
  write: Pieces,
  more: { hop?: number; open?: number; make?: number } = {},
): Profile {
  const trace = (direction: 'read' | 'write', pieces: Pieces): Evidence => {
    const last = pieces.at(-1)![1];
    return evidenceFrom([curveFrom(...pieces)], {
      direction,
      span: { worstSecondBytesPerSecond: last, floorBytesPerSecond: last, openingBytesPerSecond: pieces[0]![1] },
    });
  };
  return {
    tavrox: 'profile/1',
    drive: { id, label: id, medium: 'flash' },
    connection: {
      hops:
        more.hop === undefined
          ? []
          : [
              {
                linkId: 'given',
                label: 'The cable',
                lanes: 1,
                ceilingBytesPerSecond: more.hop,
                capableBytesPerSecond: null,
              },
            ],
    },
    runs: [
      {
        runId: id,
        recipe: 'long-fill',
        options: null,
        startedAt: '2026-03-01T00:00:00Z',
        fillShare: 0,
        startCelsius: null,
        doubts: [],
        traces: [trace('read', read), trace('write', write)],
        paced: null,
        random: [],
        rungs: [],
        fileSeconds: more.open ?? null,
        createSeconds: more.make ?? null,
      },
    ],
  };
}

const plain = (bytes: number, more: Partial<Payload> = {}): Payload => ({
  bytes,
  files: 1,
  parallelFiles: 1,
  verifies: false,
  ...more,
});
/** Reads 3,000 MB/s; writes 2,800 MB/s up to 150 GB, then 450. */
const SOURCE = drive('source', [[200, 3000 * MB]], [[10, 100 * MB]]);
const TARGET = drive(
  'target',
  [[100, 3000 * MB]],
  [
    [150_000 / 2800, 2800 * MB],
    [100, 450 * MB],
  ],
);

describe('a copy that is predicted', () => {
  it('takes what the check values say: 400 GB through a cache of 150', () => {
    const copy = predictCopy(plain(400 * GB), SOURCE, [TARGET])!;
    expect(copy.movingSeconds).toBeCloseTo(609.1, 1);
    expect(copy.earlySeconds).toBeCloseTo(142.9, 1);
    expect(copy.stretches.map(({ binds }) => binds.kind)).toEqual(['target', 'target']);
    expect(copy.stretches[0]!.toBytes).toBeCloseTo(150 * GB, -3);
  });

  it('is held back by the least hop, and by its source', () => {
    const throughCable = predictCopy(plain(100 * GB), SOURCE, [
      { ...TARGET, connection: drive('x', [[1, 1]], [[1, 1]], { hop: 500 * MB }).connection },
    ])!;
    expect(throughCable.movingSeconds).toBeCloseTo(200, 6);
    expect(throughCable.stretches[0]!.binds).toEqual({ kind: 'hop', label: 'The cable' });
    const slow = predictCopy(plain(10 * GB), drive('slow', [[100, 200 * MB]], [[1, 1]]), [TARGET])!;
    expect(slow.movingSeconds).toBeCloseTo(50, 6);
    expect(slow.stretches[0]!.binds.kind).toBe('source');
  });

  it('takes turns on one drive: both times add up', () => {
    const copy = predictCopy(plain(60 * GB), drive('one', [[100, 600 * MB]], [[100, 300 * MB]]), [
      drive('one', [[100, 600 * MB]], [[200, 300 * MB]]),
    ])!;
    expect(copy.movingSeconds).toBeCloseTo(100 + 200, 6);
    expect(copy.stretches[0]!.binds.kind).toBe('same-drive');
  });

  it('pays for each file on both ends, shared among those at work, and for reading back', () => {
    const [from, to] = [
      drive('a', [[100, 500 * MB]], [[1, 1]], { open: 0.002 }),
      drive('b', [[100, 250 * MB]], [[100, 500 * MB]], { make: 0.008 }),
    ];
    const copy = predictCopy(plain(10 * GB, { files: 4000, parallelFiles: 4, verifies: true }), from, [to])!;
    expect(copy.filesSeconds).toBeCloseTo((4000 * 0.01) / 4, 9);
    expect(copy.verifyingSeconds).toBeCloseTo(40, 6);
    expect(copy.seconds).toBeCloseTo(20 + 10 + 40, 6);
    expect(copy.filesKnown).toBe(true);
    expect(predictCopy(plain(GB), from, [SOURCE])!.filesKnown).toBe(false);
  });

  it('ends when the last bytes are on the target, and opens no more files than there are', () => {
    const held = drive('held', [[1000, 1000 * MB]], [[10, 1000 * MB]]);
    // After its last byte the trace stood still for a minute.
    const [run] = held.runs;
    const traces = run!.traces.map((trace) =>
      trace.direction === 'write'
        ? { ...trace, curves: [curveOf({ seconds: [0, 10, 70], bytes: [0, 10 * GB, 10 * GB] })] }
        : trace,
    );
    const target = { ...held, runs: [{ ...run!, traces }] };
    const source = drive('source', [[1000, 2000 * MB]], [[1, MB]]);
    const copy = (bytes: number) =>
      predictCopy({ bytes, files: 1, parallelFiles: 4, verifies: false }, source, [target])!;
    expect(copy(10 * GB).seconds).toBeCloseTo(70, 6);
    expect(copy(5 * GB).seconds).toBeCloseTo(5 + 30, 6);
    expect(copy(5 * GB).flushingSeconds).toBeCloseTo(30, 6);
    const slowToOpen = drive('slow-to-open', [[1000, 1000 * MB]], [[1000, 1000 * MB]], { open: 0.2, make: 0.4 });
    const one = { bytes: GB, files: 1, parallelFiles: 4, verifies: false };
    expect(
      predictCopy(one, slowToOpen, [{ ...slowToOpen, drive: { ...slowToOpen.drive, id: 'other' } }])!.filesSeconds,
    ).toBeCloseTo(0.6, 9);
  });

  it('is none without reading one and writing the other', () => {
    const blind: Profile = { ...SOURCE, runs: [] };
    expect(predictCopy(plain(GB), blind, [TARGET])).toBeNull();
    expect(predictCopy(plain(GB), SOURCE, [blind])).toBeNull();
  });

  const anyPieces = fc.array(
    fc.tuple(fc.double({ min: 0.5, max: 20, noNaN: true }), fc.integer({ min: 20, max: 900 })),
    { minLength: 1, maxLength: 6 },
  );

  it('is what a simulation in small steps comes to', () => {
    fc.assert(
      fc.property(
        anyPieces,
        anyPieces,
        fc.integer({ min: 100, max: 20_000 }),
        fc.option(fc.integer({ min: 50, max: 500 })),
        (read, write, bytes, hop) => {
          const from = drive('a', read, [[1, 1]], hop === null ? {} : { hop });
          const to = drive('b', [[1, 1]], write);
          const copy = predictCopy(plain(bytes), from, [to])!;
          const rateAt = (pieces: Pieces, at: number): number => {
            let passed = 0;
            for (const [seconds, rate] of pieces) {
              passed += seconds * rate;
              if (at < passed) return rate;
            }
            return pieces.at(-1)![1];
          };
          const steps = 4000;
          let seconds = 0;
          for (let step = 0; step < steps; step += 1) {
            const at = ((step + 0.5) * bytes) / steps;
            seconds += bytes / steps / Math.min(rateAt(read, at), rateAt(write, at), hop ?? Infinity);
          }
          expect(Math.abs(copy.movingSeconds / seconds - 1)).toBeLessThan(0.02);
          expect(copy.stretches.at(-1)!.toBytes).toBe(bytes);
        },
      ),
      { numRuns: 100 },
    );
  });

  it('never gets quicker with more bytes, a slower hop or more files', () => {
    fc.assert(
      fc.property(anyPieces, anyPieces, fc.integer({ min: 100, max: 9000 }), (read, write, bytes) => {
        const from = drive('a', read, [[1, 1]], { open: 0.1 });
        const to = (hop: number) => drive('b', [[1, 1]], write, { hop, make: 0.1 });
        const seconds = (size: number, files: number, hop: number) =>
          predictCopy(plain(size, { files }), from, [to(hop)])!.seconds;
        const own = seconds(bytes, 10, 300);
        expect(seconds(bytes + 500, 10, 300)).toBeGreaterThanOrEqual(own - 1e-9);
        expect(seconds(bytes, 11, 300)).toBeGreaterThan(own);
        expect(seconds(bytes, 10, 200)).toBeGreaterThanOrEqual(own - 1e-9);
      }),
    );
  });

  it('is told in a sentence: how long, why, and how far the first estimate was off', () => {
    const copy = predictCopy(plain(400 * GB), SOURCE, [TARGET])!;
    expect(timesEarly(copy)).toBeCloseTo(609.13 / 142.86, 2);
    const words = copySentence('A', 'B', plain(400 * GB), copy);
    expect(words).toMatch(
      /^400\sGB from A to B take 10 min 9 s, 4\.26 times what its first seconds promise \(2 min 23 s\)\./,
    );
    expect(words).toMatch(/writing the target holds it back, at 450\sMB\/s/);
    expect(words).toMatch(/Only 195\sGB of it were measured on both/);
    const steady = predictCopy(plain(10 * GB, { verifies: true }), SOURCE, [TARGET])!;
    expect(copySentence('A', 'B', plain(10 * GB), steady)).not.toMatch(/promise/);
    expect(copySentence('A', 'B', plain(10 * GB), steady)).toMatch(/to be read back/);
    expect(bindingText({ kind: 'hop', label: 'The cable' })).toBe('The cable');
  });
});

describe('what is copied, as typed', () => {
  it('gives the usual ones again, and says what is wrong', () => {
    for (const { payload } of USUAL_PAYLOADS) expect(readPayload(payloadTexts(payload)).payload).toEqual(payload);
    const typed = (change: Record<string, string>) =>
      readPayload({ ...payloadTexts(USUAL_PAYLOADS[0]!.payload), ...change });
    expect(Object.keys(typed({ bytes: '640 gb', files: '0' }).errors).sort()).toEqual(['bytes', 'files']);
    expect(typed({ bytes: '0 GB' }).errors['bytes']).toMatch(/more than nothing/);
    expect(typed({ bytes: '9000000 TB' }).errors['bytes']).toMatch(/640 GB/);
  });
});

describe('a copy over shared links', () => {
  const at = (profile: Profile, place: string | undefined, linkId = 'ethernet-10', ceiling = 1000 * MB): Profile => ({
    ...profile,
    connection: {
      hops: [
        {
          linkId,
          label: 'The port',
          lanes: 1,
          ceilingBytesPerSecond: ceiling,
          capableBytesPerSecond: null,
          ...(place === undefined ? {} : { at: place }),
        },
      ],
    },
  });
  const fast = (id: string): Profile => drive(id, [[1000, 3000 * MB]], [[1000, 3000 * MB]]);
  const seconds = (from: Profile, ...to: Profile[]): number => predictCopy(plain(100 * GB), from, to)!.movingSeconds;

  it('goes both ways at once over a duplex port, and in turn over one that is not', () => {
    expect(seconds(at(fast('a'), 'port 1'), at(fast('b'), 'port 1'))).toBeCloseTo(100, 6);
    expect(seconds(at(fast('a'), 'hub', 'usb-480'), at(fast('b'), 'hub', 'usb-480'))).toBeCloseTo(200, 6);
    expect(seconds(at(fast('a'), undefined, 'usb-480'), at(fast('b'), undefined, 'usb-480'))).toBeCloseTo(100, 6);
  });

  it('to two places shares what both go over, and not what each has of its own', () => {
    const copy = predictCopy(plain(100 * GB), fast('a'), [at(fast('b'), 'port 1'), at(fast('c'), 'port 1')])!;
    expect(copy.movingSeconds).toBeCloseTo(200, 6);
    expect(copy.stretches[0]!.binds).toEqual({ kind: 'hop', label: 'The port' });
    expect(seconds(fast('a'), at(fast('b'), 'port 1'), at(fast('c'), 'port 2'))).toBeCloseTo(100, 6);
    // However many of its links are said to be at one place, a drive goes through it once.
    const twice = at(fast('b'), 'port 1');
    const hops = [...twice.connection.hops, ...twice.connection.hops];
    expect(seconds(fast('a'), { ...twice, connection: { hops } })).toBeCloseTo(100, 6);
    // Two copies on one drive take turns.
    expect(seconds(fast('a'), fast('b'), fast('b'))).toBeCloseTo(200 / 3, 6);
  });

  it('is bound by the slowest of several targets, which is named', () => {
    const copy = predictCopy(plain(10 * GB, { verifies: true }), fast('a'), [
      fast('b'),
      drive('slow', [[1000, 500 * MB]], [[1000, 250 * MB]]),
    ])!;
    expect(copy.movingSeconds).toBeCloseTo(40, 6);
    expect(copy.verifyingSeconds).toBeCloseTo(20, 6);
    expect(copy.stretches[0]!.binds).toEqual({ kind: 'target', label: 'slow' });
  });

  it('through a drive that swings by the clock spends its slow times whatever the source does', () => {
    // Slow for 4 s at 100 MB/s, quick for 4 s at 700; read at 300 MB/s, with nothing in memory between.
    const swing = Array.from({ length: 40 }, (_, turn): [number, number] => [4, (turn % 2 === 0 ? 100 : 700) * MB]);
    const trace = evidenceFrom([curveFrom(...swing)], { swingsFrom: { bytes: 0, seconds: 0 } });
    const from = { trace: evidenceFrom([curveFrom([1000, 300 * MB])]), driveId: 'a', hops: [] };
    const flows = (direction: 'read' | 'write') => [
      { ...from, trace: { ...from.trace, direction: 'read' as const }, binds: { kind: 'source' } as const },
      { trace: { ...trace, direction }, driveId: 'b', hops: [], binds: { kind: 'target', label: null } as const },
    ];
    const [none] = moveStretches(20 * GB, flows('write'), 0);
    expect(none!.bytesPerSecond / MB).toBeCloseTo((100 + 300) / 2, 6);
    // 400 MB in memory are filled in 2 s of each slow time, and written in the quick one.
    const [some] = moveStretches(20 * GB, flows('write'), 400 * MB);
    expect(some!.bytesPerSecond / MB).toBeCloseTo((4 * 100 + 4 * 300 + 400) / 8, 0);
    // The source's own link at 250 MB/s holds it back in the quick time, and not the target in emptying the memory.
    const link = { linkId: 'ethernet', label: 'The cable', lanes: 1, capableBytesPerSecond: null };
    const behind = flows('write').map((one, index) =>
      index === 0 ? { ...one, hops: [{ ...link, ceilingBytesPerSecond: 250 * MB }] } : one,
    );
    const [held] = moveStretches(20 * GB, behind, 400 * MB);
    expect(held!.bytesPerSecond / MB).toBeCloseTo((4 * 100 + 4 * 250 + 400) / 8, 0);
  });

  it('to two drives that swing by the clock waits for either, and memory makes up for it', () => {
    const swinging = (seconds: number, id: string) => {
      const pieces = Array.from({ length: 80 }, (_, turn): [number, number] => [
        seconds,
        (turn % 2 === 0 ? 50 : 200) * MB,
      ]);
      const trace = { ...evidenceFrom([curveFrom(...pieces)]), swingsFrom: { bytes: 0, seconds: 0 } };
      return { trace, driveId: id, hops: [], binds: { kind: 'target', label: id } as const };
    };
    const source = {
      trace: { ...evidenceFrom([curveFrom([1000, 5000 * MB])]), direction: 'read' as const },
      driveId: 'a',
      hops: [],
      binds: { kind: 'source' } as const,
    };
    const flows = [source, swinging(4, 'b'), swinging(5.1, 'c')];
    const rate = (ahead: number) => moveStretches(10 * GB, flows, ahead)[0]!.bytesPerSecond / MB;
    // Both are quick for a quarter of the time.
    expect(rate(0) / (0.25 * 200 + 0.75 * 50)).toBeCloseTo(1, 1);
    expect(rate(100 * GB) / 125).toBeCloseTo(1, 1);
    expect(rate(100 * MB)).toBeGreaterThan(rate(0));
  });
});
