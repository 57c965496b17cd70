import { describe, expect, it } from 'vitest';
import { blockLadderOptionsSchema, rungsOf } from '#core/3-jobs/recipes/block-ladder.ts';
import { RECIPE_KINDS, checkOptions } from '#core/3-jobs/recipes/registry.ts';
import { recipeKindById } from '#core/3-jobs/recipes/registry.ts';
import { runDocumentSchema, type RunDocument } from '#core/4-runs/run/run-document.ts';
import { FAULT_KINDS } from '#core/4-runs/stand-ins/faults.ts';
import { summaryOf } from '#core/4-runs/supply/run-summary.ts';
import { passesOf } from '#core/4-runs/trace/passes.ts';
import { checkRun } from '#engine/run/runner.ts';
import { simulateRun, simulationRequest, type Simulation } from '#engine/run/simulate.ts';
import { STAND_INS, type StandIn } from '#engine/volumes/stand-in/catalogue.ts';
import { createDevice, type Load } from '#engine/volumes/stand-in/device.ts';
import { createPauseSwitch } from '#engine/volumes/volume.ts';

const passesOn = (standIn: string, options: object, seed = 1): Simulation => ({
  standIn,
  recipeId: 'short-passes',
  options,
  seed,
});
const petrel = STAND_INS[0]!;
/** Petrel without noise and heat: what is measured is then known to the last digit. */
const calm: StandIn = {
  ...petrel,
  model: { ...petrel.model, noise: 0, thermal: { ...petrel.model.thermal, throttle: null } },
};
const figures = (run: RunDocument) => summaryOf(run).figures;
const codes = (run: RunDocument) => summaryOf(run).doubts.map((doubt) => doubt.code);

describe('every recipe on every stand-in', () => {
  it.each(STAND_INS.map((standIn) => standIn.id))('%s', async (standIn) => {
    for (const { id } of RECIPE_KINDS) {
      const options = {
        'short-passes': { passes: 2 },
        'long-fill': { amountBytes: 20e9, readBack: true },
        'paced-frames': { seconds: 5 },
        'block-ladder': { blocks: [4096, 1 << 20], depths: [1, 8], seconds: 0.3 },
        'file-scatter': { files: 200 },
        'existing-material': { amountBytes: 5e9 },
        copy: { bytes: 4e9, files: 6 },
      }[id];
      const targets = id === 'copy' ? ['petrel-2t', 'spray'] : [];
      const run = await simulateRun({ standIn, recipeId: id, options, targets });
      expect(run, `${id} ${run.failure?.detail}`).toMatchObject({ state: 'finished', failure: null });
      expect(runDocumentSchema.isValidSync(JSON.parse(JSON.stringify(run)))).toBe(true);
      const said = figures(run);
      expect(
        said.read ?? said.ladder ?? said.frames ?? said.files ?? said.phases ?? said.copies ?? said.write,
        id,
      ).not.toBeNull();
    }
  });
});

describe('short passes on stand-ins of known truth', () => {
  it('find the level, take about the time asked for, and verify what they read', async () => {
    for (const seed of [1, 2, 3]) {
      const run = await simulateRun(passesOn('petrel-2t', { passes: 6, seconds: 2 }, seed));
      const { write, read } = figures(run);
      expect(run.state).toBe('finished');
      expect(write!.medianBytesPerSecond / 5200e6).toBeCloseTo(1, 1);
      expect(read!.medianBytesPerSecond / 6600e6).toBeCloseTo(1, 1);
      expect(write!.seconds / write!.passes).toBeGreaterThan(1.7);
      expect(write!.seconds / write!.passes).toBeLessThan(2.4);
      expect(run.conditions.verification.checkedBytes).toBe(read!.bytes);
    }
  });

  it('go one way only when asked to, and write before they read', async () => {
    const writing = await simulateRun(passesOn('petrel-2t', { passes: 3, direction: 'write' }));
    expect(figures(writing)).toMatchObject({ write: { passes: 3 }, read: null });
    const reading = await simulateRun(passesOn('petrel-2t', { passes: 3, direction: 'read' }));
    expect(figures(reading)).toMatchObject({ write: null, read: { passes: 3 } });
    expect(passesOf(reading).map((pass) => pass.phase)).toContain('laying-out');
  });

  it('wait for a drive that spins up, and say so', async () => {
    const run = await simulateRun(passesOn('anchor-16t', { passes: 3 }));
    expect(figures(run).write!.spinUpSeconds).toBeCloseTo(7, 1);
    expect(codes(run)).toContain('spin-up');
    // Thirty per cent of the way from the outer to the inner tracks.
    expect(figures(run).write!.medianBytesPerSecond / (266e6 - 0.3 * (266e6 - 124e6))).toBeCloseTo(1, 1);
  });

  it('are the same for a seed and differ between seeds', async () => {
    const [first, again, other] = await Promise.all(
      [7, 7, 8].map(async (seed) => (await simulateRun(passesOn('anchor-16t', { passes: 2 }, seed))).samples),
    );
    expect(again).toEqual(first);
    expect(other).not.toEqual(first);
  });

  it('go on until stopped, and keep what they measured', async () => {
    const abort = new AbortController();
    const control = { signal: abort.signal, pause: createPauseSwitch() };
    const running = simulateRun({ ...passesOn('petrel-2t', { passes: null }), control });
    setTimeout(() => abort.abort(), 50);
    const run = await running;
    expect(run.state).toBe('stopped');
    expect(run.samples.atSeconds.length).toBeGreaterThan(0);
  });

  it('refuse a pass that does not fit before anything is done', async () => {
    await expect(checkRun(simulationRequest(passesOn('petrel-2t', { sizeBytes: 1.5e12 })))).rejects.toThrow(
      /A pass takes 1\.5.TB, which does not fit: 1\.43.TB can be used/,
    );
    await expect(checkRun(simulationRequest(passesOn('petrel-2t', { sizeBytes: 1.4e12 })))).resolves.toBeDefined();
  });
});

describe('a long fill', () => {
  it('finds knee, opening and floor, and ends a minute after the knee', async () => {
    const run = await simulateRun({ standIn: 'petrel-2t', recipeId: 'long-fill', seed: 5 });
    const reading = figures(run).write!.reading!;
    expect(reading.kneeBytes! / 190e9).toBeCloseTo(1, 2);
    expect(reading.openingBytesPerSecond! / 5200e6).toBeCloseTo(1, 1);
    expect(reading.floorBytesPerSecond! / 1450e6).toBeCloseTo(1, 1);
    expect(reading.floorSeconds).toBeGreaterThan(59);
    expect(reading.floorSeconds).toBeLessThan(75);
  });

  it('of a swinging floor gives what it sustains and between what it swings', async () => {
    const options = { amountBytes: 120e9, untilFloor: false };
    const run = await simulateRun({ standIn: 'limpet-1t', recipeId: 'long-fill', options });
    const reading = figures(run).write!.reading!;
    expect(reading.kneeBytes! / 46e9).toBeCloseTo(1, 1);
    // 36 % of each period at 640 MB/s, the rest at 90.
    expect(reading.floorBytesPerSecond! / (0.36 * 640e6 + 0.64 * 90e6)).toBeCloseTo(1, 1);
    expect(reading.sawtooth!.periodSeconds).toBeCloseTo(7, 0);
  });

  it('finds a cache that shrinks with the free space where the two meet', async () => {
    const run = await simulateRun({ standIn: 'skerry-512', recipeId: 'long-fill' });
    // x = 28 % of (148 GB − x).
    expect(figures(run).write!.reading!.kneeBytes! / ((0.28 * 148e9) / 1.28)).toBeCloseTo(1, 1);
  });

  it('slopes on a spinning drive, which has neither knee nor recovery', async () => {
    const disc = STAND_INS.find((one) => one.id === 'anchor-16t')!;
    const small = { ...disc, model: { ...disc.model, totalBytes: 400e9, freeBytes: 400e9 } };
    const run = await simulateRun({ standIn: small, recipeId: 'long-fill', options: { restSeconds: [60] } });
    const { write, recovery } = figures(run);
    expect(write!.reading).toMatchObject({ kneeBytes: null });
    expect(write!.reading!.slope!.startBytesPerSecond / 266e6).toBeCloseTo(1, 1);
    expect(write!.reading!.slope!.endBytesPerSecond / 126e6).toBeCloseTo(1, 1);
    expect(recovery).toBeNull();
  });

  it('tells how much cache a rest regains', async () => {
    const options = { restSeconds: [60, 300] };
    const run = await simulateRun({ standIn: calm, recipeId: 'long-fill', options });
    const [minute, five] = figures(run).recovery!;
    // It folds 600 MB a second, beginning after three seconds of rest; five minutes empty more than half.
    expect(minute!.restSeconds).toBeCloseTo(60, 6);
    expect(minute!.atLeast).toBe(false);
    expect(minute!.regainedBytes / (57 * 600e6)).toBeCloseTo(1, 1);
    expect(five!.regainedBytes / (297 * 600e6)).toBeCloseTo(1, 1);
  });

  it('held on the way is no stall: the pause is a part of the record and not of the rate', async () => {
    const pause = createPauseSwitch();
    const control = { signal: new AbortController().signal, pause };
    const going = simulateRun({ standIn: calm, recipeId: 'long-fill', options: { amountBytes: 150e9 }, control });
    pause.set(true);
    setTimeout(() => pause.set(false), 150);
    const run = await going;
    const held = run.markers.filter((marker) => marker.kind === 'pause');
    expect(held).toHaveLength(1);
    expect(held[0]!.seconds).toBeGreaterThan(0.1);
    const [pass] = passesOf(run);
    expect(pass!.transferSeconds).toBeCloseTo(150e9 / 5200e6, 1);
    expect(figures(run).write!.worstSecondBytesPerSecond! / 5200e6).toBeCloseTo(1, 2);
  });

  it('finds heat on a drive that throttles', async () => {
    const options = { amountBytes: 900e9, untilFloor: false };
    const hot = await simulateRun({ standIn: 'petrel-2t', recipeId: 'long-fill', options });
    expect(codes(hot)).toContain('heat');
    const cool = await simulateRun({ standIn: calm, recipeId: 'long-fill', options });
    expect(codes(cool)).not.toContain('heat');
  });
});

describe('paced frames', () => {
  const stream = (count: number, action: 'record' | 'play' = 'record') => ({
    name: 'Camera',
    action,
    frameBytes: 40e6,
    frameRate: { numerator: 25, denominator: 1 },
    files: 'container',
    count,
  });
  const on = (options: object, standIn: StandIn = calm) => simulateRun({ standIn, recipeId: 'paced-frames', options });

  it('drop nothing when the drive is faster, and tell the room left in the buffer', async () => {
    const { frames } = figures(await on({ streams: [stream(1)], seconds: 20 }));
    expect(frames).toMatchObject({ frames: 500, late: 0, dropped: 0 });
    // A frame takes 7.7 of its 40 ms: one is in hand at most.
    expect(frames!.streams[0]).toMatchObject({ bufferFrames: 25, lowWaterFrames: 24 });
  });

  it('begin to drop when arithmetic says', async () => {
    // Two streams of 1 GB/s each against a floor of 1.45 GB/s: behind the knee at 190 GB, 0.55 GB/s pile
    // up, until both buffers of one second are full.
    const { frames } = figures(await on({ streams: [stream(2)], seconds: 140 }));
    const knee = 190e9 / (2 * 25 * 40.001536e6);
    const full = (2 * 25 * 40.001536e6) / (2 * 25 * 40.001536e6 - 1450e6);
    const first = Math.min(...frames!.streams.map((one) => one.firstDroppedSeconds!));
    expect(first).toBeGreaterThan(knee + full - 0.2);
    expect(first).toBeLessThan(knee + full + 0.2);
    expect(frames!.streams[0]!.lowWaterFrames).toBe(0);
    // From then on as many are lost as do not fit.
    const lost = frames!.dropped / ((140 - first) * 50);
    expect(lost).toBeCloseTo(1 - 1450e6 / (2 * 25 * 40.001536e6), 1);
  });

  it('played too fast for the drive are shown late, then passed over', async () => {
    const { frames } = figures(await on({ streams: [stream(8, 'play')], seconds: 10 }));
    // 8 GB/s asked, 6.6 GB/s there.
    expect(frames!.dropped / frames!.frames).toBeGreaterThan(0.05);
    expect(frames!.dropped / frames!.frames).toBeLessThan(0.2);
    expect(frames!.streams.every((one) => one.lowWaterFrames === 0)).toBe(true);
  });

  it('count padding apart', async () => {
    const { frames } = figures(await on({ streams: [{ ...stream(1), frameBytes: 1000 }], seconds: 2 }));
    expect(frames!.streams[0]!.paddingBytes).toBe(50 * (4096 - 1000));
  });
});

describe('a block ladder', () => {
  it('measures every rung, and its rates follow from the time of a request', async () => {
    const run = await simulateRun({ standIn: calm, recipeId: 'block-ladder' });
    const ladder = figures(run).ladder!;
    expect(ladder).toHaveLength(rungsOf(blockLadderOptionsSchema.getDefault()).length);
    const rung = (direction: string, order: string, blockBytes: number, depth: number) =>
      ladder.find(
        (one) =>
          one.direction === direction && one.order === order && one.blockBytes === blockBytes && one.depth === depth,
      )!;
    // 68 µs a request and its bytes at 6.6 GB/s.
    expect(rung('read', 'random', 4096, 1).operationsPerSecond * (68e-6 + 4096 / 6600e6)).toBeCloseTo(1, 2);
    expect(
      rung('read', 'random', 4096, 4).operationsPerSecond / rung('read', 'random', 4096, 1).operationsPerSecond,
    ).toBeCloseTo(4, 1);
    expect(rung('write', 'sequential', 16 << 20, 4).bytesPerSecond / 5200e6).toBeCloseTo(1, 1);
    expect(rung('read', 'random', 4096, 1).latencyP50Seconds! / 68e-6).toBeCloseTo(1, 0);
  });

  it('of a spinning drive falls from its seeks', async () => {
    const run = await simulateRun({ standIn: 'anchor-16t', recipeId: 'block-ladder' });
    const ladder = figures(run).ladder!.filter((one) => one.blockBytes === 4096 && one.depth === 1);
    const random = ladder.find((one) => one.order === 'random' && one.direction === 'read')!;
    expect(random.operationsPerSecond * 12.2e-3).toBeCloseTo(1, 1);
  });
});

describe('a file scatter', () => {
  it('tells what a file costs beside its bytes', async () => {
    const run = await simulateRun({ standIn: 'jetty-4', recipeId: 'file-scatter', options: { files: 1500 } });
    const [create, read, list, remove] = figures(run).files!;
    expect([create, read, list, remove].map((one) => one!.action)).toEqual(['create', 'read', 'list', 'delete']);
    expect(create!.costSeconds).toBeGreaterThan(0.8 * 14e-3);
    expect(create!.costSeconds).toBeLessThan(2.2 * 14e-3);
    expect(list!.files).toBe(1500);
    expect(create!.bytes).toBe(read!.bytes);
    expect(remove!.filesPerSecond).toBeGreaterThan(50);
  });
});

describe('faults of stand-ins', () => {
  const fill = (kind: (typeof FAULT_KINDS)[number], options: object = { amountBytes: 60e9 }) =>
    simulateRun({ standIn: 'petrel-2t', recipeId: 'long-fill', options, faults: [{ kind, at: null }] });

  it.each([
    ['full', /full while writing at 3.GB/],
    ['unplugged', /The drive is gone/],
  ] as const)('%s ends the run with a sentence and keeps what was measured', async (kind, sentence) => {
    const run = await fill(kind);
    expect(run).toMatchObject({ state: 'failed', failure: { code: 'drive-failed' } });
    expect(run.failure!.detail).toMatch(sentence);
    expect(run.samples.cumulativeBytes.at(-1)).toBeGreaterThan(0);
  });

  it('read error ends the reading back at its place', async () => {
    const run = await fill('read-error', { amountBytes: 60e9, readBack: true });
    expect(run.failure!.detail).toMatch(/read error at 256.MB/);
  });

  it('stall is four seconds without a byte', async () => {
    const run = await fill('stall');
    expect(figures(run).write!.worstSecondBytesPerSecond).toBe(0);
    expect(run.state).toBe('finished');
  });

  it.each(['wrong-data', 'falsified-capacity'] as const)('%s makes a run void', async (kind) => {
    const run = await fill(kind, { amountBytes: 60e9, readBack: true });
    expect(summaryOf(run).doubts.find((doubt) => doubt.code === 'wrong-data')).toMatchObject({ effect: 'void' });
  });

  it('falsified capacity says whose data was found there', async () => {
    const run = await fill('falsified-capacity', { amountBytes: 60e9, readBack: true });
    const { foundOffset, fileOffset } = run.conditions.verification.mismatches[0]!;
    expect(foundOffset! - fileOffset).toBe(Math.floor(4e9 / 4096) * 4096);
  });

  it.each([
    ['cached-reads', 'memory-read'],
    ['other-traffic', 'busy-drive'],
    ['one-lane', 'link-downgrade'],
  ] as const)('%s raises %s', async (kind, code) => {
    const clean = await simulateRun(passesOn('petrel-2t', { passes: 6 }));
    expect(codes(clean)).not.toContain(code);
    const run = await simulateRun({ ...passesOn('petrel-2t', { passes: 6 }), faults: [{ kind, at: null }] });
    expect(codes(run)).toContain(code);
  });

  it('hot raises hot-start on a drive that was seen cooler', async () => {
    const simulation = { ...passesOn('petrel-2t', { passes: 6 }), history: { coolestCelsius: 34 } };
    expect(codes(await simulateRun(simulation))).not.toContain('hot-start');
    expect(codes(await simulateRun({ ...simulation, faults: [{ kind: 'hot', at: null }] }))).toContain('hot-start');
  });
});

describe('options', () => {
  it.each([
    ['short-passes', { passes: 0 }, /passes: must be a whole number/],
    ['short-passes', { passes: '3' }, /passes/],
    ['short-passes', { sizeBytes: -1 }, /size: must be more than 0/],
    ['short-passes', { blockBytes: 3 << 20 }, /power of two/],
    ['short-passes', { depth: 33 }, /depth/],
    ['short-passes', { colour: 'red' }, /colour/],
    ['short-passes', [], /must be an object/],
    ['long-fill', { restSeconds: [] }, /recovery: must list/],
    ['long-fill', { restSeconds: [0.1] }, /recovery: 0\.1 is not/],
    ['block-ladder', { blocks: [5000] }, /blocks: 5000 is not/],
    ['block-ladder', { depths: [64] }, /depths: 64 is not/],
    ['paced-frames', { streams: [] }, /streams: name at least one/],
    ['file-scatter', { distribution: 'random' }, /sizes: must be/],
  ])('%s %j are refused', (recipe, options, message) => {
    expect(() => checkOptions(recipeKindById(recipe), options)).toThrow(message);
  });
});

describe('the simulated device', () => {
  const load: Load = { direction: 'write', blockBytes: 8 << 20, depth: 4, order: 'sequential' };
  const write = (device: ReturnType<typeof createDevice>, bytes: number) => {
    let [left, seconds] = [bytes, 0];
    while (left > 0) {
      const did = device.transfer(load, 0, left, 1);
      left -= did.bytes;
      seconds += did.seconds;
    }
    return bytes / seconds;
  };

  it('gives back its cache while it rests', () => {
    const device = createDevice(calm.model, 1);
    write(device, 190e9);
    expect(write(device, 1e9)).toBeCloseTo(1450e6, -3);
    device.rest(60);
    expect(write(device, 1e9)).toBeCloseTo(5200e6, -3);
  });

  it('warms towards what work makes of it', () => {
    const device = createDevice({ ...calm.model, cache: null }, 1);
    write(device, 5200e6 * 140);
    expect(device.temperatureCelsius).toBeCloseTo(86 - 52 / Math.E, 6);
  });
});
