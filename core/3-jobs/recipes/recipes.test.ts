import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { blockLadderOptionsSchema, rungsOf } from '#core/3-jobs/recipes/block-ladder.ts';
import { scatterSizes, fileScatterOptionsSchema } from '#core/3-jobs/recipes/file-scatter.ts';
import { normalQuantile } from '#core/3-jobs/recipes/file-sizes.ts';
import { optionTexts, readOptions } from '#core/3-jobs/recipes/read-options.ts';
import { RECIPE_KINDS, checkOptions, recipeKindById } from '#core/3-jobs/recipes/registry.ts';
import { parseStream, streamLine, streamsBytesPerSecond } from '#core/2-trade/media/frame-stream.ts';
import { streamsOfWorkload } from '#core/3-jobs/demand/footage/footage-streams.ts';
import { DEMO_WORKLOADS } from '#demo/workloads.ts';

const KNOWLEDGE = { writeBytesPerSecond: 500e6, readBytesPerSecond: 1000e6, roomBytes: 100e9 };

describe('options as texts', () => {
  it.each(RECIPE_KINDS.map((kind) => kind.id))('of %s come back as they were', (id) => {
    const kind = recipeKindById(id);
    const options = checkOptions(kind, undefined);
    expect(readOptions(kind, optionTexts(kind, options))).toEqual({ options, errors: {} });
  });

  it('of any amounts and times come back exactly', () => {
    const kind = recipeKindById('long-fill');
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 1e15 }),
        fc.integer({ min: 1, max: 36_000 }).map((tenths) => tenths / 10),
        (amountBytes, flushEverySeconds) => {
          const options = checkOptions(kind, { amountBytes, flushEverySeconds });
          expect(readOptions(kind, optionTexts(kind, options)).options).toEqual(options);
        },
      ),
    );
  });

  it('name every fault at its option', () => {
    const kind = recipeKindById('short-passes');
    const { options, errors } = readOptions(kind, {
      passes: 'many',
      sizeBytes: '10 gb',
      blockBytes: '3 MiB',
      depth: '99',
    });
    expect(options).toBeNull();
    expect(errors).toMatchObject({
      passes: expect.stringMatching(/“many” is not a whole number/) as string,
      sizeBytes: expect.stringMatching(/bytes or bits/) as string,
      blockBytes: expect.stringMatching(/power of two/) as string,
      depth: expect.stringMatching(/1 to 32/) as string,
    });
  });

  it('empty where that means something are null', () => {
    expect(readOptions(recipeKindById('short-passes'), { passes: '', sizeBytes: '' }).options).toMatchObject({
      passes: null,
      sizeBytes: null,
    });
    expect(readOptions(recipeKindById('short-passes'), { depth: '' }).errors).toHaveProperty('depth');
  });
});

describe('what a run takes', () => {
  it('is told before it starts', () => {
    const cost = (id: string, options: object) => {
      const kind = recipeKindById(id);
      return kind.cost(checkOptions(kind, options), KNOWLEDGE);
    };
    expect(cost('long-fill', { amountBytes: 50e9, readBack: true, restSeconds: [60] })).toEqual({
      writtenBytes: 50e9,
      readBytes: 50e9,
      spaceBytes: 50e9,
      seconds: 100 + 50 + 60,
    });
    expect(cost('long-fill', {})).toMatchObject({ writtenBytes: 100e9, seconds: 200 });
    expect(cost('existing-material', { amountBytes: 10e9, passes: 2 })).toMatchObject({
      writtenBytes: 0,
      spaceBytes: 0,
      seconds: 20,
    });
    expect(cost('short-passes', { passes: null })).toMatchObject({ seconds: null });
    expect(cost('short-passes', { passes: 4, seconds: 3 })).toMatchObject({ seconds: 24 });
    expect(cost('paced-frames', { seconds: 10 })).toMatchObject({ seconds: 10, writtenBytes: 7_286_784 * 250 });
  });

  it.each(RECIPE_KINDS.map((kind) => [kind.id, kind] as const))('%s says it in a line', (_id, kind) => {
    expect(kind.summary(checkOptions(kind, undefined)).length).toBeGreaterThan(10);
    expect(kind.purpose).toMatch(/\.$/);
  });
});

describe('streams of frames', () => {
  it.each([
    ['record 3840x2160 vc3-444 25 x3', { action: 'record', frameBytes: 7_286_784, count: 3, files: 'container' }],
    ['play 4096x2160 dpx-rgb-10 24000/1001 files', { action: 'play', frameBytes: 35_391_488, files: 'sequence' }],
    ['record 12MB 24', { frameBytes: 12e6, name: '12\u202fMB a frame at 24' }],
    ['play 3840x2160 bayer-12 25 ratio 5 # A cam', { frameBytes: 2_488_320, name: 'A cam' }],
    ['record 1920x1080 long-gop 25 mbps 100', { frameBytes: 500_000 }],
  ])('“%s” is read', (line, expected) => {
    expect(parseStream(line)).toMatchObject(expected);
    expect(parseStream(streamLine(parseStream(line)))).toEqual(parseStream(line));
  });

  it.each([
    ['burn 12MB 24', /begin with record or play/],
    ['record 12MB', /frame rate is missing/],
    ['record 12MB 24 fast', /“fast” is not known/],
    ['record 3840x2160 nothing 25', /no layout “nothing”/],
    ['record 12 gb 24', /bytes or bits|not a frame rate/],
    ['record 0MB 24', /at least 1|frameBytes/],
  ])('“%s” is refused with the part at fault', (line, message) => {
    expect(() => parseStream(line)).toThrow(message);
  });

  it('come from a workload with its own rates', () => {
    const [nightShoot] = DEMO_WORKLOADS;
    const streams = streamsOfWorkload(nightShoot!);
    expect(streams).toHaveLength(5);
    expect(streams[0]).toMatchObject({ name: 'Three cameras', count: 3, action: 'record' });
    expect(streamsBytesPerSecond([streams[0]!]) / 546.5e6).toBeCloseTo(1, 2);
    expect(streamsBytesPerSecond(streams, 'play')).toBeLessThan(streamsBytesPerSecond(streams));
  });
});

describe('scattered files', () => {
  const sizes = (distribution: string, found: number[] = []) =>
    scatterSizes(fileScatterOptionsSchema.cast({ distribution, files: 1000 }), found);
  it('have the sizes asked for, the same each time', () => {
    expect(new Set(sizes('even'))).toEqual(new Set([256e3]));
    expect(sizes('project')).toEqual(sizes('project'));
    const project = sizes('project').sort((a, b) => a - b);
    expect(project[500]! / 40e3).toBeCloseTo(1, 1);
    // A few files hold most of the bytes.
    const total = project.reduce((sum, size) => sum + size, 0);
    expect(project.slice(900).reduce((sum, size) => sum + size, 0) / total).toBeGreaterThan(0.6);
  });
  it('take after a folder', () => {
    const found = [1000, 2000, 3000, 500_000];
    const taken = sizes('folder', found);
    expect(new Set(taken)).toEqual(new Set(found));
    expect(taken.filter((size) => size === 2000)).toHaveLength(250);
  });
  it('follow the normal distribution', () => {
    expect(normalQuantile(0.5)).toBeCloseTo(0, 9);
    expect(normalQuantile(0.975)).toBeCloseTo(1.959_964, 5);
    expect(normalQuantile(0.001)).toBeCloseTo(-3.090_232, 5);
  });
});

it('a ladder has every block at every depth, but none that keeps more than 256 MiB under way', () => {
  const rungs = rungsOf(blockLadderOptionsSchema.cast({ depths: [1, 32] }));
  expect(new Set(rungs.map((rung) => rung.rung)).size).toBe(rungs.length);
  expect(Math.max(...rungs.map((rung) => rung.blockBytes * rung.depth))).toBeLessThanOrEqual(256 << 20);
  expect(rungs.filter((rung) => rung.blockBytes === 4096)).toHaveLength(2 * 2 * 2);
});
