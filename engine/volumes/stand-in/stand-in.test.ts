import { describe, expect, it } from 'vitest';
import type { RunDocument } from '#core/run/run-document.ts';
import { applyRunEvent } from '#core/run/run-events.ts';
import { summaryOf } from '#core/supply/run-summary.ts';
import { passesOf } from '#core/trace/passes.ts';
import { checkOptions, recipeById } from '#engine/recipes/registry.ts';
import { carryOutRun, checkRun, openRunDocument, type RunRequest } from '#engine/run/runner.ts';
import { STAND_INS } from '#engine/volumes/stand-in/catalogue.ts';
import { createDevice } from '#engine/volumes/stand-in/device.ts';
import { standInVolume } from '#engine/volumes/stand-in/stand-in-volume.ts';

function requestOn(standInId: string, options: object, seed = 1): RunRequest {
  const standIn = STAND_INS.find((one) => one.id === standInId)!;
  const recipe = recipeById('short-passes');
  return {
    runId: `test-${standInId}-${seed}`,
    volume: standInVolume(standIn, { speed: Infinity, seed }),
    folder: '',
    recipe,
    options: checkOptions(recipe, options),
  };
}

async function carryOut(request: RunRequest, signal = new AbortController().signal): Promise<RunDocument> {
  const { info } = request.volume;
  const drive = { id: 'd', label: info.label, medium: info.medium, identity: info.identity };
  const run = openRunDocument(
    request,
    drive,
    { restSeconds: null, writtenLastHourBytes: null },
    'running',
    '2026-03-02T09:00:00.000Z',
  );
  await carryOutRun(
    request,
    (event) => applyRunEvent(run, event),
    () => undefined,
    signal,
  );
  return run;
}

describe('short passes on stand-ins of known truth', () => {
  it('find the level, take about the time asked for, and verify what they read', async () => {
    for (const seed of [1, 2, 3]) {
      const run = await carryOut(requestOn('petrel-2t', { passes: 6, seconds: 2 }, seed));
      const { write, read } = summaryOf(run).figures;
      expect(run.state).toBe('finished');
      expect(write!.medianBytesPerSecond / 5200e6).toBeCloseTo(1, 1);
      expect(read!.medianBytesPerSecond / 6600e6).toBeCloseTo(1, 1);
      expect(write!.seconds / write!.passes).toBeGreaterThan(1.7);
      expect(write!.seconds / write!.passes).toBeLessThan(2.4);
      expect(run.conditions.verification.checkedBytes).toBe(read!.bytes);
    }
  });

  it('show the cache running out where it does', async () => {
    const run = await carryOut(requestOn('petrel-2t', { passes: 1, sizeBytes: 300e9 }));
    const pass = passesOf(run).find((one) => one.direction === 'write')!;
    const fallen = pass.intervals.find((interval) => interval.bytesPerSecond < 0.5 * 5200e6)!;
    expect((fallen.fromBytes - pass.intervals[0]!.fromBytes) / 190e9).toBeCloseTo(1, 2);
    expect(pass.intervals.at(-5)!.bytesPerSecond / 1450e6).toBeCloseTo(1, 0);
  });

  it('wait for a drive that spins up, and say so', async () => {
    const run = await carryOut(requestOn('anchor-16t', { passes: 3 }));
    const { figures, doubts } = summaryOf(run);
    expect(figures.write!.spinUpSeconds).toBeCloseTo(7, 1);
    expect(doubts.map((doubt) => doubt.code)).toContain('spin-up');
    // Thirty per cent of the way from the outer to the inner tracks.
    expect(figures.write!.medianBytesPerSecond / (266e6 - 0.3 * (266e6 - 124e6))).toBeCloseTo(1, 1);
  });

  it('are the same for a seed and differ between seeds', async () => {
    const [first, again, other] = await Promise.all(
      [7, 7, 8]
        .map((seed) => carryOut(requestOn('anchor-16t', { passes: 2 }, seed)))
        .map(async (run) => (await run).samples),
    );
    expect(again).toEqual(first);
    expect(other).not.toEqual(first);
  });

  it('go on until stopped, and keep what they measured', async () => {
    const abort = new AbortController();
    const request = requestOn('petrel-2t', { passes: null });
    const running = carryOut(request, abort.signal);
    setTimeout(() => abort.abort(), 50);
    const run = await running;
    expect(run.state).toBe('stopped');
    expect(run.samples.atSeconds.length).toBeGreaterThan(0);
  });

  it('refuse a pass that does not fit before anything is done', async () => {
    await expect(checkRun(requestOn('petrel-2t', { sizeBytes: 1.5e12 }))).rejects.toThrow(
      /A pass of 1\.5.TB does not fit: 1\.43.TB can be used/,
    );
    await expect(checkRun(requestOn('petrel-2t', { sizeBytes: 1.4e12 }))).resolves.toBeUndefined();
  });
});

describe('options', () => {
  it.each([
    [{ passes: 0 }, /passes: must be a whole number/],
    [{ passes: '3' }, /passes/],
    [{ sizeBytes: -1 }, /size: must be more than 0/],
    [{ blockBytes: 3 << 20 }, /power of two/],
    [{ depth: 33 }, /depth/],
    [{ colour: 'red' }, /colour/],
    [[], /must be an object/],
  ])('%j are refused', (options, message) => {
    expect(() => checkOptions(recipeById('short-passes'), options)).toThrow(message);
  });
});

describe('the simulated device', () => {
  const { model } = STAND_INS[0]!;

  it('gives back its cache while it rests', () => {
    const device = createDevice({ ...model, noise: 0 }, 1);
    const rate = () => {
      const { bytes, seconds } = device.transfer('write', 0, 1e9, 1);
      return bytes / seconds;
    };
    device.transfer('write', 0, 190e9, 1e6);
    expect(rate()).toBeCloseTo(1450e6, -3);
    device.rest(60);
    expect(rate()).toBeCloseTo(5200e6, -3);
  });

  it('warms towards what its load makes of it', () => {
    const device = createDevice({ ...model, noise: 0, cache: null }, 1);
    device.transfer('write', 0, 1e15, 70);
    const goal = 34 + 36 * (5200 / 6600);
    expect(device.temperatureCelsius).toBeCloseTo(goal - (goal - 34) / Math.E, 6);
  });
});
