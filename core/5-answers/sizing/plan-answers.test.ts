import { describe, expect, it } from 'vitest';
import { parseDriveLine } from '#core/2-trade/drives/drive-line.ts';
import { promisedProfile } from '#core/4-runs/supply/promised.ts';
import { cardedDrive } from '#core/5-answers/sizing/drive-of-card.ts';
import { planAnswers } from '#core/5-answers/sizing/plan-answers.ts';
import { FIRST_PLAN } from '#core/5-answers/sizing/project.ts';
import { planTexts } from '#core/5-answers/sizing/sizing-form.ts';

const card = {
  ...parseDriveLine('Falcon: 20 TB spinning, 260 MB/s, SATA, 530 EUR'),
  id: 'falcon',
  createdAt: '2026-03-01',
};
const falcon = cardedDrive(card, promisedProfile(card))!;
const answers = (texts: Record<string, string>) =>
  planAnswers({ ...planTexts(FIRST_PLAN), days: '60', ...texts }, [falcon]);
/** Narrow spaces are for reading. */
const said = (option: string, texts: Record<string, string>) =>
  answers(texts)[option]!.map(({ text }) => text.replaceAll('\u202f', ' '));

describe('what lines of a plan are taken for', () => {
  it('tells days of work, amounts and what lies there at once', () => {
    const materials = 'Cameras: 2 × 100 MB/s × 5 h a day, days 1–14, 5 days a week, keep 3 days';
    // 3.6 TB on ten of fourteen days; what came on four days in a row lies there at once.
    expect(said('materials', { materials })).toEqual([
      'Cameras: 10 of these 14 days worked, 4 off, 3.6 TB a day, 36 TB in all, at most 14.4 TB at once.',
    ]);
  });

  it('says the rate of a format, and that it was taken as it is', () => {
    const materials = 'Cameras: UHD 4:2:2 10 bit 25p × 1 h, day 2';
    expect(said('materials', { materials })[0]).toMatch(/1\.99 TB once at 553 MB\/s a stream.*taken as uncompressed/);
    expect(said('materials', { materials: 'Cameras: UHD ProRes 422 HQ 25p × 1 h, day 2' })[0]).not.toMatch(
      /uncompressed/,
    );
  });

  it('offers both readings of an amount on several days, with what each comes to', () => {
    const materials = 'Plates: 1 TB, day 1\nCache: 9 TB, days 36–56\nStills: 10 % of Plates';
    expect(said('materials', { materials })[2]).toBe('Stills: 100 GB once, on day 1.');
    const [, cache] = answers({ materials })['materials']!;
    expect(cache!.choices).toEqual([
      { label: 'once, 9\u202fTB in all', line: 'Cache: 9 TB, day 36, keep 20 days' },
      { label: 'every day, 189\u202fTB in all', line: 'Cache: 9 TB a day, days 36–56' },
    ]);
  });

  it('tells parts of the calendar with their dates, and which go beyond the project', () => {
    const texts = { startsOn: '2027-03-01', phases: 'Shooting: 6 weeks, 5 days a week\nMix: days 50–70' };
    expect(said('phases', texts)).toEqual([
      'Shooting: days 1–42 (1 Mar to 11 Apr), 30 of these 42 days worked, 12 off.',
      'Mix: days 50–70 (19 Apr to 9 May), 21 days. It goes beyond the project’s 60 days.',
    ]);
    expect(said('days', texts)).toEqual(['60 days, to 29 Apr.']);
  });

  it('tells of drives what is known, by name or all that have a price', () => {
    // Its inner tracks, half as fast, are what it sustains.
    const known = 'Falcon: 20 TB spinning, writes 130 MB/s sustained, from its box, 530 EUR each';
    expect(said('choice', {})).toEqual([`${known}.`]);
    expect(said('choice', { choice: 'falcon: 4 there' })).toEqual([`${known}, 4 there.`]);
    expect(said('choice', { choice: 'Gannet' })).toEqual([]);
  });

  it('tells slots, links and prices', () => {
    const texts = {
      enclosures: 'Shelf: 12 slots over SATA 6 Gb/s, 900 + tray 12 each, at most 3',
      connections: '10 Gb/s: card 120 + cable 40 over Ethernet 10 Gb/s\nin it: 0 over nothing',
    };
    expect(said('enclosures', texts)).toEqual([
      expect.stringMatching(
        /^Shelf: 12 slots for 900 EUR and 12 EUR a drive, up to 3 of them with 36 slots, each slot carries \d+ MB\/s\.$/,
      ),
    ]);
    expect(said('connections', texts)).toEqual([
      expect.stringMatching(/^10 Gb\/s: carries 1,1\d\d MB\/s, 160 EUR\.$/),
      'in it: never holds a drive back, 0 EUR.',
    ]);
  });

  it('says nothing of a line that cannot be read: its field says why', () => {
    expect(answers({ materials: 'Cameras: much', enclosures: 'Box', connections: 'x' })).toMatchObject({
      materials: [],
      enclosures: [],
      connections: [],
    });
  });
});
