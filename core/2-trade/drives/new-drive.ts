import type { Field, FieldErrors, FieldTexts } from '#core/1-ground/fields/field.ts';
import { BYTES, TEXT, choiceOf } from '#core/1-ground/fields/kinds.ts';
import { readFields } from '#core/1-ground/fields/read-fields.ts';
import { Problem } from '#core/1-ground/problem.ts';
import { bytesText, decibelText, formatDuration, rateText } from '#core/1-ground/units/format.ts';
import { moneyText } from '#core/1-ground/units/money.ts';
import { DRIVE_FIELDS, NO_DETAILS, driveTexts, readDrive } from '#core/2-trade/drives/drive-details.ts';
import { parseDriveLine, type NewDrive } from '#core/2-trade/drives/drive-line.ts';
import { promiseLimits } from '#core/2-trade/drives/promise-limits.ts';
import { MEDIA, MEDIUM_NAMES, mediumText, type Medium } from '#core/2-trade/drives/medium.ts';

/** The form of a drive that is not here: a line, or what stands in its fields, or both. */

const LINE = 'In one line';
const SIZE = 'What it is';

const OWN_FIELDS: readonly Field[] = [
  {
    option: 'line',
    group: LINE,
    label: 'As it stands on its box',
    help: 'Such as 20 TB spinning, 265 MB/s, 12 ms, SATA, 530 EUR. What stands below counts beside it.',
    flag: 'line',
    kind: TEXT,
  },
  {
    option: 'capacity',
    group: SIZE,
    label: 'Capacity',
    help: 'Such as 20 TB.',
    flag: 'capacity',
    kind: BYTES,
    empty: 'as in the line',
  },
  {
    option: 'medium',
    group: SIZE,
    label: 'Medium',
    help: 'A share behind a network is a drive too.',
    flag: 'medium',
    kind: choiceOf([['', 'as in the line'], ...MEDIA.map((medium) => [medium, MEDIUM_NAMES[medium]] as const)]),
  },
];

export const NEW_DRIVE_FIELDS: readonly Field[] = [...OWN_FIELDS, ...DRIVE_FIELDS];

/** Everything is empty: what is typed is all that is known. */
export const newDriveTexts = (): FieldTexts =>
  Object.fromEntries(NEW_DRIVE_FIELDS.map(({ option }) => [option, option === 'usesAll' ? 'no' : '']));

/** What was typed of a drive, all faults at once; a field counts before the line. */
export function readNewDrive(texts: FieldTexts): { kept: NewDrive | null; errors: FieldErrors } {
  const line = (texts['line'] ?? '').trim();
  const { values, errors } = readFields(OWN_FIELDS.slice(1), texts);
  let base: NewDrive = { label: '', medium: 'unknown', capacityBytes: 0, details: NO_DETAILS };
  if (line !== '') {
    try {
      base = parseDriveLine(line);
    } catch (error) {
      errors['line'] = (error as Problem).detail;
    }
  }
  const given = Object.fromEntries(Object.entries(texts).filter(([, text]) => text.trim() !== ''));
  const card = readDrive({ ...driveTexts(base.label || nameless(values), base.details), ...given });
  const capacityBytes = (values['capacity'] as number | null) ?? base.capacityBytes;
  const all = { ...card.errors, ...errors };
  if (capacityBytes <= 0 && all['line'] === undefined)
    all['capacity'] ??= 'capacity: say how large it is, such as 20 TB.';
  if (Object.keys(all).length > 0 || card.card === null) return { kept: null, errors: all };
  const medium = ((values['medium'] as string) || base.medium) as Medium;
  return { kept: { ...card.card, medium, capacityBytes }, errors: {} };
}

/** A drive without a name is called by its size, once that is known. */
const nameless = (values: Record<string, unknown>): string =>
  values['capacity'] ? `${bytesText(values['capacity'] as number).replaceAll(/\s/g, ' ')} drive` : '';

/** What a line was taken for, as it is typed: “20 TB spinning, writes 265 MB/s, reads 265 MB/s …”. */
export function newDriveText({ label, medium, capacityBytes, details }: NewDrive): string {
  const { ratedWriteBytesPerSecond: write, ratedReadBytesPerSecond: read, ratedFloorBytesPerSecond: floor } = details;
  const inner = details.ratedInnerBytesPerSecond;
  const taken = [
    `${label}: ${bytesText(capacityBytes)}, ${mediumText(medium)}${details.className === '' ? '' : ` (${details.className})`}`,
    write === null ? 'writing not known' : `writes ${rateText(write)}`,
    ...(floor === undefined
      ? []
      : [`then ${rateText(floor)}${details.ratedFallBytes ? ` after ${bytesText(details.ratedFallBytes)}` : ''}`]),
    read === null ? 'reading not known' : `reads ${rateText(read)}`,
    ...(medium === 'spinning' && (write ?? read) !== null
      ? [`${rateText(inner ?? (write ?? read)! / 2)}${inner === undefined ? ' assumed' : ''} on its inner tracks`]
      : []),
    ...(details.accessSeconds === undefined ? [] : [`access in ${formatDuration(details.accessSeconds)}`]),
    ...(details.hops === null ? [] : [`behind ${details.hops.map((hop) => hop.label).join(' and ')}`]),
    ...(details.enduranceBytes === null ? [] : [`may be written ${bytesText(details.enduranceBytes)}`]),
    ...(details.loudnessDecibels === null ? [] : [`${decibelText(details.loudnessDecibels)}(A)`]),
    ...(details.price === null ? [] : [moneyText(details.price, details.currency)]),
  ].join(', ');
  const limits = promiseLimits(details);
  return limits.length === 0 ? taken : `${taken}. ${limits.join(' ')}`;
}
