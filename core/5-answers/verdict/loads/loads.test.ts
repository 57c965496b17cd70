import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { demandsOf } from '#core/3-jobs/demand/items.ts';
import { NEW_FOOTAGE, readFootage } from '#core/3-jobs/demand/footage/footage-form.ts';
import { loadForm } from '#core/3-jobs/demand/loads/load-form.ts';
import type { LoadItem } from '#core/3-jobs/demand/loads/load-item.ts';
import { parsePhase, phaseLine } from '#core/3-jobs/demand/loads/phase-line.ts';
import { WORKLOAD_VERSION, type Workload } from '#core/3-jobs/demand/workload.ts';
import { FROM_MEMORY, type RequestSupply } from '#core/4-runs/supply/request-rate.ts';
import type { Supply } from '#core/4-runs/supply/profile.ts';
import { evidenceFrom, steady, supplyFrom } from '#core/testing/curves.ts';
import { ladderSupply, trueRate } from '#core/testing/requests.ts';
import { judgeWorkload } from '#core/5-answers/verdict/judge-workload.ts';
import { provingWords } from '#core/5-answers/verdict/proving-words.ts';
import { judgeLoad } from '#core/5-answers/verdict/loads/judge-load.ts';
import { leastDriveClass, leastLink } from '#core/5-answers/verdict/loads/least-drive.ts';
import { enoughSentence, processorSentence } from '#core/5-answers/verdict/loads/load-words.ts';
import { libraryOnDrive } from '#core/5-answers/verdict/loads/library.ts';
import { brokenPhase, loadTimes } from '#core/5-answers/verdict/loads/phase-times.ts';
import { DEFAULT_POLICY } from '#core/5-answers/verdict/verdict.ts';

const DRIVE = { requestSeconds: 0.0001, bytesPerSecond: 1e9, parallel: 8 };
const load = (...lines: string[]): LoadItem =>
  loadForm.read({ ...loadForm.start, phases: lines.join('\n'), name: lines[0]! }, lines[0]!, null).item!;
const NO_WORKLOAD: Workload = { tavrox: WORKLOAD_VERSION, id: 'all', name: 'All', note: '', example: false, items: [] };
const onDrive = (requests: RequestSupply): Supply =>
  supplyFrom([evidenceFrom([steady(10, requests.sequentialBytesPerSecond ?? 1)], { direction: 'read' })], { requests });
const judged = (item: LoadItem, requests: RequestSupply, roomBytes: number | null = null) =>
  judgeLoad(item, demandsOf(item)[0]!, onDrive(requests), DEFAULT_POLICY, roomBytes);

describe('what a phase takes', () => {
  it('is processor + bytes ÷ rate of its requests + operations × their time ÷ as many as go at once', () => {
    const times = loadTimes(load('Level: 3 s processor, 800 MB in 64 KiB x4, 2000 files'), ladderSupply(DRIVE))!;
    const data = 800e6 / trueRate(DRIVE, 65_536, 4) + (2000 * 0.001) / 4;
    expect(times.totalSeconds).toBeCloseTo(3 + data, 6);
    expect(times.waitingSeconds).toBeCloseTo(data, 6);
    expect(times.processorSeconds).toBe(3);
  });

  it('loses what goes on side by side', () => {
    const plain = loadTimes(load('Level: 3 s processor, 800 MB in 64 KiB x4'), ladderSupply(DRIVE))!;
    const beside = loadTimes(load('Level: 3 s processor, 800 MB in 64 KiB x4, overlap 50%'), ladderSupply(DRIVE))!;
    const shorter = Math.min(3, plain.waitingSeconds);
    expect(plain.totalSeconds - beside.totalSeconds).toBeCloseTo(0.5 * shorter, 9);
    // With all of it side by side the longer of the two is left.
    const all = loadTimes(load('Level: 3 s processor, 800 MB in 64 KiB x4, overlap 100%'), ladderSupply(DRIVE))!;
    expect(all.totalSeconds).toBeCloseTo(Math.max(3, plain.waitingSeconds), 9);
  });

  it('is the processor alone from memory, and no less on any drive', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 500 }), fc.integer({ min: 0, max: 4000 }), (megabytes, files) => {
        const item = load(`A: 2 s processor, ${megabytes} MB in 16 KiB x2, ${files} files`, 'B: 1 s processor, 5 MB');
        expect(loadTimes(item, FROM_MEMORY)!.totalSeconds).toBe(3);
        const slow = loadTimes(item, ladderSupply(DRIVE))!;
        const fast = loadTimes(item, ladderSupply({ ...DRIVE, requestSeconds: 0.00005, bytesPerSecond: 2e9 }))!;
        expect(fast.totalSeconds).toBeLessThanOrEqual(slow.totalSeconds);
        expect(fast.totalSeconds).toBeGreaterThanOrEqual(3);
      }),
    );
  });

  it('counts a file that nobody timed as one smallest request, and needs reading to be measured', () => {
    const untimed = ladderSupply(DRIVE, { operationSeconds: null });
    const times = loadTimes(load('Open: 1 s processor, 1000 files'), untimed)!;
    expect(times.waitingSeconds).toBeCloseTo(1000 * (DRIVE.requestSeconds + 4096 / DRIVE.bytesPerSecond), 6);
    expect(loadTimes(load('Open: 1 GB'), { ...untimed, rungs: [], sequentialBytesPerSecond: null })).toBeNull();
  });
});

describe('what streams in', () => {
  it('cannot keep up when a chunk takes longer than it may', () => {
    const { verdict, sentence } = judged(load('Run: 100 MB in 64 KiB x1, every 200 ms for 1 min'), ladderSupply(DRIVE));
    expect(verdict).toMatchObject({ verdict: 'breaks', reason: 'over-limit' });
    expect(sentence).toMatch(/cannot keep up/);
  });

  it('stutters as often as one slow request is enough to make a chunk late', () => {
    const item = load('Run: 1 MB in 64 KiB x1, every 500 ms for 10 min, within 4 ms');
    const { stream } = loadTimes(item, ladderSupply(DRIVE))!.phases[0]!;
    const request = DRIVE.requestSeconds + 65_536 / DRIVE.bytesPerSecond;
    const usual = 1e6 / trueRate(DRIVE, 65_536, 1);
    expect(stream!.usualSeconds).toBeCloseTo(usual, 9);
    // 16 requests of which any may be slower than what is left beside the other fifteen.
    expect(stream!.stuttersPerMinute).toBeGreaterThan(0);
    expect(stream!.stuttersPerMinute).toBeLessThan(120 * 16 * 0.01);
    expect(stream!.worstSeconds).toBeCloseTo(usual + 30 * request, 9);
    const relaxed = loadTimes(
      load('Run: 1 MB in 64 KiB x1, every 500 ms for 10 min, within 400 ms'),
      ladderSupply(DRIVE),
    )!;
    expect(relaxed.phases[0]!.stream!.stuttersPerMinute).toBe(0);
    expect(brokenPhase(relaxed)).toBeNull();
  });

  it('is told to come in time, and not to take no time', () => {
    const { verdict, short } = judged(load('Run: 1 MB, every 500 ms for 10 min'), ladderSupply(DRIVE));
    expect(verdict.verdict).toBe('holds');
    expect(short).toBe('Holds: streams in time');
  });

  it('has no part in how long one waits', () => {
    const times = loadTimes(load('Launch: 2 s processor', 'Run: 1 MB, every 500 ms for 10 min'), ladderSupply(DRIVE))!;
    expect(times.totalSeconds).toBe(2);
  });
});

describe('the verdict on a load', () => {
  const level = (limit: string) => load(`Level: 2 s processor, 1 GB in 256 KiB x8, within ${limit}`);
  const seconds = loadTimes(level('1 h'), ladderSupply(DRIVE))!;

  it('holds with the headroom on the drive’s part, is tight without, and breaks over the limit', () => {
    const own = seconds.waitingSeconds;
    expect(judged(level(`${2 + 1.26 * own} s`), ladderSupply(DRIVE)).verdict.verdict).toBe('holds');
    expect(judged(level(`${2 + 1.24 * own} s`), ladderSupply(DRIVE)).verdict.verdict).toBe('tight');
    expect(judged(level(`${2 + 1.01 * own} s`), ladderSupply(DRIVE)).verdict.verdict).toBe('tight');
    const over = judged(level(`${2 + 0.9 * own} s`), ladderSupply(DRIVE));
    expect(over.verdict).toMatchObject({ verdict: 'breaks', reason: 'over-limit' });
    expect(over.verdict.breaksAtSeconds).toBeCloseTo(2 + 0.9 * own, 6);
    expect(over.sentence).toMatch(/Level takes .* too long/);
  });

  it('says when no drive helps', () => {
    expect(judged(load('Level: 9 s processor, 1 MB, within 5 s'), ladderSupply(DRIVE)).sentence).toMatch(
      /No drive helps/,
    );
  });

  it('is not proven by a rate in one go, unless even that is too slow', () => {
    const plain = ladderSupply(DRIVE, { rungs: [] });
    const unknown = judged(level('30 s'), plain);
    expect(unknown.verdict).toMatchObject({ verdict: 'not-proven', reason: 'requests-unknown' });
    // Only what it asks for, and what lies below: 256 KiB, eight at a time.
    expect(unknown.verdict.wouldProve).toMatchObject({
      recipe: 'block-ladder',
      ladder: { blocks: [4096, 65_536, 262_144], depths: [1, 8] },
    });
    expect(judged(level('2500 ms'), plain).verdict.verdict).toBe('breaks');
    const nothing = judged(level('30 s'), { ...plain, sequentialBytesPerSecond: null });
    expect(nothing.verdict.verdict).not.toBe('holds');
  });

  it('is proven with all others of its workload by one ladder', () => {
    const loads = [
      load('Open: 20 MB in 4 KiB x1, within 1 min'),
      load('Level: 800 MB in 64 KiB x4, within 1 min'),
      load(
        'Build: 2 GB in 1 MiB x8, within 5 min',
        'Link: 500 MB in 256 KiB x2',
        'Run: 1 MB in 16 KiB x1, every 500 ms for 1 min',
      ),
    ];
    const footage = readFootage({ ...NEW_FOOTAGE, texts: { ...NEW_FOOTAGE.texts, format: '20 MB/s' } }, 'take').item!;
    const judgedBy = (requests: RequestSupply) =>
      judgeWorkload({ ...NO_WORKLOAD, items: [...loads, footage] }, onDrive(requests), DEFAULT_POLICY, null).items;
    const [runs, others] = [judgedBy(ladderSupply(DRIVE, { rungs: [] })), judgedBy(ladderSupply(DRIVE))].map((items) =>
      items.map(({ verdict }) => verdict.wouldProve),
    );
    const ladder = runs![0]!.ladder!;
    expect(ladder).toEqual({
      blocks: [4096, 16_384, 65_536, 262_144, 1_048_576],
      depths: [1, 2, 4, 8],
      loads: 3,
    });
    expect(runs!.slice(0, 3).map((one) => one?.ladder)).toEqual([ladder, ladder, ladder]);
    expect(runs![3]).toEqual(others![3]);
    expect(runs![3]?.ladder).toBeUndefined();
    expect(provingWords(runs![0]!)).toMatch(/That measures what 3 loads of the workload ask for\.$/);
    // It is all that any of them lacks, and they come to what arithmetic says.
    const after = judgedBy(ladderSupply(DRIVE, {}, ladder));
    expect(after.slice(0, 3).map(({ verdict }) => verdict.verdict)).toEqual(['holds', 'holds', 'holds']);
    const own = (bytes: number, block: number, depth: number) => bytes / trueRate(DRIVE, block, depth);
    const seconds = [own(20e6, 4096, 1), own(800e6, 65_536, 4), own(2e9, 1_048_576, 8) + own(5e8, 262_144, 2)];
    seconds.forEach((truth, at) =>
      expect(loadTimes(loads[at]!, ladderSupply(DRIVE, {}, ladder))!.totalSeconds).toBeCloseTo(truth, 6),
    );
    // One alone says nothing of others.
    expect(judged(loads[1]!, ladderSupply(DRIVE, { rungs: [] })).verdict.wouldProve?.ladder).toMatchObject({
      loads: 1,
    });
  });

  it('is not told to break by a ladder of larger requests or of more at a time than it makes', () => {
    const whole = ladderSupply(DRIVE);
    const large = {
      ...whole,
      rungs: whole.rungs.filter(({ blockBytes, depth }) => blockBytes >= 2 ** 20 && depth > 1),
    };
    const seconds = 20e6 / trueRate(DRIVE, 4096, 1);
    const small = load(`Open: 20 MB in 4 KiB x1, within ${2 * seconds} s`);
    expect(judged(small, whole).verdict.verdict).toBe('holds');
    const { verdict, sentence } = judged(small, large);
    expect(verdict).toMatchObject({ verdict: 'not-proven', reason: 'requests-unknown' });
    expect(verdict.wouldProve?.ladder).toEqual({ blocks: [4096], depths: [1], loads: 1 });
    expect(sentence).toMatch(/its own were not measured: a Block ladder shows them/);
    // What it measured it may still break.
    expect(judged(load('Open: 2 GB in 1 MiB x8, within 1 s'), large).verdict.verdict).toBe('breaks');
  });

  it('breaks where it does not fit', () => {
    const item = { ...level('1 h'), installBytes: 50e9 };
    expect(judged(item, ladderSupply(DRIVE), 40e9)).toMatchObject({
      verdict: { verdict: 'breaks', reason: 'full' },
      short: 'Does not fit',
    });
    expect(judged(item, ladderSupply(DRIVE), 60e9).verdict.verdict).toBe('holds');
  });
});

describe('what streams in, and what has no limit', () => {
  it('cannot keep up where a chunk takes longer than the next is apart, however long it may take', () => {
    const slow = ladderSupply({ requestSeconds: 1e-5, bytesPerSecond: 100e6, parallel: 8 });
    const item = load('Run: 100 MB in 1 MiB x4, every 500 ms for 10 min, within 2 s');
    const { verdict, sentence } = judged(item, slow);
    expect(verdict).toMatchObject({ verdict: 'breaks', reason: 'over-limit' });
    expect(sentence).toMatch(/cannot keep up: a chunk takes 1(\.0\d*)? s, and one is wanted every 0?\.?5/);
    // What it asks of a drive is what keeps up, not what its patience allows.
    expect(demandsOf(item)[0]!.bytesPerSecond).toBeCloseTo(200e6, -5);
  });

  it('gives a chunk smaller than a request no time beyond its deadline', () => {
    const drive = ladderSupply({ requestSeconds: 0.02, bytesPerSecond: 1e9, parallel: 1 });
    const small = load('Run: 4 kB in 4 MiB x1, every 500 ms for 10 min, within 10 ms');
    const times = loadTimes(small, drive)!.phases[0]!.stream!;
    expect(times.stuttersPerMinute).toBeLessThanOrEqual(120);
    const patient = loadTimes(load('Run: 4 kB in 4 MiB x1, every 500 ms for 10 min, within 400 ms'), drive)!;
    expect(times.stuttersPerMinute).toBeGreaterThanOrEqual(patient.phases[0]!.stream!.stuttersPerMinute);
  });

  it('is not called to hold without a limit to hold against', () => {
    const { verdict, sentence, short } = judged(load('Level: 3 s processor, 800 MB in 64 KiB x4'), ladderSupply(DRIVE));
    expect(verdict).toMatchObject({ verdict: 'not-proven', reason: 'no-limit' });
    expect(sentence).toMatch(/^Loads in .* No limit is given to hold that against\.$/);
    expect(short).toMatch(/no limit given$/);
  });
});

describe('the least that will do', () => {
  it('is the slowest class and network on which every phase stays within its limit', () => {
    expect(leastDriveClass(load('Copy: 4 GB in 4 MiB x4, within 1 min'))).toBe('a memory card');
    expect(leastDriveClass(load('Open: 40 MB in 4 KiB x1, within 2 s'))).toBe('flash on SATA');
    expect(leastDriveClass(load('Open: 9 s processor, within 5 s'))).toBeNull();
    // 1 GB in 10 s is 100 MB/s, which 1 Gb/s carries; in 5 s it takes 2.5 Gb/s.
    expect(leastLink(load('Copy: 1 GB in 4 MiB x8, within 10 s'))).toBe('Ethernet 1 Gb/s');
    expect(leastLink(load('Copy: 1 GB in 4 MiB x8, within 5 s'))).toBe('Ethernet 2.5 Gb/s');
  });

  it('sorts a library into what may live there and what should stay', () => {
    const small = { ...load('Small: 10 MB, within 5 s'), installBytes: 4e9 };
    const large = { ...load('Large: 900 GB in 64 KiB x1, within 5 s'), installBytes: 30e9 };
    const other = { ...load('Other: 20 MB, within 5 s'), installBytes: 8e9 };
    const all = libraryOnDrive([small, large, other], onDrive(ladderSupply(DRIVE)), DEFAULT_POLICY, null);
    expect(all).toMatchObject({ may: [small, other], stay: [large], bytes: 12e9 });
    const tight = libraryOnDrive([small, large, other], onDrive(ladderSupply(DRIVE)), DEFAULT_POLICY, 10e9);
    expect(tight).toMatchObject({ may: [small], bytes: 4e9 });
    expect(parsePhase('Small: 10 MB, within 5 s').limitSeconds).toBe(5);
  });
});

describe('loads as their people think', () => {
  it('that write wait for it at the rate of long writing, and are open where that is not known', () => {
    const item = load('Bake: 2 s processor, 629 MB written, within 10 s');
    const supply = ladderSupply(DRIVE, { writeBytesPerSecond: 100e6 });
    expect(loadTimes(item, supply)!.phases[0]).toMatchObject({ totalSeconds: 2 + 6.29, isMeasured: true });
    const unknown = judged(item, ladderSupply(DRIVE));
    expect(unknown).toMatchObject({
      verdict: { verdict: 'not-proven', wouldProve: { recipe: 'long-fill', bytes: 629e6 } },
    });
    expect(unknown.sentence).toMatch(/It writes 629.MB, and how fast this drive writes was not measured/);
    expect(parsePhase(phaseLine(item.phases[0]!))).toEqual(item.phases[0]);
    // Nothing is read: what is known of reading has no part in it.
    expect(loadTimes(item, { ...supply, rungs: [], sequentialBytesPerSecond: null })!.totalSeconds).toBeCloseTo(
      8.29,
      9,
    );
  });

  it('that stream all the time are a rate', () => {
    const [phase] = load('Open world: 80 MB/s all the time for 20 min').phases;
    expect(phase).toMatchObject({ bytes: 40e6, stream: { everySeconds: 0.5, forSeconds: 1200 } });
    expect(demandsOf(load('Open world: 80 MB/s all the time'))[0]!.bytesPerSecond).toBeCloseTo(80e6, 0);
  });

  it('say what the processor takes, and from which class on a faster drive saves little', () => {
    const item = load('Level: 20.8 s processor, 200 MB in 1 MiB x4');
    const times = loadTimes(item, ladderSupply(DRIVE))!;
    expect(processorSentence(times)).toMatch(/^The processor takes 20\.8.s of the 21.s; 200.ms wait for the drive\.$/);
    // 200 MB take 2.2 s of a card and 1.0 s more than nothing of a spinning drive with its seeks; on SATA 0.4 s.
    expect(enoughSentence(item)).toMatch(/^From flash on SATA on, 21\.2.s, a faster drive saves under a second\.$/);
    expect(processorSentence(loadTimes(load('Run: 1 MB, every 500 ms for 10 min'), ladderSupply(DRIVE))!)).toBeNull();
  });

  it('of which no run tells stay open in a library, and are not sent away', () => {
    const small = load('Small: 10 MB, within 5 s');
    const large = load('Large: 900 GB in 64 KiB x1, within 5 s');
    const plain = onDrive(ladderSupply(DRIVE, { rungs: [] }));
    expect(libraryOnDrive([small, large], plain, DEFAULT_POLICY, null)).toMatchObject({
      may: [],
      open: [small],
      stay: [large],
    });
  });
});
