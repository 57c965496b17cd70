import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { BlobSource, readClip } from '#core/3-jobs/material/read-clip.ts';
import { essenceOfMaterial, frameRateNear, materialRates } from '#core/3-jobs/material/sample-rates.ts';
import { missingText, onlySequence, sequenceRates, sequencesOf } from '#core/3-jobs/material/sequence.ts';
import { CONTAINERS, madeClip } from '#core/testing/made-clips.ts';

const AT_25 = { numerator: 25, denominator: 1 };
const blob = (bytes: Uint8Array<ArrayBuffer>) => new BlobSource(new Blob([bytes]));

describe('rates of real material', () => {
  it('are the average, the fullest second and the burst', () => {
    // 25 frames of 100 B, 25 of 300 B, 25 of 100 B: a second at 7,500 B/s among two at 2,500.
    const samples = Array.from({ length: 75 }, (_, index) => ({
      atSeconds: index / 25,
      bytes: index >= 25 && index < 50 ? 300 : 100,
    }));
    const rates = materialRates(samples, 3);
    expect(rates.bytesPerSecond).toBeCloseTo(12_500 / 3, 6);
    expect(rates.peakBytesPerSecond).toBe(7500);
    expect(rates.peakAtSeconds).toBeCloseTo(1, 9);
    // Between the first and the last of the large frames: 25 × 300 B within 24 frames' time.
    expect(rates.burstBytes).toBeCloseTo(7500 - (24 / 25) * rates.bytesPerSecond, 6);
    expect(rates.frameRate).toEqual(AT_25);
  });

  it('do not depend on the order of the samples, and peak and burst bound the average', () => {
    const anySamples = fc.array(fc.integer({ min: 1, max: 1e6 }), { minLength: 2, maxLength: 200 });
    fc.assert(
      fc.property(anySamples, (sizes) => {
        const samples = sizes.map((bytes, index) => ({ atSeconds: index / 25, bytes }));
        const rates = materialRates(samples, sizes.length / 25);
        expect(materialRates([...samples].reverse(), sizes.length / 25)).toEqual(rates);
        expect(rates.peakBytesPerSecond).toBeGreaterThanOrEqual(rates.bytesPerSecond * (1 - 1e-9));
        expect(rates.burstBytes).toBeGreaterThanOrEqual(rates.largestFrameBytes * (1 - 1e-9));
      }),
    );
  });

  it('have the frame rate of the picture, however long the sound beside it lasts', () => {
    const picture = Array.from({ length: 375 }, (_, index) => ({ atSeconds: index / 50, bytes: 1000 }));
    const sound = Array.from({ length: 352 }, (_, index) => ({ atSeconds: index * 0.0213333, bytes: 100 }));
    const rates = materialRates([...picture, ...sound], 7.52, picture);
    expect(rates.frameRate).toEqual({ numerator: 50, denominator: 1 });
    expect(rates.isSoundOnly).toBe(false);
    const alone = materialRates(sound, 7.52, null);
    expect(alone.isSoundOnly).toBe(true);
    expect(essenceOfMaterial('room tone', alone, false)).toMatchObject({ frameRate: undefined });
  });

  it('take a frame rate for the usual one next to it', () => {
    expect(frameRateNear(24)).toEqual({ numerator: 24, denominator: 1 });
    expect(frameRateNear(59.9400599)).toEqual({ numerator: 60000, denominator: 1001 });
    expect(frameRateNear(23.9758)).toEqual({ numerator: 24000, denominator: 1001 });
    expect(frameRateNear(12.5)).toEqual({ numerator: 12500, denominator: 1000 });
    expect(() => materialRates([], 3)).toThrow(/nothing in it/);
  });
});

describe('clips', () => {
  const sizes = Array.from({ length: 100 }, (_, index) => (index % 12 === 0 ? 9000 : 1000 + 10 * index));
  const total = sizes.reduce((sum, bytes) => sum + bytes, 0);

  it.each(CONTAINERS)('%s gives each frame its size', async (container) => {
    const clip = await readClip(blob(await madeClip(container, sizes, 25)), `clip.${container}`);
    expect(clip.frames.map((frame) => frame.bytes)).toEqual(sizes);
    expect(clip.rates).toMatchObject({ frames: 100, bytes: total, frameRate: AT_25, largestFrameBytes: 9000 });
    expect(clip.rates.durationSeconds).toBeCloseTo(4, 1);
    expect(clip.description).toBe('vp9 640×360');
  });

  it('that are no clips, empty, or cut off say so and where', async () => {
    const said = async (bytes: Uint8Array<ArrayBuffer>) =>
      readClip(blob(bytes), 'reel.mov').then(
        (clip) => `read ${clip.rates.frames}`,
        (error: Error) => error.message,
      );
    expect(await said(new Uint8Array(0))).toMatch(/^reel\.mov: is no clip/);
    expect(await said(new Uint8Array(5000).fill(7))).toMatch(/^reel\.mov: is no clip/);
    const whole = await madeClip('mov', sizes, 25);
    for (const share of [0.01, 0.3, 0.7, 0.99]) {
      const text = await said(whole.slice(0, Math.floor(whole.length * share)));
      expect(text).toMatch(/^reel\.mov: (is no clip|is broken|holds no)/);
    }
    // Matroska has no index at its end: what is there is read, and never more than that.
    const cut = await said((await madeClip('mkv', sizes, 25)).slice(0, Math.floor(whole.length / 2)));
    expect(cut).toMatch(/^(read [1-9]\d?$|reel\.mov: )/);
  });

  it('that lead nowhere are given up, whatever follows their beginning', async () => {
    const whole = await madeClip('mkv', sizes, 25);
    const cluster = whole.findIndex((_, at) =>
      [0x1f, 0x43, 0xb6, 0x75].every((byte, next) => whole[at + next] === byte),
    );
    expect(cluster).toBeGreaterThan(0);
    // What is looked for byte by byte from there on is not found.
    const garbled = whole.slice().fill(0, cluster);
    await expect(readClip(blob(garbled), 'reel.mkv')).rejects.toThrow(
      /^reel\.mkv: is broken or ends early at .* \(nothing that can be read follows byte \d+\)\.$/,
    );
  });
});

describe('image and cache sequences', () => {
  const frames = (from: number, to: number, name = 'reel', bytes = 1000) =>
    Array.from({ length: to - from + 1 }, (_, index) => ({
      name: `take/${name}.${String(from + index).padStart(4, '0')}.dpx`,
      bytes: bytes + index,
    }));

  it('are found among other files, with what is missing', () => {
    const files = [...frames(1, 10), ...frames(15, 20), ...frames(7, 8, 'matte'), { name: 'take/notes.txt', bytes: 5 }];
    const [reel, matte] = sequencesOf(files);
    expect(reel).toMatchObject({ pattern: 'reel.####.dpx', missing: [[11, 14]], missingCount: 4, extension: 'dpx' });
    expect(missingText(reel!)).toBe('11–14');
    expect(matte!.files).toHaveLength(2);
  });

  it('have the rate of their files, missing ones as large as the others', () => {
    const sequence = onlySequence(frames(1001, 1100, 'reel', 4e6).filter((_, index) => index % 10 !== 5));
    const rates = sequenceRates(sequence, AT_25);
    expect(rates.frames).toBe(90);
    expect(rates.durationSeconds).toBeCloseTo(4, 9);
    // A player asks for 25 frames in every second in which there are some.
    expect(rates.bytesPerSecond / 1e6).toBeCloseTo(100, 1);
    expect(rates.bytes / 1e6).toBeCloseTo(360, 1);
  });

  it('say when there is none', () => {
    expect(() => onlySequence([{ name: 'a.dpx', bytes: 1 }])).toThrow(/none of the 1 is numbered/);
    expect(() =>
      onlySequence([
        { name: 'a1.dpx', bytes: 0 },
        { name: 'a2.dpx', bytes: 0 },
      ]),
    ).toThrow(/are empty/);
  });
});
