import { describe, expect, it } from 'vitest';
import { parseDriveLine } from '#core/2-trade/drives/drive-line.ts';
import { newDriveText, newDriveTexts, readNewDrive } from '#core/2-trade/drives/new-drive.ts';

const plainSpaces = (text: string): string => text.replaceAll(/[\u202f\u00a0]/g, ' ');

describe('a drive in one line', () => {
  it('is read as it stands on a box', () => {
    const drive = parseDriveLine('20 TB spinning, 265 MB/s, 12 ms, SATA, 530 EUR');
    expect(drive).toMatchObject({ label: '20 TB spinning', medium: 'spinning', capacityBytes: 20e12 });
    expect(drive.details).toMatchObject({
      ratedWriteBytesPerSecond: 265e6,
      ratedReadBytesPerSecond: 265e6,
      accessSeconds: 0.012,
      price: 530,
      currency: 'EUR',
    });
    expect(drive.details.hops).toMatchObject([{ linkId: 'sata-6' }]);
  });

  it.each([
    [
      'Shuttle 2: 2 TB SSD, writes 5,200 MB/s, then 1450 MB/s after 190 GB, reads 6.8 GB/s, 1200 TBW, €189',
      { label: 'Shuttle 2', medium: 'flash', capacityBytes: 2e12 },
      {
        ratedWriteBytesPerSecond: 5.2e9,
        ratedFloorBytesPerSecond: 1.45e9,
        ratedFallBytes: 190e9,
        ratedReadBytesPerSecond: 6.8e9,
        enduranceBytes: 1.2e15,
        price: 189,
        currency: 'EUR',
      },
    ],
    [
      'reads 110 MB/s, NAS 40 TB share, Ethernet 1 Gb/s',
      { medium: 'network', capacityBytes: 40e12 },
      { ratedReadBytesPerSecond: 110e6 },
    ],
    ['2 TB flash, 3000 MB/s, 80 µs', { medium: 'flash' }, { accessSeconds: 80e-6 }],
    ['2 TB flash, 3000 MB/s, access time 0,1 ms', { medium: 'flash' }, { accessSeconds: 1e-4 }],
    ['16 TB 7,200 rpm; 250 MB/s; inner 120 MB/s', { medium: 'spinning' }, { ratedInnerBytesPerSecond: 120e6 }],
    ['16 TB HDD, 7200 RPM, 250 MB/s', { medium: 'spinning' }, { price: null, ratedWriteBytesPerSecond: 250e6 }],
    [
      '2 TB SSD, up to 560/530 MB/s, 119 eur',
      { medium: 'flash' },
      { ratedReadBytesPerSecond: 560e6, ratedWriteBytesPerSecond: 530e6, price: 119, currency: 'EUR' },
    ],
    [
      '4 TB NVMe, reads up to 7000 MB/sec, writes 6.5 GB per second, 1 299 EUR',
      { medium: 'flash' },
      { ratedReadBytesPerSecond: 7e9, ratedWriteBytesPerSecond: 6.5e9, price: 1299, currency: 'EUR' },
    ],
    ["1 TB flash, 4 Gb/s, 1'299.50 CHF", { medium: 'flash' }, { ratedWriteBytesPerSecond: 5e8, price: 1299.5 }],
    ['Card: 128 GB card, 90 MB/s, 34 dB', { label: 'Card', medium: 'flash' }, { loudnessDecibels: 34 }],
  ])('%s', (line, card, details) => {
    const drive = line.startsWith('reads')
      ? parseDriveLine(line.replace('NAS 40 TB', '40 TB NAS'))
      : parseDriveLine(line);
    expect(drive).toMatchObject(card);
    expect(drive.details).toMatchObject(details);
  });

  it.each([
    ['20 TB spinning', /how fast/],
    ['265 MB/s, spinning', /how large/],
    ['20 TB, 265 MB/s, purple', /“purple” is no size/],
    ['20 TB, 265 MB/s, 530', /“530” is no size/],
  ])('%s is refused with what is wrong', (line, fault) => {
    expect(() => parseDriveLine(line)).toThrow(fault);
  });

  it('and fields beside it are one drive: a field counts first, and what is taken is said', () => {
    const read = (more: Record<string, string>) => readNewDrive({ ...newDriveTexts(), ...more });
    const both = read({ line: '20 TB spinning, 265 MB/s', price: '530 EUR', label: 'Falcon', ratedRead: '270 MB/s' });
    expect(both.errors).toEqual({});
    expect(both.kept).toMatchObject({ label: 'Falcon', details: { price: 530, ratedReadBytesPerSecond: 270e6 } });
    expect(plainSpaces(newDriveText(both.kept!))).toBe(
      'Falcon: 20 TB, spinning, writes 265 MB/s, reads 270 MB/s, 133 MB/s assumed on its inner tracks, 530 EUR',
    );
    const alone = read({ capacity: '4 TB', medium: 'flash', ratedWrite: '1 GB/s', label: '' });
    expect(alone.kept).toMatchObject({ label: '4 TB drive', medium: 'flash', capacityBytes: 4e12 });
    expect(Object.keys(read({}).errors).sort()).toEqual(['capacity', 'label']);
    expect(Object.keys(read({ line: '20 TB, fast', price: 'dear' }).errors)).toEqual(
      expect.arrayContaining(['line', 'price']),
    );
  });
});
