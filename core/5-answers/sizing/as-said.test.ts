import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parseCalendar, calendarLineOf, withEnds } from '#core/5-answers/sizing/calendar.ts';
import { materialLine, parseMaterials, parseMaterial } from '#core/5-answers/sizing/material.ts';
import { parseAmount } from '#core/5-answers/sizing/amount.ts';

const DAYS = 90;
const material = (line: string): string => materialLine(parseMaterial(withEnds(line, DAYS)));

describe('a line of a plan as it is said', () => {
  it.each([
    ['Cameras: 2 TB per day for 18 days', 'Cameras: 2 TB a day, days 1–18'],
    ['Cameras: 2 TB/day days 1 to 18, 6 days a week', 'Cameras: 2 TB a day, days 1–18, 6 days a week'],
    ['Camera originals 2TB a day, weeks 1 to 3', 'Camera originals: 2 TB a day, days 1–21'],
    ['Übergabe 2TB a day, days 1–3', 'Übergabe: 2 TB a day, days 1–3'],
    ['Cameras: 2,5 TB a day, 3 weeks, keep for 10 days', 'Cameras: 2.5 TB a day, days 1–21, keep 10 days'],
    ['Plates: 800 GB once on day 12', 'Plates: 800 GB, day 12'],
    ['Renders: 300 GB a day from day 20 to the end, keep 10 days', 'Renders: 300 GB a day, days 20–90, keep 10 days'],
    ['Renders: 300 GB a day from day 20 to day 30', 'Renders: 300 GB a day, days 20–30'],
    ['Conform: 4 TB on the last day', 'Conform: 4 TB, day 90'],
    ['Dailies: 120 GB/day until day 40, second copy', 'Dailies: 120 GB a day, days 1–40, second copy'],
    ['Drone: 250 GB twice a week, days 1–18', 'Drone: 250 GB a day, days 1–18, 2 days a week'],
    ['Cameras: 2 TB a day during Shooting', 'Cameras: 2 TB a day, during Shooting'],
    [
      'Cameras: 2 TB a day, days 1–18, second copy, away for 90 days',
      'Cameras: 2 TB a day, days 1–18, second copy, away 90 days',
    ],
  ])('%s', (said, line) => {
    expect(material(said)).toBe(line);
    expect(material(line)).toBe(line);
  });

  it('takes the hours of a format from behind it, with a comma and without', () => {
    const bytes = 3 * parseAmount('UHD ProRes 422 HQ 25p × 6 h', 'amount');
    for (const said of [
      '3 cameras ProRes 422 HQ UHD 25p, 6 hours a day, 18 days',
      '3 x ProRes 422 HQ UHD 25p 6 h a day, days 1-18',
      '3 cameras UHD ProRes 422 HQ 25p × 6 h a day for 18 days',
    ]) {
      expect(parseMaterial(`Cameras: ${said}`), said).toMatchObject({ fromDay: 1, toDay: 18 });
      expect(Math.abs(parseMaterial(`Cameras: ${said}`).bytesPerDay - bytes), said).toBeLessThan(3);
    }
    // 100 Mb/s are 12.5 MB/s; 16 tracks of 48 kHz and 24 bit 2.304 MB/s.
    expect(parseAmount('100 Mbps 10 hours', 'amount')).toBe(12.5e6 * 36_000);
    expect(parseAmount('48 kHz 24 bit 16 tracks 10 h', 'amount')).toBe(2_304_000 * 36_000);
  });

  it('shares are told by the name, however it is typed', () => {
    const [, proxies] = parseMaterials(['Camera originals 2TB a day, days 1–18', 'Proxies: 5% of Camera originals']);
    expect(proxies).toMatchObject({ bytesPerDay: 1e11, fromDay: 1, toDay: 18 });
  });

  it.each([
    ['Shooting day 1 to 18', 'Shooting: days 1–18'],
    ['Shooting: week 1 to 3, Mon-Sat', 'Shooting: days 1–21, 6 days a week'],
    ['Shooting 3 weeks, Monday to Friday', 'Shooting: days 1–21, 5 days a week'],
    ['Edit: days 19 to the end', 'Edit: days 19–90'],
  ])('%s', (said, line) => {
    expect(calendarLineOf(parseCalendar([withEnds(said, DAYS)])[0]!)).toBe(line);
  });

  it('leaves what stands in its place where it stands', () => {
    const anyLine = fc
      .record({
        bytes: fc.integer({ min: 1, max: 9000 }),
        fromDay: fc.integer({ min: 1, max: 40 }),
        more: fc.integer({ min: 1, max: 50 }),
        daysAWeek: fc.integer({ min: 1, max: 7 }),
        keepDays: fc.option(fc.integer({ min: 0, max: 99 })),
        copies: fc.integer({ min: 1, max: 9 }),
        away: fc.option(fc.integer({ min: 1, max: 99 })),
      })
      .map(({ bytes, fromDay, more, daysAWeek, keepDays, copies, away }) => ({
        ...parseMaterial(`Cameras: ${bytes} GB a day, days ${fromDay}–${fromDay + more}`),
        ...{ daysAWeek, keepDays, copies },
        elsewhere: away === null ? [] : [{ store: 'away' as const, keepDays: away }],
      }));
    fc.assert(
      fc.property(anyLine, (one) => {
        expect(parseMaterial(materialLine(one))).toEqual(one);
      }),
    );
  });
});
