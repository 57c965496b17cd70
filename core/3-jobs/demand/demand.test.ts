import { describe, expect, it } from 'vitest';
import { demandOf } from '#core/3-jobs/demand/footage/footage-demand.ts';
import { isFootage } from '#core/3-jobs/demand/items.ts';
import { type FootageItem } from '#core/3-jobs/demand/footage/footage-item.ts';
import { parseWorkload, type Workload } from '#core/3-jobs/demand/workload.ts';
import { DEMO_WORKLOADS } from '#demo/workloads.ts';

const [nightShoot, domeCheck] = DEMO_WORKLOADS as [Workload, Workload];
const item = (workload: Workload, id: string): FootageItem =>
  workload.items.filter(isFootage).find((one) => one.id === id)!;

describe('what items ask of a drive', () => {
  it('three cameras of UHD VC-3 444 at 25 take about 547 MB/s', () => {
    const demand = demandOf(item(nightShoot, 'cameras'));
    expect(demand.bytesPerSecond / 1e6).toBeCloseTo(546.5, 0);
    expect(demand).toMatchObject({ direction: 'write', streams: 3, takeSeconds: 2400, takes: 4, framesPerSecond: 25 });
    expect(demand.formatText).toBe('3840×2160 VC-3 444 at 25');
  });

  it('96 tracks of sound take 13.8 MB/s and have no frames', () => {
    const demand = demandOf(item(nightShoot, 'sound'));
    expect(demand).toMatchObject({ bytesPerSecond: 96 * 48_000 * 3, framesPerSecond: null });
    expect(demand.formatText).toBe('96 tracks of 48 kHz, 24 bit');
  });

  it('a dome master at 60 is played, not recorded', () => {
    const demand = demandOf(item(domeCheck, 'texture'));
    expect(demand).toMatchObject({ direction: 'read', bytesPerSecond: 1024 * 1024 * 16 * 60 });
  });

  it('buffers count in seconds of the demand or in bytes, as they were given', () => {
    const cameras = item(nightShoot, 'cameras');
    const { bytesPerSecond, bufferBytes } = demandOf({ ...cameras, buffer: { unit: 'seconds', amount: 2 } });
    expect(bufferBytes).toBeCloseTo(2 * bytesPerSecond, 3);
    expect(demandOf({ ...cameras, buffer: { unit: 'bytes', amount: 64e6 } }).bufferBytes).toBe(64e6);
  });
});

describe('workload documents', () => {
  const plain = () =>
    JSON.parse(JSON.stringify(nightShoot)) as Record<string, unknown> & { items: Record<string, unknown>[] };

  it('come through JSON as they were', () => {
    expect(parseWorkload(plain()).items).toHaveLength(5);
  });

  it.each([
    ['another version', (document: ReturnType<typeof plain>) => (document['tavrox'] = 'workload/9'), /tavrox/],
    ['no name', (document: ReturnType<typeof plain>) => delete document['name'], /name/],
    [
      'a fourth of a stream',
      (document: ReturnType<typeof plain>) => (document.items[1]!['streams'] = 0.25),
      /item 2: streams/,
    ],
    ['no takes', (document: ReturnType<typeof plain>) => delete document.items[2]!['takes'], /item 3: takes/],
    [
      'an unknown action',
      (document: ReturnType<typeof plain>) => (document.items[0]!['action'] = 'burn'),
      /item 1: action/,
    ],
    [
      'a format without raster',
      (document: ReturnType<typeof plain>) => (document.items[0]!['essence'] = { kind: 'picture' }),
      /item 1: frame rate is missing/,
    ],
  ])('with %s are refused at that place', (_name, change, message) => {
    const document = plain();
    change(document);
    expect(() => parseWorkload(document)).toThrow(message);
  });
});
