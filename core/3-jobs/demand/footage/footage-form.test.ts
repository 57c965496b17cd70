import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { demandOf } from '#core/3-jobs/demand/footage/footage-demand.ts';
import { FROM_MATERIAL, NEW_FOOTAGE, footageTexts, readFootage } from '#core/3-jobs/demand/footage/footage-form.ts';
import type { FootageItem } from '#core/3-jobs/demand/footage/footage-item.ts';
import { isFootage } from '#core/3-jobs/demand/items.ts';
import { DEMO_WORKLOADS } from '#demo/workloads.ts';

const read = (change: Record<string, string>, form = NEW_FOOTAGE.form) =>
  readFootage({ ...NEW_FOOTAGE, form, texts: { ...NEW_FOOTAGE.texts, ...change } }, 'one');

describe('an item as it is typed', () => {
  it('becomes what it says', () => {
    const { item, errors } = read({
      format: '3840x2160 4:2:2 10 bit 25p ×3',
      takes: '4',
      takeLength: '40min',
      gap: '',
      buffer: '512 MB',
      together: 'yes',
    });
    expect(errors).toEqual({});
    expect(item).toMatchObject({
      name: '3840×2160 4:2:2 10-bit uncompressed 25p',
      streams: 3,
      takes: { count: 4, seconds: 2400, gapSeconds: 0 },
      buffer: { unit: 'bytes', amount: 512e6 },
      together: true,
    });
    expect(demandOf(item!).bytesPerSecond / 1e6).toBeCloseTo(3 * 552.96, 2);
  });

  it('counts sound in a stream, sound alone, and a rate of its own', () => {
    expect(demandOf(read({ soundTracks: '16' }).item!).bytesPerSecond).toBeCloseTo(552_960_000 + 16 * 144_000, 3);
    expect(demandOf(read({ tracks: '96' }, 'sound').item!).bytesPerSecond).toBe(96 * 144_000);
    const own = demandOf(read({ rate: '2.4 Gb/s', frameRate: '50', peak: '1.5', streams: '2' }, 'own').item!);
    expect(own).toMatchObject({ bytesPerSecond: 600e6, peakBytesPerSecond: 900e6, framesPerSecond: 50 });
  });

  it('takes a rate alone where a format is asked for', () => {
    const { item } = read({ format: '3 × 180 MB/s', takeLength: '1 h 45' });
    expect(item).toMatchObject({ name: '180\u202fMB/s', streams: 3, essence: { kind: 'own' } });
    expect(demandOf(item!)).toMatchObject({ bytesPerSecond: 540e6, framesPerSecond: null });
    // Given again, it is what it was.
    expect(readFootage(footageTexts(item!), 'one').item).toEqual(item);
  });

  it('says everything that is wrong at once, each at its field', () => {
    const { item, errors } = read({ format: 'UHD 25p', streams: '0', takes: 'four', takeLength: '0', buffer: '512' });
    expect(item).toBeNull();
    expect(Object.keys(errors).sort()).toEqual(['buffer', 'format', 'streams', 'takeLength', 'takes']);
    expect(errors['buffer']).toMatch(/of what\?.*1 s.*512 MB/);
    expect(read({ rate: '10 GB' }, 'own').errors['rate']).toMatch(/amount per second/);
    expect(read({}, FROM_MATERIAL).errors[FROM_MATERIAL]).toMatch(/nothing has been read/);
  });

  it('is read again as it is shown, for every item of the examples', () => {
    const items: FootageItem[] = DEMO_WORKLOADS.flatMap((workload) => workload.items).filter(isFootage);
    for (const item of items) {
      const again = readFootage(footageTexts(item), item.id, item.essence).item!;
      expect(demandOf(again)).toEqual(demandOf(item));
    }
  });

  it('keeps lengths and buffers to the last digit', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1e6 }), fc.integer({ min: 1, max: 1e12 }), (seconds, amount) => {
        const item = read({}).item!;
        const changed = { ...item, takes: { ...item.takes, seconds }, buffer: { unit: 'bytes' as const, amount } };
        expect(readFootage(footageTexts(changed), 'one').item).toMatchObject({
          takes: { seconds },
          buffer: { amount },
        });
      }),
    );
  });
});
