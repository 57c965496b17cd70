import { schemaFault } from '#core/1-ground/schema/fault-words.ts';
import { array, boolean, number, object, string, type InferType } from 'yup';
import type { Field, FieldErrors, FieldTexts } from '#core/1-ground/fields/field.ts';
import { hopSchema, type Hop } from '#core/2-trade/links/connection.ts';
import { fieldTexts, readFields } from '#core/1-ground/fields/read-fields.ts';
import { BYTES, MONEY, RATE, SECONDS, SWITCH, TEXT, numberSuchAs } from '#core/1-ground/fields/kinds.ts';
import type { Money } from '#core/1-ground/units/money.ts';
import { HOPS } from '#core/2-trade/links/hop-line.ts';

const rate = () => number().positive().max(1e12).nullable().defined();
const laterRate = () => number().positive().max(1e12).optional().default(undefined).meta({ addedLater: true });
const amount = () => number().min(0).max(1e18).nullable().defined();

/** What a person knows of a drive beside what was measured; null for what nobody gave. */
export const driveDetailsSchema = object({
  /** What kind of drive it is, in the person's own words. */
  className: string().defined().max(80),
  /** As promised on its box, bytes per second. */
  ratedWriteBytesPerSecond: rate(),
  ratedReadBytesPerSecond: rate(),
  /** Behind its fast cache, where it has one; and how many bytes that takes. */
  ratedFloorBytesPerSecond: laterRate(),
  ratedFallBytes: number().min(0).max(1e18).optional().default(undefined).meta({ addedLater: true }),
  /** Of a spinning drive, on its inner tracks. */
  ratedInnerBytesPerSecond: laterRate(),
  /** Of one small read, seconds. */
  accessSeconds: number().positive().max(10).optional().default(undefined).meta({ addedLater: true }),
  /** In the person's own currency. */
  price: amount(),
  currency: string().defined().max(8),
  /** Bytes that it may be written before its promise ends. */
  enduranceBytes: amount(),
  /** Hours that it has run. */
  powerOnHours: amount(),
  firmware: string().defined().max(80),
  /** Loudness under load, dB(A), and the distance it was heard at, metres. */
  loudnessDecibels: number().min(0).max(140).nullable().defined(),
  loudnessMetres: number().positive().max(100).nullable().defined(),
  note: string().defined().max(4000),
  /** Its connection as typed, where the system tells none or another one; null for what the system says. */
  hops: array(hopSchema.required()).max(12).nullable().default(null),
  /** Nothing else is kept on it: it may be filled to its end. */
  usesAll: boolean().optional().default(undefined).meta({ addedLater: true }),
});
export type DriveDetails = InferType<typeof driveDetailsSchema>;

export const NO_DETAILS: DriveDetails = {
  className: '',
  ratedWriteBytesPerSecond: null,
  ratedReadBytesPerSecond: null,
  price: null,
  currency: '',
  enduranceBytes: null,
  powerOnHours: null,
  firmware: '',
  loudnessDecibels: null,
  loudnessMetres: null,
  note: '',
  hops: null,
};

export const driveLabelSchema = string().trim().required('label: a drive needs a name.').max(120);

const WHAT = 'What it is';
const BOX = 'On its box';
const OWN = 'Its life';
const LINK = 'How it is connected';

export const DRIVE_FIELDS: readonly Field[] = [
  { option: 'label', group: WHAT, label: 'Name', help: 'As you call it.', flag: 'label', kind: TEXT },
  {
    option: 'className',
    group: WHAT,
    label: 'Class',
    help: 'Such as portable flash, or 7,200 rpm.',
    flag: 'class',
    kind: TEXT,
  },
  {
    option: 'ratedWrite',
    group: BOX,
    label: 'Writes up to',
    help: 'The rate promised. Empty when not known.',
    flag: 'rated write',
    kind: RATE,
    empty: 'not known',
  },
  {
    option: 'ratedRead',
    group: BOX,
    label: 'Reads up to',
    help: 'The rate promised. Empty when not known.',
    flag: 'rated read',
    kind: RATE,
    empty: 'not known',
  },
  {
    option: 'ratedFloor',
    group: BOX,
    label: 'Then writes at',
    help: 'The rate behind its fast cache. Empty where it has none, or it is not known.',
    flag: 'rated floor',
    kind: RATE,
    empty: 'no slower',
  },
  {
    option: 'ratedFall',
    group: BOX,
    label: 'Falls after',
    help: 'What its fast cache takes, such as 190 GB. Empty to count on none of it.',
    flag: 'rated fall',
    kind: BYTES,
    empty: 'at once',
  },
  {
    option: 'ratedInner',
    group: BOX,
    label: 'On its inner tracks',
    help: 'Of a spinning drive, which is slower there. Empty for half of its rate.',
    flag: 'rated inner',
    kind: RATE,
    empty: 'half of it',
  },
  {
    option: 'access',
    group: BOX,
    label: 'Access time',
    help: 'Of one small read: 12 ms. Several streams and loads are told from it.',
    flag: 'access',
    kind: SECONDS,
    empty: 'not known',
  },
  {
    option: 'endurance',
    group: BOX,
    label: 'May be written',
    help: 'What its maker promises, such as 1200 TB.',
    flag: 'endurance',
    kind: BYTES,
    empty: 'not known',
  },
  {
    option: 'price',
    group: BOX,
    label: 'Price',
    help: 'What it cost you, with its currency: 189 EUR.',
    flag: 'price',
    kind: MONEY,
    empty: 'not known',
  },
  {
    option: 'hours',
    group: OWN,
    label: 'Hours it has run',
    help: 'As it tells them itself.',
    flag: 'hours',
    kind: numberSuchAs('1200'),
    empty: 'not known',
  },
  { option: 'firmware', group: OWN, label: 'Firmware', help: 'Its version.', flag: 'firmware', kind: TEXT },
  {
    option: 'loudness',
    group: OWN,
    label: 'Loudness under load',
    help: 'In dB(A) and the distance: 34 dB at 1 m.',
    flag: 'loudness',
    kind: TEXT,
    empty: 'not known',
  },
  {
    option: 'hops',
    group: LINK,
    label: 'Links, from the drive to the machine',
    help: 'One a line: PCIe 4.0 x4, USB 10 Gb/s at the hub, Ethernet 10 Gb/s; or a ceiling: Old adapter: 400 MB/s. Drives with a hop at the same place share it.',
    flag: 'connection',
    kind: HOPS,
    empty: 'as the system tells',
  },
  {
    option: 'usesAll',
    group: OWN,
    label: 'Nothing else is kept on it',
    help: 'Yes for a card that only waits for footage: it may be filled to its end. Otherwise 2 GB or 2 % of what is free are left alone.',
    flag: 'use-all',
    kind: SWITCH,
  },
  { option: 'note', group: OWN, label: 'Note', help: 'Anything else.', flag: 'note', kind: TEXT },
];

const LOUDNESS = /^(\d+(?:\.\d+)?)\s*dB(?:\(A\)|A)?\s*(?:at\s*(\d+(?:\.\d+)?)\s*(m|cm))?$/i;

/** A card as it is typed. */
export function driveTexts(label: string, details: DriveDetails): FieldTexts {
  const { price, currency, loudnessDecibels, loudnessMetres } = details;
  return fieldTexts(DRIVE_FIELDS, {
    label,
    className: details.className,
    ratedWrite: details.ratedWriteBytesPerSecond,
    ratedRead: details.ratedReadBytesPerSecond,
    ratedFloor: details.ratedFloorBytesPerSecond ?? null,
    ratedFall: details.ratedFallBytes ?? null,
    ratedInner: details.ratedInnerBytesPerSecond ?? null,
    access: details.accessSeconds ?? null,
    endurance: details.enduranceBytes,
    price: price === null ? null : { amount: price, currency },
    hours: details.powerOnHours,
    firmware: details.firmware,
    loudness:
      loudnessDecibels === null
        ? null
        : `${loudnessDecibels} dB${loudnessMetres === null ? '' : ` at ${loudnessMetres} m`}`,
    note: details.note,
    hops: details.hops,
    usesAll: details.usesAll ?? false,
  });
}

/** Without what nobody gave: such parts are left out of a document. */
const whereGiven = <Part extends object>(part: Part): { [Name in keyof Part]?: NonNullable<Part[Name]> } =>
  Object.fromEntries(Object.entries(part).filter(([, value]) => value !== null)) as never;

/** What a card's texts say; all faults at once. */
export function readDrive(texts: FieldTexts): {
  card: { label: string; details: DriveDetails } | null;
  errors: FieldErrors;
} {
  const { values, errors } = readFields(DRIVE_FIELDS, texts);
  const text = (option: string): string => (values[option] as string | null) ?? '';
  const given = <T>(option: string): T | null => (values[option] as T | null) ?? null;
  if (text('label') === '') errors['label'] = 'label: a drive needs a name.';
  const price = given<Money>('price');
  const loudness = text('loudness') === '' ? null : LOUDNESS.exec(text('loudness'));
  if (loudness === null && text('loudness') !== '')
    errors['loudness'] = `loudness: “${text('loudness')}” is no loudness. Type one such as 34 dB at 1 m.`;
  if (Object.keys(errors).length > 0) return { card: null, errors };
  const distance = loudness?.[2] === undefined ? null : Number(loudness[2]) / (loudness[3] === 'cm' ? 100 : 1);
  const details: DriveDetails = {
    className: text('className'),
    ratedWriteBytesPerSecond: given('ratedWrite'),
    ratedReadBytesPerSecond: given('ratedRead'),
    price: price?.amount ?? null,
    currency: price?.currency ?? '',
    enduranceBytes: given('endurance'),
    powerOnHours: given('hours'),
    firmware: text('firmware'),
    loudnessDecibels: loudness ? Number(loudness[1]) : null,
    loudnessMetres: distance,
    note: text('note'),
    hops: given<Hop[]>('hops'),
    ...whereGiven({
      ratedFloorBytesPerSecond: given<number>('ratedFloor'),
      ratedFallBytes: given<number>('ratedFall'),
      ratedInnerBytesPerSecond: given<number>('ratedInner'),
      accessSeconds: given<number>('access'),
      usesAll: given<boolean>('usesAll') || null,
    }),
  };
  try {
    driveDetailsSchema.validateSync(details, { strict: true });
  } catch (error) {
    return { card: null, errors: { note: schemaFault(error).sentence } };
  }
  return { card: { label: text('label'), details }, errors };
}
