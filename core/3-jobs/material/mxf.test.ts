import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { BlobSource, readClip } from '#core/3-jobs/material/read-clip.ts';
import { madeMxf, type MadeMxf } from '#core/testing/made-mxf.ts';

const read = (bytes: Uint8Array<ArrayBuffer>, name = 'A001.mxf') => readClip(new BlobSource(new Blob([bytes])), name);
const said = (bytes: Uint8Array<ArrayBuffer>) =>
  read(bytes).then(
    (clip) => `read ${clip.rates.frames}`,
    (error: Error) => error.message,
  );

describe('an MXF file', () => {
  const whole: fc.Arbitrary<Partial<MadeMxf>> = fc.record({
    picture: fc.array(fc.integer({ min: 50, max: 3000 }), { minLength: 2, maxLength: 30 }),
    sound: fc.integer({ min: 0, max: 300 }),
    index: fc.constantFrom('entries' as const, 'none' as const),
    unitsPerPartition: fc.option(fc.integer({ min: 1, max: 8 })),
    hasRandomIndex: fc.boolean(),
    runIn: fc.constantFrom(0, 3, 5000),
  });
  it('gives each edit unit its bytes, wherever its index and its partitions stand', async () => {
    await fc.assert(
      fc.asyncProperty(whole, async (made) => {
        const { bytes, unitBytes } = madeMxf(made);
        const clip = await read(bytes);
        const sizes = clip.frames.map((frame) => frame.bytes);
        // Partition packs that stand between units are no part of them.
        expect(sizes).toEqual(unitBytes);
        expect(clip.rates.durationSeconds).toBeCloseTo(unitBytes.length / 25, 9);
      }),
      { numRuns: 60 },
    );
  });

  it('tells its rate, raster and coding', async () => {
    const { bytes, unitBytes } = madeMxf({ picture: new Array<number>(60).fill(8000), editRate: [30000, 1001] });
    const clip = await read(bytes);
    expect(clip.description).toBe('AVC 1920×1080, MXF');
    expect(clip.rates.frameRate).toEqual({ numerator: 30000, denominator: 1001 });
    // 8,000 bytes of picture and 400 of sound with 20 bytes of key and length each, 29.97 times a second.
    expect(unitBytes[0]).toBe(8440);
    expect(clip.rates.bytesPerSecond).toBeCloseTo((8440 * 30000) / 1001, 3);
  });

  it('of constant units is read by their number', async () => {
    const { bytes } = madeMxf({ picture: new Array<number>(50).fill(5000), index: 'constant' });
    expect((await read(bytes)).frames.map((frame) => frame.bytes)).toEqual(new Array<number>(50).fill(5440));
  });

  it('that holds all in one element without an index is parted evenly', async () => {
    const { bytes, unitBytes } = madeMxf({ picture: [1000, 3000, 2000], index: 'none', clipWrapped: true });
    const sizes = (await read(bytes)).frames.map((frame) => frame.bytes);
    expect(sizes).toEqual(new Array(3).fill((unitBytes.reduce((sum, size) => sum + size, 0) + 20) / 3));
  });

  it('that cannot be read says why', async () => {
    expect(await said(madeMxf({ bodySids: 2 }).bytes)).toMatch(/several essence containers/);
    expect(await said(madeMxf({ bodySids: 0 }).bytes)).toMatch(/without essence in it/);
    const { bytes } = madeMxf({ picture: new Array<number>(40).fill(2000) });
    for (const share of [0.005, 0.01, 0.2, 0.5, 0.99]) {
      // What was cut off has lost its list of partitions and its index: what is there is read, or it says what is missing.
      expect(await said(bytes.slice(0, Math.floor(bytes.length * share)))).toMatch(
        /^(read \d+|A001\.mxf: (is an MXF file|is no clip|is broken))/,
      );
    }
  });

  it('with any byte changed is read or refused in words, never for ever', async () => {
    const { bytes } = madeMxf({ picture: [300, 200, 400, 100], unitsPerPartition: 2 });
    const change = fc.tuple(fc.nat(bytes.length - 1), fc.nat(255));
    await fc.assert(
      fc.asyncProperty(fc.array(change, { minLength: 1, maxLength: 6 }), async (changes) => {
        const changed = bytes.slice();
        for (const [at, value] of changes) changed[at] = value;
        expect(await said(changed)).toMatch(/^(read \d+|A001\.mxf: )/);
      }),
      { numRuns: 300 },
    );
  });
});
