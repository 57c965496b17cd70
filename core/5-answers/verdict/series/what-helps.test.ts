import { expect, it } from 'vitest';
import { seriesForm } from '#core/3-jobs/demand/series/series-form.ts';
import type { SeriesItem } from '#core/3-jobs/demand/series/series-item.ts';
import { evidenceFrom, steady, supplyFrom } from '#core/testing/curves.ts';
import { besideNow, helpText, whatHelps } from '#core/5-answers/verdict/series/what-helps.ts';

/** 100 frames of a gigabyte, 10 s each. */
const simulation = (more: Partial<SeriesItem>): SeriesItem => ({
  ...seriesForm.read(seriesForm.start, 'kelp', null).item!,
  frames: { kind: 'size', frameBytes: 1e9 },
  frameCount: 100,
  computeSeconds: [10],
  playback: null,
  ...more,
});
const drive = (bytesPerSecond: number) => supplyFrom([evidenceFrom([steady(1e6, bytesPerSecond)])]);

it('says what helps more for its money, a drive or a processor', () => {
  // 100 frames of 10 s and 1 GB: on 200 MB/s 1,500 s, on 1 GB/s 1,100 s, on a processor twice as fast 1,000 s.
  const item = simulation({ processor: { factor: 2, price: 1000, currency: 'EUR' } });
  const now = { label: 'Old', supply: drive(200e6), roomBytes: null, price: 0, currency: 'EUR' };
  const helps = whatHelps(item, now, [
    { label: 'New', supply: drive(1e9), roomBytes: null, price: 200, currency: 'EUR' },
    { label: 'Unpriced', supply: drive(2e9), roomBytes: null, price: null, currency: '' },
    { label: 'Slower', supply: drive(100e6), roomBytes: null, price: 10, currency: 'EUR' },
  ]);
  expect(helps.map(({ label, savedSeconds }) => [label, Math.round(savedSeconds)])).toEqual([
    ['New', 400],
    ['A processor 2 times as fast', 500],
    ['Unpriced', 450],
  ]);
  expect(helpText(helps[0]!)).toMatch(/^New saves 6 min 40.s of 25 min: 3\.33 minutes for each 100 EUR\.$/);
  expect(helpText(helps[1]!)).toMatch(/0\.83 minutes for each 100 EUR/);
  expect(helpText(helps[2]!)).toMatch(/its price is not known/);
});

it('holds every drive against the one it is written to now, what saves nothing or is not measured too', () => {
  // 100 frames of 10 s and 1 GB: 1,500 s on 200 MB/s; 1,100 s, 2,000 s and the same on the others.
  const item = simulation({ processor: { factor: 2, price: null, currency: '' } });
  const now = { label: 'Old', supply: drive(200e6), roomBytes: null, price: 0, currency: 'EUR' };
  const others = [
    { label: 'Slower', supply: drive(100e6), roomBytes: null, price: 10, currency: 'EUR' },
    { label: 'Not measured', supply: supplyFrom([]), roomBytes: null, price: 50, currency: 'EUR' },
    { label: 'Twin', supply: drive(200e6), roomBytes: null, price: 90, currency: 'EUR' },
    { label: 'New', supply: drive(1e9), roomBytes: 100e9, price: 200, currency: 'EUR' },
    // It would save more for its money, but 100 GB do not fit.
    { label: 'Small', supply: drive(1e9), roomBytes: 60.5e9, price: 20, currency: 'EUR' },
  ];
  expect(
    besideNow(item, now, others).map(({ label, place, totalSeconds, savedSeconds, secondsPerHundred }) => [
      ...[label, place],
      ...[totalSeconds, savedSeconds, secondsPerHundred].map((one) => one && Math.round(one)),
    ]),
  ).toEqual([
    ['New', 3, 1100, 400, 200],
    ['A processor 2 times as fast', null, 1000, 500, null],
    ['Twin', 2, 1500, 0, null],
    ['Slower', 0, 2000, -500, null],
    ['Small', 4, 1100, 400, null],
    ['Not measured', 1, null, null, null],
  ]);
  expect(helpText(whatHelps(item, now, others).at(-1)!)).toMatch(
    /^Small saves 6 min 40.s of 25 min, but not all of it fits there: it is full at frame 61\.$/,
  );
  expect(besideNow(item, { ...now, supply: supplyFrom([]) }, others)).toEqual([]);
  // What one of both promises is no measurement.
  const typed = { ...others[3]!, label: 'Typed', supply: { ...drive(1e9), isPromise: true } };
  const words = (one: typeof now, other: typeof typed) => whatHelps(item, one, [other]).map(helpText)[0];
  const promised = /would save 6 min 40.s of 25 min, by rates that were typed and not measured: 3\.33 minutes/;
  expect(words(now, typed)).toMatch(promised);
  expect(words({ ...now, supply: { ...now.supply, isPromise: true } }, others[3]!)).toMatch(promised);
  expect(words(now, others[3]!)).toMatch(/^New saves/);
});
