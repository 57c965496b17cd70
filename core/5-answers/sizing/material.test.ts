import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parseAmount } from '#core/5-answers/sizing/amount.ts';
import {
  dayText,
  parseCalendar,
  parseDate,
  parseLength,
  calendarLineOf,
  calendarPartNamed,
  workDaysBetween,
} from '#core/5-answers/sizing/calendar.ts';
import {
  fillTimeline,
  fullOnDay,
  materialLine,
  materialsOn,
  onceOrDaily,
  parseMaterial,
  parseMaterials,
  storedBytes,
  withCalendar,
} from '#core/5-answers/sizing/material.ts';
import { parseSizing } from '#core/5-answers/sizing/project.ts';
import { materialOf, sizingOf, TB } from '#core/testing/sizing-of.ts';

describe('an amount as people reckon it', () => {
  it.each([
    ['3.2 TB', 3.2e12],
    ['92 GiB', 92 * 1024 ** 3],
    // Three cameras: 3840 × 2160, VC-3 444 at 25, is the check value of 547 MB/s.
    ['530 MB/s × 2 h', 530e6 * 7200],
    ['1h 30min × 100 MB/s', 5400e8],
    ['420 frames × 1.6 GB × 3 versions', 420 * 1.6e9 * 3],
    ['6 × 92 GB', 552e9],
    ['6 installs x 92 GB', 552e9],
    ['2.5 * 4 GB', 10e9],
    ['4.4 Gb/s × 60 s', 33e9],
    ['6×92GB', 552e9],
    ['  6  ×  92 GB  ', 552e9],
    ['3  x  2  *  10 GB', 60e9],
    ['1000 GB', 1e12],
    ['1,000 GB', 1e12],
    ['0.5 × 3 GB', 1.5e9],
    ['1,5 × 3 GB', 4.5e9],
    ['1001–1240 × 1.6 GB', 240 * 1.6e9],
    ['frames 1001 to 1240 × 1,6 GB', 240 * 1.6e9],
    ['30 MB/s × 18:32', 30e6 * 1112],
    ['30 MB/s × 1 h 45', 30e6 * 6300],
    ['30 MB/s × 2:30 h', 30e6 * 9000],
    ['30 MB/s × 2.5 hours', 30e6 * 9000],
    ['480*2 GB', 960e9],
  ])('“%s” is %i bytes', (text, bytes) => expect(parseAmount(text, 'material')).toBe(bytes));

  it('of cameras is their rate times their hours', () => {
    const one = parseAmount('3840x2160 VC-3 444 25p × 1 h', 'material');
    expect(one / 3600 / 1e6).toBeCloseTo(547.2 / 3, 0);
    expect(parseAmount('3 × 3840x2160 VC-3 444 25p × 4 h', 'material')).toBeCloseTo(12 * one, -2);
    expect(parseAmount('3840x2160 VC-3 444 25p x3 × 4 h', 'material')).toBeCloseTo(12 * one, -2);
  });

  it.each([
    ['530 MB/s', /for how long/],
    ['3 × 3840x2160 VC-3 444 25p', /for how long/],
    ['4 h', /of what/],
    ['3', /one size/],
    ['2 GB × 3 TB', /one size/],
    ['3 × much', /much.*names no|raster is missing/s],
    ['−3 TB', /less than nothing/],
    ['-3 TB', /less than nothing/],
    ['1e99 hours × 3 MB/s', /“1e99 hours” is not a time span/],
    ['10 tb', /bytes or bits/],
    ['10 T', /10 T/],
    ['3 TB × 2 h', /one size, or one format and one time/],
    ['3 TB × 2 MB/s', /one size, or one format and one time/],
    ['2 TB × 3 MB/s × 4 h', /“2 TB × 3 MB\/s × 4 h”: it needs one size/],
    ['3 MB/s × 4 MB/s × 2 h', /it needs one size/],
    ['4 h × 2 h × 3 MB/s', /it needs one size/],
    ['', /no amount|names no|raster/],
    ['  3 × h  ', /“3 × h” is no amount: type one such as/],
    ['420 frames × 1.6 gb', /bytes or bits/],
  ])('“%s” is refused with what is missing', (text, fault) =>
    expect(() => parseAmount(text, 'material')).toThrow(fault),
  );
});

describe('the calendar of a project', () => {
  it('follows on, or says its days', () => {
    const phases = parseCalendar(['Shooting: 30 days', 'Finishing: 8 weeks', 'Mix: days 40–50']);
    expect(phases).toEqual([
      { name: 'Shooting', fromDay: 1, toDay: 30, daysAWeek: 7 },
      { name: 'Finishing', fromDay: 31, toDay: 86, daysAWeek: 7 },
      { name: 'Mix', fromDay: 40, toDay: 50, daysAWeek: 7 },
    ]);
    expect(parseCalendar(phases.map(calendarLineOf))).toEqual(phases);
  });

  it('has days off in each week', () => {
    const phases = parseCalendar(['Shooting: 6 weeks, 5 days a week', 'Mix: days 40–50, 1 day a week']);
    expect(phases).toEqual([
      { name: 'Shooting', fromDay: 1, toDay: 42, daysAWeek: 5 },
      { name: 'Mix', fromDay: 40, toDay: 50, daysAWeek: 1 },
    ]);
    expect(phases.map(calendarLineOf)).toEqual(['Shooting: days 1–42, 5 days a week', 'Mix: days 40–50, 1 day a week']);
    // Thirty days of work; the last weekend is off.
    expect(workDaysBetween(phases[0]!, 1, 42)).toBe(30);
    expect(workDaysBetween(phases[0]!, 5, 8)).toBe(2);
    expect(workDaysBetween(phases[0]!, 6, 7)).toBe(0);
    expect(workDaysBetween(phases[0]!, 43, 60)).toBe(0);
  });

  it.each([
    ['Shooting'],
    ['Shooting: soon'],
    ['Shooting: days 9–3'],
    ['Shooting: 0 days'],
    [': 3 days'],
    ['Shooting: 6 weeks, 8 days a week'],
    ['Shooting: 6 weeks, 0 days a week'],
    ['Shooting: 6 weeks, weekends off'],
  ])('“%s” is refused with a sentence', (line) => expect(() => parseCalendar([line])).toThrow(/^calendar: /));

  it('does not mind spaces, and goes as far as the last day there can be', () => {
    expect(parseCalendar(['  Shooting :  days 3 - 9 ,  7 days a week '])).toEqual([
      { name: 'Shooting', fromDay: 3, toDay: 9, daysAWeek: 7 },
    ]);
    expect(parseCalendar(['Shooting:30 days,5 days a week'])[0]).toMatchObject({ toDay: 30, daysAWeek: 5 });
    expect(parseCalendar(['Archive: 3650 days'])[0]!.toDay).toBe(3650);
    expect(parseCalendar(['Archive: days 1 to 3650'])[0]!.toDay).toBe(3650);
    expect(() => parseCalendar(['Archive: 3651 days'])).toThrow(/beyond day 3650/);
    expect(() => parseCalendar(['Archive: days 9–3651'])).toThrow(/beyond day 3650/);
    expect(() => parseCalendar(['Prep: 10 days', 'Archive: 3641 days'])).toThrow(/“Archive” goes beyond/);
    expect(() => parseCalendar(['x: Archive: 3 days'])).toThrow(/^calendar: /);
    const [shooting] = parseCalendar(['Shooting: 3 days']);
    expect(calendarPartNamed([shooting!], ' SHOOTING', 'material')).toBe(shooting);
  });

  it('from a document is refused where a part ends before it begins', () => {
    const phase = { name: 'Mix', fromDay: 9, toDay: 9, daysAWeek: 7 };
    expect(parseSizing(sizingOf({ phases: [phase] })).phases).toEqual([phase]);
    expect(() => parseSizing(sizingOf({ phases: [{ ...phase, toDay: 8 }] }))).toThrow(/ends before it begins/);
    expect(() => parseSizing(sizingOf({ phases: [{ ...phase, daysAWeek: 8 }] }))).toThrow(/phase 1: days a week/);
  });

  it('refuses the same name twice, since material names it', () => {
    expect(() => parseCalendar(['Mix: 3 days', 'mix: 4 days'])).toThrow(/there twice/);
  });

  it('tells days with their dates, over the ends of months and leap years', () => {
    expect(dayText(1, null)).toBe('day 1');
    expect(dayText(1, '2028-02-28')).toBe('day 1 (28 Feb)');
    expect(dayText(3, '2028-02-28')).toBe('day 3 (1 Mar)');
    expect(dayText(310, '2027-03-01')).toBe('day 310 (4 Jan)');
    expect(parseDate(' 2027-03-01 ', 'first day')).toBe('2027-03-01');
    for (const text of [
      '2027-3-1',
      '1.3.2027',
      '01. 03. 2027',
      '1 March 2027',
      '1st Mar 2027',
      'March 1, 2027',
      '01/01/2027',
    ])
      expect(parseDate(text, 'first day')).toBe(text === '01/01/2027' ? '2027-01-01' : '2027-03-01');
    expect(() => parseDate('3/1/2027', 'first day')).toThrow(/can be 2027-01-03 or 2027-03-01/);
    expect(parseDate('28/2/2027', 'first day')).toBe('2027-02-28');
    expect(() => parseLength('3 months', 'days')).toThrow(/Type days or weeks/);
    for (const text of ['2027-02-30', '1 March', '2027-13-1', '31.4.2027', '1 Smarch 2027', '']) {
      expect(() => parseDate(text, 'first day')).toThrow(/first day: .* is no date/);
    }
  });
});

describe('material over days', () => {
  const cameras = materialOf({ bytesPerDay: 3 * TB, keepDays: 9, copies: 2 });

  it('piles up, and goes when it was kept long enough', () => {
    expect(storedBytes(cameras, 1)).toBe(6 * TB);
    expect(storedBytes(cameras, 10)).toBe(60 * TB);
    expect(storedBytes(cameras, 30)).toBe(60 * TB);
    expect(storedBytes(cameras, 35)).toBe(30 * TB);
    expect(storedBytes(cameras, 40)).toBe(0);
    expect(storedBytes({ ...cameras, keepDays: null }, 86)).toBe(180 * TB);
  });

  it('is what counting day by day comes to', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 40 }),
        fc.integer({ min: 0, max: 40 }),
        fc.option(fc.integer({ min: 0, max: 50 })),
        fc.integer({ min: 1, max: 90 }),
        fc.integer({ min: 1, max: 7 }),
        (fromDay, length, keepDays, day, daysAWeek) => {
          const material = { ...cameras, fromDay, toDay: fromDay + length, keepDays, daysAWeek };
          let bytes = 0;
          for (let came = fromDay; came <= Math.min(day, fromDay + length); came += 1) {
            const isWorked = (came - fromDay) % 7 < daysAWeek;
            if (isWorked && (keepDays === null || day - came <= keepDays)) bytes += 6 * TB;
          }
          expect(storedBytes(material, day)).toBe(bytes);
        },
      ),
    );
  });

  it('has a fullest day, a day on which most comes, and a day on which a store is full', () => {
    const once = materialOf({ name: 'Plates', bytesPerDay: 2 * TB, fromDay: 12, toDay: 12 });
    const timeline = fillTimeline([{ ...cameras, keepDays: null, copies: 1 }, once], 40, 0.1);
    expect(timeline.peakBytes).toBeCloseTo(101.2 * TB, -3);
    expect(timeline.peakDay).toBe(30);
    expect(timeline.writtenBytesPerDay).toBeCloseTo((101.2 / 40) * TB, -3);
    expect(timeline.mostPerDayBytes).toBeCloseTo(5.5 * TB, -3);
    expect(fullOnDay(timeline, 50 * TB)).toBe(15);
    // What fits to the byte fits.
    expect(fullOnDay(timeline, timeline.peakBytes)).toBeNull();
    expect(fullOnDay({ total: [2, 1] }, 1)).toBe(1);
    expect(fillTimeline([cameras], 40, 0).mostPerDayBytes).toBe(6 * TB);
    expect(fullOnDay(timeline, 101.3 * TB)).toBeNull();
  });

  it('lies on other stores in one copy, for as long as it is kept there', () => {
    const material = parseMaterial('Cameras: 1 TB a day, days 1–30, keep 10 days, 2 copies, second copy, away 90 days');
    expect(materialsOn('working', [material])).toEqual([material]);
    expect(materialsOn('second', [material])).toEqual([{ ...material, keepDays: null, copies: 1 }]);
    expect(materialsOn('away', [material])).toEqual([{ ...material, keepDays: 90, copies: 1 }]);
    expect(materialsOn('away', [parseMaterial('Cache: 1 TB a day, days 1–30')])).toEqual([]);
  });

  it('that comes during a part of the project comes on its days', () => {
    const phases = parseCalendar(['Shooting: 30 days', 'Finishing: 8 weeks']);
    const material = parseMaterial('Masters: 320 GB a day, during finishing');
    expect(withCalendar([material], phases)).toEqual([{ ...material, during: 'Finishing', fromDay: 31, toDay: 86 }]);
    const weekly = parseCalendar(['Finishing: 8 weeks, 6 days a week']);
    const [dated] = withCalendar([material], weekly);
    expect(dated).toMatchObject({ fromDay: 1, toDay: 56, daysAWeek: 6 });
    expect(fillTimeline([dated!], 60, 0).writtenBytesPerDay).toBeCloseTo((48 * 320e9) / 60, -3);
    expect(storedBytes(dated!, 60)).toBe(48 * 320e9);
    expect(() => withCalendar([material], [])).toThrow(/“finishing” is no part of the project. The calendar is empty/);
    expect(() => withCalendar([material], phases.slice(0, 1))).toThrow(/There is: Shooting/);
  });

  it.each([
    'Cameras: 3.2 TB a day, days 1–30, keep 60 days, 2 copies',
    'Plates: 800 GB, day 12',
    'Rushes: 2 TB a day, days 1–42, 5 days a week, keep 60 days',
    'Kelp, v12: 690 GB a day, days 31–86',
    'Cameras: 3 × 3840x2160 VC-3 444 25p × 4 h a day, during Shooting, second copy, away 90 days',
    'Cache: 420 frames × 1.6 GB × 3 versions, day 12, second copy 5 days',
  ])('“%s” is read and written again', (line) => expect(materialLine(parseMaterial(line))).toBe(line));

  it.each(['Cameras', 'Cameras:', 'Cameras: , day 1', ': 3 TB, day 1', '  : 3 TB, day 1'])(
    '“%s” says that name or amount is missing, and how to type it',
    (line) =>
      expect(() => parseMaterial(line)).toThrow(
        /“.*” has no name or no amount\. Type Cameras: 3\.2 TB a day, days 1–30/,
      ),
  );

  it('does not mind spaces', () => {
    expect(parseMaterial('  Cameras :  3 TB   a  day ,  during  Main unit ,keep 5 days ')).toMatchObject({
      ...{ name: 'Cameras', bytesPerDay: 3 * TB, during: 'Main unit', keepDays: 5 },
    });
    expect(() => parseMaterial(' Cameras : 3 TB a day')).toThrow(/“Cameras” comes every day/);
  });

  it('keeps how it was reckoned where it was', () => {
    const reckoned = (amount: string) => parseMaterial(`Cameras: ${amount}, day 1`).reckonedAs;
    for (const plain of ['3.2 TB', '92 GiB', '1000000 TB']) expect(reckoned(plain)).toBeNull();
    for (const made of ['6 × 92 GB', '6 x 92 GB', '2 * 4 GB', '420 frames × 1.6 GB']) expect(reckoned(made)).toBe(made);
  });

  it('may be a million terabytes, and no more', () => {
    expect(parseMaterial('Archive: 1000000 TB, day 1').bytesPerDay).toBe(1e18);
    expect(() => parseMaterial('Archive: 1000001 TB, day 1')).toThrow(/more than a million terabytes/);
  });

  it('takes what is said last of a store', () => {
    const twice = parseMaterial('Cameras: 1 TB, day 1, second copy, away 90 days, second copy for 5 days');
    expect(twice.elsewhere).toEqual([
      { store: 'away', keepDays: 90 },
      { store: 'second', keepDays: 5 },
    ]);
  });

  it('from a document may come on one day, and not end before it begins', () => {
    const materials = [materialOf({ fromDay: 9, toDay: 9 })];
    expect(parseSizing(sizingOf({ materials })).materials).toEqual(materials);
    expect(() => parseSizing(sizingOf({ materials: [materialOf({ fromDay: 9, toDay: 8 })] }))).toThrow(
      /a material ends before it begins/,
    );
  });

  it('shows bytes where what it was reckoned as is not theirs', () => {
    const changed = materialOf({ bytesPerDay: 5e11, reckonedAs: '6 × 92 GB' });
    expect(materialLine(changed)).toBe('Cameras: 500 GB a day, days 1–30');
    expect(materialLine({ ...changed, reckonedAs: 'as last time' })).toBe('Cameras: 500 GB a day, days 1–30');
  });

  it.each([
    '',
    'Cameras',
    'Cameras:',
    'Cameras: much',
    'Cameras: 3 TB a day',
    'Cameras: 3 TB a day, days 9–3',
    'Cameras: 3 TB, soon',
    'Cameras: 3 TB, day 0',
    'Cameras: 3 TB a day, days 1–3, away soon',
    'Cameras: 3 TB a day, days 1–30, 9 days a week',
    'Cameras: 3 TB a day, during Shooting, 5 days a week',
  ])('“%s” is refused with a sentence', (line) => expect(() => parseMaterial(line)).toThrow(/^material: /));

  it('that is told twice when it comes is asked about, not read as the last of them', () => {
    expect(() => parseMaterial('Cards: 2 TB, day 3, day 9')).toThrow(
      /told twice when it comes, the second time “day 9”/,
    );
  });
});

describe('material as people say it', () => {
  const of = (line: string) => parseMaterial(line);
  it.each([
    ['Cameras: 14,2 TB a day, week 5', { bytesPerDay: 14.2e12, fromDay: 29, toDay: 35 }],
    ['Cameras: 2 TB/day, weeks 2–3, keep 3 weeks', { bytesPerDay: 2e12, fromDay: 8, toDay: 21, keepDays: 21 }],
    ['Cameras: 2 TB daily, days 1–9, keep to the end', { bytesPerDay: 2e12, toDay: 9, keepDays: null }],
    ['Cameras: 2 TB a shooting day', { during: 'shooting' }],
    [
      'Plates: 800 GB once, day 12, away for 4 weeks',
      { fromDay: 12, toDay: 12, elsewhere: [{ store: 'away', keepDays: 28 }] },
    ],
    ['Cache: 9 TB once, days 36–56', { fromDay: 36, toDay: 36, keepDays: 20 }],
  ])('“%s”', (line, expected) => expect(of(line)).toMatchObject(expected));

  it('asks whether an amount on several days is of each of them', () => {
    expect(() => of('Cache: 9 TB, days 36–56')).toThrow(/“Cache” come once or every day/);
    const { once, daily } = onceOrDaily('Cache: 9 TB, days 36–56, away');
    expect(of(once)).toMatchObject({
      bytesPerDay: 9e12,
      fromDay: 36,
      toDay: 36,
      keepDays: 20,
      elsewhere: [{ store: 'away' }],
    });
    expect(of(daily)).toMatchObject({ bytesPerDay: 9e12, fromDay: 36, toDay: 56, keepDays: null });
  });

  it('is a share of another line, on the days of that, wherever it stands', () => {
    const lines = [
      'Proxies: 5 % of Originals',
      'Originals: 2 TB a day, days 1–30, 5 days a week',
      'Stills: 10% of Proxies, day 4',
    ];
    const [proxies, , stills] = parseMaterials(lines);
    expect(proxies).toMatchObject({ bytesPerDay: 1e11, fromDay: 1, toDay: 30, daysAWeek: 5 });
    expect(stills).toMatchObject({ bytesPerDay: 1e10, fromDay: 4, toDay: 4 });
    expect(parseMaterials(parseMaterials(lines).map(materialLine))).toEqual(parseMaterials(lines));
    expect(() => parseMaterials(['A: 5 % of B', 'B: 5 % of A'])).toThrow(/share of what is a share of it/);
    expect(() => parseMaterials(['A: 5 % of C'])).toThrow(/no line of that name/);
  });
});
