import fc from 'fast-check';
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
    [
      '20 TB spinning 265 MB/s 12 ms SATA 530 EUR',
      { label: '20 TB spinning', medium: 'spinning', capacityBytes: 20e12 },
      { ratedWriteBytesPerSecond: 265e6, accessSeconds: 0.012, price: 530, hops: [{ linkId: 'sata-6' }] },
    ],
    [
      'Lagoon 4T 4TB NVMe 7,000 MB/s read 6,000 MB/s write 800 MB/s after 400 GB USB4 40Gbps €329 2400 TBW',
      { label: 'Lagoon 4T', medium: 'flash', capacityBytes: 4e12 },
      {
        ratedReadBytesPerSecond: 7e9,
        ratedWriteBytesPerSecond: 6e9,
        ratedFloorBytesPerSecond: 8e8,
        ratedFallBytes: 4e11,
        hops: [{ linkId: 'tunnel-40' }],
        price: 329,
        enduranceBytes: 2.4e15,
      },
    ],
    [
      '2TB SSD read 3500 MB/s write 3000 MB/s PCIe 3.0 x4 99,90 €',
      { label: '2 TB flash' },
      {
        ratedReadBytesPerSecond: 3.5e9,
        ratedWriteBytesPerSecond: 3e9,
        hops: [{ linkId: 'pcie-3', lanes: 4 }],
        price: 99.9,
      },
    ],
    [
      'NAS share 10GbE 900MB/s 40 TB',
      { label: '40 TB share', medium: 'network' },
      { className: 'NAS share', ratedReadBytesPerSecond: 9e8, hops: [{ linkId: 'ethernet-10' }] },
    ],
    [
      'portable SSD 2TB up to 1,050/1,000 MB/s USB 3.2 Gen 2 $139',
      { label: '2 TB flash' },
      {
        className: 'portable SSD',
        ratedReadBytesPerSecond: 1.05e9,
        ratedWriteBytesPerSecond: 1e9,
        hops: [{ linkId: 'usb-10' }],
        currency: 'USD',
      },
    ],
    [
      '512 GB CFexpress Type B card writes 1200 MB/s sustained 400 MB/s',
      { medium: 'flash' },
      { ratedWriteBytesPerSecond: 1.2e9, ratedFloorBytesPerSecond: 4e8, hops: [{ linkId: 'pcie-3', lanes: 2 }] },
    ],
    [
      '18 TB HDD 270 MB/s down to 130 MB/s',
      { medium: 'spinning' },
      { ratedInnerBytesPerSecond: 1.3e8, ratedReadBytesPerSecond: 2.7e8 },
    ],
    [
      '2 TB SSD 1000 MB/s, writes 800 MB/s',
      { medium: 'flash' },
      { ratedReadBytesPerSecond: 1e9, ratedWriteBytesPerSecond: 8e8 },
    ],
    ['Lagoon 4T, 4 TB NVMe, 900 MB/s', { label: 'Lagoon 4T', medium: 'flash' }, { className: '' }],
    ['USB stick 64 GB 90 MB/s', { label: 'USB stick', medium: 'flash' }, { hops: null }],
    ['1 TB USB-C SSD 1000 MB/s', { label: '1 TB flash' }, { className: 'USB-C SSD', hops: null }],
    ['1 TB USB 3.2 SSD 1000 MB/s', { label: '1 TB flash' }, { className: 'USB 3.2 SSD', hops: null }],
    ['18 TB SAS HDD 270 MB/s', { medium: 'spinning' }, { className: 'SAS HDD', hops: null }],
    ['1 TB SATA SSD 550 MB/s', { medium: 'flash' }, { hops: [{ linkId: 'sata-6' }] }],
    ['18 TB HDD costs 1 299 EUR, 270 MB/s', { medium: 'spinning' }, { price: 1299 }],
    ['Card: 128 GB card, 90 MB/s, 34 dB', { label: 'Card', medium: 'flash' }, { loudnessDecibels: 34 }],
  ])('%s', (line, card, details) => {
    const drive = parseDriveLine(line);
    expect(drive).toMatchObject(card);
    expect(drive.details).toMatchObject(details);
  });

  it.each([
    ['20 TB spinning', /how fast/],
    ['265 MB/s, spinning', /how large/],
    ['20 TB, 265 MB/s, purple', /“purple” is no size/],
    ['20 TB, 265 MB/s, 530', /“530” is no size/],
    ['20 TB 265 MB/s, for a friend', /“a friend” is no size/],
    ['2 TB SSD 0 MB/s', /no drive has “0 MB.s”/],
    ['0 TB SSD 400 MB/s', /no drive has “0 TB”/],
    ['2 TB SSD 400 MB/s 0 ms', /no drive has “0 ms”/],
    ['99999999 TB SSD 400 MB/s', /no drive has “99999999 TB”/],
    ['2 TB SSD 400 MB/s 400 dB', /no drive has “400 dB”/],
    ['2 TB SSD 400 MB/s 99999999 TBW', /no drive has “99999999 TBW”/],
    ['2 TB SSD 9999999 GB/s', /no drive has “9999999 GB.s”/],
    ['2 TB 4 TB SSD 500 MB/s', /2.TB and 4.TB large/],
    ['8 TB SSD 2800 MB/s 2000 MB/s', /two rates for one thing/],
    ['8 TB SSD writes 2800 MB/s, writes 2000 MB/s', /two rates for one thing/],
    ['2 TB SSD 1000 MB/s USB-C', /“USB-C” is a plug/],
    ['2 TB SSD 7000 MB/s PCIe 4.0', /1, 2 or 4 lanes/],
    ['2 TB SSD 900 MB/s USB 3.2', /5, 10 or 20 Gb.s/],
  ])('%s is refused with what is wrong', (line, fault) => {
    expect(() => parseDriveLine(line)).toThrow(fault);
  });

  it('says all that it was taken for, and nothing that stands in it is passed over', () => {
    expect(
      plainSpaces(newDriveText(parseDriveLine('2 TB portable SSD 1050MB/s 0.1 ms USB 3.2 Gen 2 600 TBW 1,299 EUR'))),
    ).toBe(
      '2 TB flash: 2 TB, flash (portable SSD), writes 1,050 MB/s, reads 1,050 MB/s, access in 100 µs, behind USB 10 Gb/s, may be written 600 TB, 1,299 EUR',
    );
  });

  it('says why less of it counts', () => {
    const said = (line: string) => plainSpaces(newDriveText(parseDriveLine(line)));
    expect(said('512 GB card writes 1200 MB/s sustained 400 MB/s')).toMatch(
      /\. How much it writes at 1,200 MB\/s is not known: 400 MB\/s count from the beginning\.$/,
    );
    expect(said('4 TB SSD 7,000 MB/s USB4 40Gbps')).toMatch(
      /\. USB4 40 Gb\/s carries 3,320 MB\/s: no more than that counts\.$/,
    );
    expect(said('4 TB SSD 900 MB/s then 300 MB/s after 90 GB, USB 10 Gb/s')).not.toMatch(/count/);
  });

  it('is the same with commas between its parts and without, and in any order', () => {
    const PARTS = [
      '4 TB SSD',
      'reads 3.1 GB/s',
      'writes 2900 MB/s',
      'then 800 MB/s after 90 GB',
      '80 µs',
      'USB 20 Gb/s',
      '219 EUR',
      '700 TBW',
    ];
    const expected = parseDriveLine(PARTS.join(', '));
    fc.assert(
      fc.property(
        fc.shuffledSubarray(PARTS, { minLength: PARTS.length }),
        fc.array(fc.constantFrom(', ', ' ', '; '), { minLength: 7, maxLength: 7 }),
        (parts, joins) => {
          expect(parseDriveLine(parts.map((part, at) => part + (joins[at] ?? '')).join(''))).toEqual(expected);
        },
      ),
    );
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
