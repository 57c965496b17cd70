import { describe, expect, it } from 'vitest';
import {
  NONE_THERE,
  chosenDrives,
  driveChoiceLine,
  parseDriveChoice,
  thereOn,
} from '#core/5-answers/sizing/drive-choice.ts';
import { STORES } from '#core/5-answers/sizing/stores.ts';
import {
  enclosureLine,
  parseEnclosure,
  parseSizingConnection,
  sizingConnectionLine,
} from '#core/5-answers/sizing/part-lines.ts';
import { priceWith } from '#core/5-answers/sizing/parts.ts';

describe('what builds are put together from', () => {
  it.each([
    'Desk box: 8 slots, 420',
    'Shelf: 12 slots over SATA 6 Gb/s, 900 + rails 60 + tray 12 each',
    'Dock: 1 slot, 0',
    'Frame: 4 slots, cage 40 + carrier 9.5 each',
    'Shelf: 12 slots over Old adapter: 400 MB/s, 900 + tray 12 each',
    'Shelf: 12 slots over SAS 12 Gb/s at the rack, 900, at most 3',
  ])('the enclosure “%s” is read and written again', (line) => expect(enclosureLine(parseEnclosure(line))).toBe(line));

  it.each([
    '10 Gb/s card and cable: 190 over Ethernet 10 Gb/s',
    '10 Gb/s: card 120 + cable 40 over Ethernet 10 Gb/s',
    'in the machine: 0 over nothing',
    'direct: 30 + cable 330 over PCIe 4.0 ×4 + Old bridge: 2700 MB/s',
  ])('the connection “%s” is read and written again', (line) =>
    expect(sizingConnectionLine(parseSizingConnection(line))).toBe(line),
  );

  it('do not mind spaces', () => {
    expect(parseEnclosure('  Desk box :  8  slots  over  SATA 6 Gb/s ,  420  +  rails   60  ')).toEqual(
      parseEnclosure('Desk box: 8 slots over SATA 6 Gb/s, 420 + rails 60'),
    );
    expect(parseSizingConnection('  Direct :  30  +  cable 330  over  PCIe 4.0 ×4  +  Old bridge: 2700 MB/s ')).toEqual(
      parseSizingConnection('Direct: 30 + cable 330 over PCIe 4.0 ×4 + Old bridge: 2700 MB/s'),
    );
    expect(parseSizingConnection('Direct:0 over  Nothing ')).toMatchObject({ label: 'Direct', price: 0, hops: [] });
  });

  it('have sums of prices without a name for one price, and parts for each drive by what they are for', () => {
    expect(parseEnclosure('Box: 8 slots, 400 + 20')).toMatchObject({ price: 420, parts: [] });
    expect(parseEnclosure('Box: 8 slots, 400 + 12 each')).toMatchObject({
      price: 400,
      parts: [{ label: 'for each drive', price: 12, each: true }],
    });
  });

  it('have slots and prices up to what there can be', () => {
    expect(parseEnclosure('Box: 60 slots, 1000000000')).toMatchObject({ slots: 60, price: 1e9 });
    expect(() => parseEnclosure('Box: 61 slots, 3')).toThrow(/61 slots are more than any box has/);
    expect(() => parseEnclosure('Box: 8 slots, 1000000001')).toThrow(/“1000000001” in “Box: 8 slots, 1000000001”/);
    expect(() => parseEnclosure('  Box ')).toThrow(/“Box” is none\. Type its slots/);
    expect(() => parseSizingConnection(' Direct ')).toThrow(/“Direct” is none\. Type its price/);
  });

  it('cost what they cost with all their parts', () => {
    const shelf = parseEnclosure('Shelf: 12 slots, 900 + rails 60 + tray 12 each');
    expect(priceWith(shelf, 7)).toBe(900 + 60 + 7 * 12);
    expect(priceWith(parseSizingConnection('c: card 120 + cable 40 over Ethernet 10 Gb/s'), 7)).toBe(160);
  });

  it.each([
    ['Box', /Type its slots/],
    ['Box: 8 slots', /Type its slots/],
    ['Box: 8 slots, -3', /is no price/],
    ['Box: 8 slots, dear', /is no price/],
    ['Box: 8 slots, 30 + tray', /“tray”.*is no price/],
    ['Box: 99 slots, 3', /more than any box/],
    ['Box: 8 slots over string, 3', /no link known/],
    ['Shelf: 12 slots over USB 3.2, 900', /may carry 5, 10 or 20/],
    ['Shelf: 12 slots over string, 900', /“string” is no link/],
  ])('the enclosure “%s” is refused', (line, fault) => expect(() => parseEnclosure(line)).toThrow(fault));

  it.each([
    ['10 Gb/s: 190', /Type its price/],
    ['10 Gb/s: card over Ethernet 10 Gb/s', /“card”.*is no price/],
    ['10 Gb/s: 190 over string', /no link known/],
  ])('the connection “%s” is refused', (line, fault) => expect(() => parseSizingConnection(line)).toThrow(fault));
});

describe('which drives a project may be built of', () => {
  const drives = [
    { label: 'Anchor 16T', price: 290 },
    { label: 'Petrel 2T', price: 180 },
    { label: 'Jetty share', price: null },
  ];

  it.each([
    'Anchor 16T',
    'Anchor 16T: 4 there',
    'Petrel 2T: at most 6',
    'Petrel 2T: 2 there, at most 6',
    'Anchor 16T: 4 there, 2 there for second copy, 3 there for away',
    'Anchor 16T: 2 there for away, at most 8',
  ])('“%s” is read and written again', (line) => expect(driveChoiceLine(parseDriveChoice(line))).toBe(line));

  it('may be sixty of a kind, all of them there, and are told by store', () => {
    expect(parseDriveChoice('  Anchor : 60 there , at most 60 ')).toEqual({
      ...{ label: 'Anchor', there: 60, thereFor: [], most: 60 },
    });
    expect(() => parseDriveChoice('Anchor: 61 there')).toThrow(/at most 60 of a kind/);
    expect(() => parseDriveChoice('Anchor: at most 61')).toThrow(/at most 60 of a kind/);
    expect(() => parseDriveChoice('Anchor: 5 there, at most 4')).toThrow(
      /more are there than may be used.*at most be 5/,
    );
    const anchor = parseDriveChoice('Anchor: 1 there, 2 there for away, 3 there for second copy, 4 there for away');
    expect(anchor.thereFor).toEqual([
      { store: 'second', count: 3 },
      { store: 'away', count: 4 },
    ]);
    expect(STORES.map((store) => thereOn(store, anchor))).toEqual([1, 3, 4]);
    expect(STORES.map((store) => thereOn(store, NONE_THERE))).toEqual([0, 0, 0]);
    expect(() => parseDriveChoice(' Anchor : soon ')).toThrow(/“Anchor : soon” cannot be read/);
  });

  it('are all where none is named, else those that are', () => {
    expect(chosenDrives(drives, []).map(({ label, there, most }) => [label, there, most])).toEqual([
      ['Anchor 16T', 0, null],
      ['Petrel 2T', 0, null],
    ]);
    expect(chosenDrives(drives, [parseDriveChoice('petrel 2t: 2 there, at most 6')])).toEqual([
      { label: 'Petrel 2T', price: 180, there: 2, thereFor: [], most: 6 },
    ]);
    expect(() => chosenDrives(drives, [parseDriveChoice('Gannet')])).toThrow(/“Gannet”. There is: Anchor 16T, Petrel/);
  });

  it('without a price count as far as they are there, and cost nothing', () => {
    expect(chosenDrives(drives, [parseDriveChoice('Jetty share: 1 there')])).toEqual([
      { label: 'Jetty share', price: 0, there: 1, thereFor: [], most: 1 },
    ]);
    expect(() => chosenDrives(drives, [parseDriveChoice('Jetty share')])).toThrow(
      /“Jetty share” has no price.*1 there/,
    );
    expect(() => chosenDrives([], [parseDriveChoice('Gannet')])).toThrow(/None has a card yet/);
  });

  it.each([
    ': 4 there',
    'Anchor: some',
    'Anchor: 99 there',
    'Anchor: 4 there, at most 2',
    'Anchor: 4 there for away, at most 2',
    'Anchor: 4 there for good',
    'Anchor: at most 0',
  ])('“%s” is refused with a sentence', (line) => expect(() => parseDriveChoice(line)).toThrow(/^drives: /));
});

describe('enclosures and connections as people say them', () => {
  it.each([
    ['8 bay NAS, 1,299 EUR', '8 bay NAS: 8 slots, 1299'],
    ['Desk box: 8 bays, 420 EUR', 'Desk box: 8 slots, 420'],
    ['Desk box: 8 slots 10GbE 420 EUR', 'Desk box: 8 slots over Ethernet 10 Gb/s, 420'],
    [
      'Shelf: 12 bays over SAS 12G, 1,900 + tray 12 each, up to 3',
      'Shelf: 12 slots over SAS 12 Gb/s, 1900 + tray 12 each, at most 3',
    ],
  ])('%s', (typed, line) => expect(enclosureLine(parseEnclosure(typed))).toBe(line));

  it.each([
    ['10GbE card: 190 EUR', '10GbE card: 190 over Ethernet 10 Gb/s'],
    ['USB 3.2 Gen 2 cable: 20', 'USB 3.2 Gen 2 cable: 20 over USB 10 Gb/s'],
    ['Card: 190 over 25GbE', 'Card: 190 over Ethernet 25 Gb/s'],
  ])('%s', (typed, line) => expect(sizingConnectionLine(parseSizingConnection(typed))).toBe(line));
});
