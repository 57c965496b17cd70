import type { Field, FieldErrors, FieldTexts } from '#core/1-ground/fields/field.ts';
import { fieldTexts, readFields } from '#core/1-ground/fields/read-fields.ts';
import type { Problem } from '#core/1-ground/problem.ts';
import {
  CALENDAR,
  DATE,
  LENGTH_IN_DAYS,
  MOST_DAYS,
  withEnds,
  type CalendarPart,
} from '#core/5-answers/sizing/calendar.ts';
import { withCalendar, type Material, MATERIALS } from '#core/5-answers/sizing/material.ts';
import { MOST_DRIVES, MOST_SPARES, USUAL_POLICY, type SizingPlan } from '#core/5-answers/sizing/project.ts';
import {
  AMOUNT_OF_MONEY,
  COUNT,
  SHARE,
  SOME_SECONDS,
  SWITCH,
  TEXT,
  choiceOf,
  countFrom,
  numberSuchAs,
} from '#core/1-ground/fields/kinds.ts';
import { currenciesIn } from '#core/1-ground/units/money.ts';
import { CONNECTIONS, ENCLOSURES } from '#core/5-answers/sizing/part-lines.ts';
import { DRIVE_CHOICE, chosenDrives, type DriveChoice } from '#core/5-answers/sizing/drive-choice.ts';

/** The group that material is in; lines made of a workload are offered after it. */
export const WHAT = 'The project';
const PARTS = 'What there is to build with';
const POLICY = 'What it must do';
const COPIES = 'Copies elsewhere';
const WEAR = 'Care';

export const SIZING_FIELDS: readonly Field[] = [
  { option: 'name', group: WHAT, label: 'Name', help: 'As you call it.', flag: 'name', kind: TEXT },
  {
    option: 'days',
    group: WHAT,
    label: 'Days',
    help: 'From the first to the last, off days counted: 42, or 6 weeks.',
    flag: 'days',
    kind: LENGTH_IN_DAYS,
  },
  {
    option: 'startsOn',
    group: WHAT,
    label: 'First day',
    help: 'Its date, such as 2027-03-01: days are then told with their dates.',
    flag: 'first day',
    kind: DATE,
    empty: 'not known',
  },
  {
    option: 'phases',
    group: WHAT,
    label: 'Calendar',
    help: 'Its parts, one a line: Shooting: 6 weeks, 5 days a week; what follows it: Finishing: 8 weeks; or Mix: days 31–86.',
    flag: 'calendar',
    kind: CALENDAR,
  },
  {
    option: 'materials',
    group: WHAT,
    label: 'Material',
    help: 'One kind a line. Cameras: 3 × 3840x2160 VC-3 444 25p × 4 h a day, during Shooting, keep 60 days, second copy, away 90 days. Cache: 420 frames × 1.6 GB a day, days 31–64, keep 2 weeks. Once: Plates: 800 GB, day 12. A share: Proxies: 5 % of Cameras.',
    flag: 'material',
    kind: MATERIALS,
  },
  {
    option: 'growthShare',
    group: WHAT,
    label: 'Growth reserve',
    help: 'A share on top of everything, such as 10 %.',
    flag: 'growth',
    kind: SHARE,
  },
  {
    option: 'choice',
    group: PARTS,
    label: 'Drives',
    help: 'One a line; empty for all whose card has a price. Those that are there cost nothing: Anchor 16T: 4 there, 2 there for second copy, at most 8.',
    flag: 'drive',
    kind: DRIVE_CHOICE,
  },
  {
    option: 'enclosures',
    group: PARTS,
    label: 'Enclosures',
    help: 'One a line, with slots and price: Desk box: 8 slots, 420. With what its slots carry and its parts: Shelf: 12 slots over SATA 6 Gb/s, 900 + tray 12 each. Several side by side: Shelf: 12 slots, 900, at most 3.',
    flag: 'enclosure',
    kind: ENCLOSURES,
  },
  {
    option: 'connections',
    group: PARTS,
    label: 'Connections',
    help: 'With its price, or those of its parts: 10 Gb/s: card 120 + cable 40 over Ethernet 10 Gb/s; “shared” behind the price of what serves all stores. Several links: over A + B; none that binds: over nothing.',
    flag: 'connection',
    kind: CONNECTIONS,
  },
  {
    option: 'currency',
    group: PARTS,
    label: 'Currency',
    help: 'Of all prices.',
    flag: 'currency',
    kind: TEXT,
  },
  {
    option: 'units',
    group: PARTS,
    label: 'Amounts in',
    help: 'TB are 10^12 bytes, as makers count; TiB are 2^40, as some systems show.',
    flag: 'units',
    kind: choiceOf([
      ['decimal', 'TB'],
      ['binary', 'TiB'],
    ]),
  },
  {
    option: 'mostDrives',
    group: PARTS,
    label: 'Drives at most',
    help: `In one build, 1 to ${MOST_DRIVES}.`,
    flag: 'drives at most',
    kind: COUNT,
  },
  {
    option: 'mostSpares',
    group: PARTS,
    label: 'Hot spares at most',
    help: `0 to ${MOST_SPARES}.`,
    flag: 'spares',
    kind: countFrom(0),
  },
  {
    option: 'leastSpares',
    group: PARTS,
    label: 'Hot spares at least',
    help: `0 to ${MOST_SPARES}; 1 where a spare has to be there.`,
    flag: 'spares at least',
    kind: countFrom(0),
  },
  {
    option: 'survives',
    group: POLICY,
    label: 'Failed drives it survives',
    help: '0, 1 or 2.',
    flag: 'may fail',
    kind: countFrom(0),
  },
  {
    option: 'holdsDegraded',
    group: POLICY,
    label: 'Holds with one gone',
    help: 'The workload has to hold then too.',
    flag: 'degraded',
    kind: SWITCH,
  },
  {
    option: 'needsProof',
    group: POLICY,
    label: 'Only what is proven',
    help: 'No: what no run has proven counts by the floors that were seen, or by what was typed of a drive, and its sentence says so.',
    flag: 'proven',
    kind: SWITCH,
  },
  {
    option: 'headroomShare',
    group: POLICY,
    label: 'Headroom',
    help: 'Of the rate, beyond the demand.',
    flag: 'headroom',
    kind: SHARE,
  },
  {
    option: 'fillLimit',
    group: POLICY,
    label: 'Filled at most',
    help: 'Drives and filesystems slow down when they are full.',
    flag: 'fill',
    kind: SHARE,
  },
  {
    option: 'filesystemShare',
    group: POLICY,
    label: 'For the filesystem',
    help: 'What it keeps for itself.',
    flag: 'filesystem',
    kind: SHARE,
  },
  {
    option: 'efficiency',
    group: POLICY,
    label: 'Layout efficiency',
    help: 'What is left of the drives’ rates together, beside their dips.',
    flag: 'efficiency',
    kind: SHARE,
  },
  {
    option: 'budget',
    group: POLICY,
    label: 'Budget',
    help: 'Of all stores: drives, enclosures and connections together.',
    flag: 'budget',
    kind: AMOUNT_OF_MONEY,
    empty: 'none',
  },
  {
    option: 'copySurvives',
    group: COPIES,
    label: 'Drives of a copy that may fail',
    help: '0, 1 or 2, of second copies and of those away.',
    flag: 'copies may fail',
    kind: countFrom(0),
  },
  {
    option: 'copySeconds',
    group: COPIES,
    label: 'A day is copied in',
    help: 'Time there is for what came in a day.',
    flag: 'copied in',
    kind: SOME_SECONDS,
  },
  {
    option: 'copyVerified',
    group: COPIES,
    label: 'Read back',
    help: 'Within that time each copy is also read back and compared.',
    flag: 'read back',
    kind: SWITCH,
  },
  {
    option: 'mostDecibels',
    group: WEAR,
    label: 'Loudness at most',
    help: 'dB(A), all drives of one store together.',
    flag: 'loudness',
    kind: numberSuchAs('34'),
    empty: 'any',
  },
  {
    option: 'leastYears',
    group: WEAR,
    label: 'Years it must last',
    help: 'By what its drives may be written.',
    flag: 'years',
    kind: numberSuchAs('3'),
    empty: 'any',
  },
  {
    option: 'amplification',
    group: WEAR,
    label: 'Written to the medium',
    help: 'Bytes for each byte of data, from 1.',
    flag: 'amplification',
    kind: numberSuchAs('1.5', 1),
  },
  {
    option: 'rebuildShare',
    group: WEAR,
    label: 'Rate left for a rebuild',
    help: 'While the storage is used.',
    flag: 'rebuild',
    kind: SHARE,
  },
  {
    option: 'errorsPerBit',
    group: WEAR,
    label: 'Unreadable bits',
    help: 'Chance for each bit read, from the data sheet.',
    flag: 'unreadable',
    kind: numberSuchAs('1e-15'),
  },
];

const PLAN_FIELDS = [
  'name',
  'days',
  'startsOn',
  'currency',
  'units',
  'phases',
  'choice',
  'materials',
  'enclosures',
  'connections',
] as const;

const POLICY_FIELDS = [
  'growthShare',
  'mostDrives',
  'mostSpares',
  'leastSpares',
  'survives',
  'holdsDegraded',
  'needsProof',
  'headroomShare',
  'fillLimit',
  'filesystemShare',
  'efficiency',
  'budget',
  'mostDecibels',
  'leastYears',
  'amplification',
  'copySurvives',
  'copySeconds',
  'copyVerified',
  'rebuildShare',
  'errorsPerBit',
] as const;

export const planTexts = ({ policy, ...plan }: SizingPlan): FieldTexts =>
  fieldTexts(SIZING_FIELDS, { ...plan, ...policy });

/** What two plans say differently, field by field, as both are typed; the first one’s first. */
export function planDifferences(
  theirs: FieldTexts,
  mine: FieldTexts,
): { label: string; theirs: string; mine: string }[] {
  return SIZING_FIELDS.map(({ option, label }) => ({
    label,
    theirs: (theirs[option] ?? '').trim(),
    mine: (mine[option] ?? '').trim(),
  })).filter((one) => one.theirs !== one.mine);
}

/** Prices in another currency than that of the project cannot be added up. */
function addCurrencyFaults(texts: FieldTexts, currency: unknown, errors: FieldErrors): void {
  if (typeof currency !== 'string' || currency.trim() === '') return;
  for (const option of ['enclosures', 'connections', 'budget']) {
    const other = currenciesIn(texts[option] ?? '').find((one) => one !== currency.trim().toUpperCase());
    if (other !== undefined) {
      errors[option] ??=
        `${called(option)}: a price is in ${other}, and the project reckons in ${currency}. Type all in one.`;
    }
  }
}

const LENGTH_FIELD = SIZING_FIELDS.filter(({ option }) => option === 'days');

/** What a field is called in sentences on its faults. */
const called = (option: string): string => SIZING_FIELDS.find((field) => field.option === option)!.flag;

/**
 * A plan from texts; all faults at once.
 * @param drives that have a card, which lines of drives name; null where they are not known here
 */
export function readPlan(
  typed: FieldTexts,
  drives: readonly { label: string; price: number | null }[] | null = null,
): { plan: SizingPlan | null; errors: FieldErrors } {
  const length = readFields(LENGTH_FIELD, typed).values['days'];
  const ended = (option: string) =>
    typeof length === 'number' && typed[option] !== undefined ? { [option]: withEnds(typed[option], length) } : {};
  const texts = { ...typed, ...ended('materials'), ...ended('phases') };
  const { values, errors } = readFields(SIZING_FIELDS, texts);
  const within = (option: string, least: number, most: number) => {
    const value = values[option];
    if (typeof value === 'number' && (value < least || value > most)) {
      errors[option] = `${called(option)}: must be from ${least} to ${most}.`;
    }
  };
  within('days', 1, MOST_DAYS);
  within('mostDrives', 1, MOST_DRIVES);
  within('mostSpares', 0, MOST_SPARES);
  within('leastSpares', 0, MOST_SPARES);
  within('survives', 0, 2);
  within('fillLimit', 0.05, 1);
  within('efficiency', 0.05, 1);
  within('filesystemShare', 0, 0.9);
  within('copySurvives', 0, 2);
  within('copySeconds', 60, 7 * 86_400);
  within('rebuildShare', 0.05, 1);
  within('errorsPerBit', 1e-30, 1e-6);
  addCurrencyFaults(texts, values['currency'], errors);
  const { leastSpares, mostSpares } = values;
  if (typeof leastSpares === 'number' && typeof mostSpares === 'number' && leastSpares > mostSpares) {
    errors['leastSpares'] ??= `${called('leastSpares')}: more are wanted than there may be: at most ${mostSpares}.`;
  }
  for (const list of ['materials', 'enclosures', 'connections']) {
    if (Array.isArray(values[list]) && values[list].length === 0)
      errors[list] = `${called(list)}: at least one line is needed.`;
  }
  const { choice } = values as { choice?: DriveChoice[] };
  if (drives !== null && choice) {
    try {
      chosenDrives(drives, choice);
    } catch (error) {
      errors['choice'] = (error as Problem).detail;
    }
  }
  const { materials, phases } = values as { materials?: Material[]; phases?: CalendarPart[] };
  if (materials && phases) {
    try {
      const dated = withCalendar(materials, phases);
      const late = dated.find(({ fromDay }) => typeof values.days === 'number' && fromDay > values.days);
      if (late) {
        errors.materials = `material: “${late.name}” comes from day ${late.fromDay} on, and the project ends on day ${String(values.days)}.`;
      }
      values.materials = dated;
    } catch (error) {
      errors.materials = (error as Problem).detail;
    }
  }
  if (Object.keys(errors).length > 0) return { plan: null, errors };
  const policy = {
    ...USUAL_POLICY,
    ...Object.fromEntries(POLICY_FIELDS.map((option) => [option, values[option]])),
  };
  const plan = Object.fromEntries(PLAN_FIELDS.map((option) => [option, values[option]]));
  return { plan: { ...plan, policy } as SizingPlan, errors };
}
