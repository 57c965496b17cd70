import type { Field, FieldErrors, FieldTexts } from '#core/fields/field.ts';
import { fieldTexts, readFields } from '#core/fields/read-fields.ts';
import { USUAL_POLICY, type SizingPlan } from '#core/sizing/project.ts';

const WHAT = 'The project';
const PARTS = 'What there is to build with';
const POLICY = 'What it must do';
const WEAR = 'Care';

export const SIZING_FIELDS: readonly Field[] = [
  { option: 'name', group: WHAT, label: 'Name', help: 'As you call it.', flag: 'name', kind: { type: 'text' } },
  {
    option: 'days',
    group: WHAT,
    label: 'Days',
    help: 'From the first to the last, off days counted.',
    flag: 'days',
    kind: { type: 'count' },
  },
  {
    option: 'materials',
    group: WHAT,
    label: 'Material',
    help: 'One kind a line: Cameras: 3.2 TB a day, days 1–30, keep 60 days, 2 copies. Once: Plates: 800 GB, day 12.',
    flag: 'material',
    kind: { type: 'materials' },
  },
  {
    option: 'growthShare',
    group: WHAT,
    label: 'More than foreseen',
    help: 'A share on top of everything, such as 10 %.',
    flag: 'growth',
    kind: { type: 'share' },
  },
  {
    option: 'enclosures',
    group: PARTS,
    label: 'Enclosures',
    help: 'One a line, with slots and price: Desk box: 8 slots, 420.',
    flag: 'enclosure',
    kind: { type: 'enclosures' },
  },
  {
    option: 'connections',
    group: PARTS,
    label: 'Connections',
    help: 'Card, cable and switch in one price: 10 Gb/s card and cable: 190 over Ethernet 10 Gb/s. Several links: over A + B.',
    flag: 'connection',
    kind: { type: 'connections' },
  },
  {
    option: 'currency',
    group: PARTS,
    label: 'Currency',
    help: 'Of all prices.',
    flag: 'currency',
    kind: { type: 'text' },
  },
  {
    option: 'mostDrives',
    group: PARTS,
    label: 'Drives at most',
    help: 'In one build, 1 to 36.',
    flag: 'drives',
    kind: { type: 'count' },
  },
  {
    option: 'mostSpares',
    group: PARTS,
    label: 'Hot spares at most',
    help: '0 to 3.',
    flag: 'spares',
    kind: { type: 'count', least: 0 },
  },
  {
    option: 'survives',
    group: POLICY,
    label: 'Drives that may fail',
    help: '0, 1 or 2.',
    flag: 'may fail',
    kind: { type: 'count', least: 0 },
  },
  {
    option: 'holdsDegraded',
    group: POLICY,
    label: 'Holds with one gone',
    help: 'The workload has to hold then too.',
    flag: 'degraded',
    kind: { type: 'switch' },
  },
  {
    option: 'needsProof',
    group: POLICY,
    label: 'Only what is proven',
    help: 'No: what no run has proven counts by the floors that were seen, and is called not proven.',
    flag: 'proven',
    kind: { type: 'switch' },
  },
  {
    option: 'headroomShare',
    group: POLICY,
    label: 'Headroom',
    help: 'Of the rate, beyond the demand.',
    flag: 'headroom',
    kind: { type: 'share' },
  },
  {
    option: 'fillLimit',
    group: POLICY,
    label: 'Filled at most',
    help: 'Drives and filesystems slow down when they are full.',
    flag: 'fill',
    kind: { type: 'share' },
  },
  {
    option: 'filesystemShare',
    group: POLICY,
    label: 'For the filesystem',
    help: 'What it keeps for itself.',
    flag: 'filesystem',
    kind: { type: 'share' },
  },
  {
    option: 'efficiency',
    group: POLICY,
    label: 'Layout efficiency',
    help: 'What is left of the drives’ rates together.',
    flag: 'efficiency',
    kind: { type: 'share' },
  },
  {
    option: 'budget',
    group: POLICY,
    label: 'Budget',
    help: 'Drives, enclosure and connection together.',
    flag: 'budget',
    kind: { type: 'number', example: '5000' },
    empty: 'none',
  },
  {
    option: 'mostDecibels',
    group: WEAR,
    label: 'Loudness at most',
    help: 'dB(A), all drives together.',
    flag: 'loudness',
    kind: { type: 'number', example: '34' },
    empty: 'any',
  },
  {
    option: 'leastYears',
    group: WEAR,
    label: 'Years it must last',
    help: 'By what its drives may be written.',
    flag: 'years',
    kind: { type: 'number', example: '3' },
    empty: 'any',
  },
  {
    option: 'amplification',
    group: WEAR,
    label: 'Written to the medium',
    help: 'Bytes for each byte of data, from 1.',
    flag: 'amplification',
    kind: { type: 'number', example: '1.5', least: 1 },
  },
];

const POLICY_FIELDS = [
  'growthShare',
  'mostDrives',
  'mostSpares',
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
] as const;

export const planTexts = ({ policy, ...plan }: SizingPlan): FieldTexts =>
  fieldTexts(SIZING_FIELDS, { ...plan, ...policy });

/** A plan from texts; all faults at once. */
export function readPlan(texts: FieldTexts): { plan: SizingPlan | null; errors: FieldErrors } {
  const { values, errors } = readFields(SIZING_FIELDS, texts);
  const within = (option: string, least: number, most: number) => {
    const value = values[option];
    if (typeof value === 'number' && (value < least || value > most)) {
      errors[option] = `${option}: must be from ${least} to ${most}.`;
    }
  };
  within('days', 1, 3650);
  within('mostDrives', 1, 36);
  within('mostSpares', 0, 3);
  within('survives', 0, 2);
  within('fillLimit', 0.05, 1);
  within('efficiency', 0.05, 1);
  within('filesystemShare', 0, 0.9);
  for (const list of ['materials', 'enclosures', 'connections']) {
    if (Array.isArray(values[list]) && values[list].length === 0)
      errors[list] = `${list}: at least one line is needed.`;
  }
  if (Object.keys(errors).length > 0) return { plan: null, errors };
  const policy = {
    ...USUAL_POLICY,
    ...Object.fromEntries(POLICY_FIELDS.map((option) => [option, values[option]])),
  };
  const { name, days, currency, materials, enclosures, connections } = values as unknown as SizingPlan;
  return { plan: { name, days, currency, materials, enclosures, connections, policy }, errors };
}
