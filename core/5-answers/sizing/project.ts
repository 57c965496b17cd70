import { array, boolean, number, object, string, type InferType } from 'yup';
import { workloadSchema } from '#core/3-jobs/demand/workload.ts';
import { parseDocument } from '#core/1-ground/schema/parse-document.ts';
import { MOST_DAYS, calendarPartSchema } from '#core/5-answers/sizing/calendar.ts';
import { driveChoiceSchema, drivesThereSchemas } from '#core/5-answers/sizing/drive-choice.ts';
import { LAYOUT_IDS } from '#core/5-answers/sizing/layouts.ts';
import { PLAIN_MATERIAL, materialSchema } from '#core/5-answers/sizing/material.ts';
import { priceSchema, sizingConnectionSchema, sizingEnclosureSchema } from '#core/5-answers/sizing/parts.ts';
import { stagesSchema } from '#core/5-answers/sizing/stages.ts';
import { MEDIA } from '#core/2-trade/drives/medium.ts';
import { profileSchema } from '#core/4-runs/supply/profile.ts';

/** A project to size storage for. Its JSON Schema is docs/formats/sizing.schema.json. */
export const SIZING_VERSION = 'sizing/1';

/** Drives and hot spares that one build has at most. */
export const MOST_DRIVES = 36;
export const MOST_SPARES = 3;

const share = () => number().min(0).max(1).required();

/** A kind of drive that builds can be made of. */
export const sizingDriveSchema = object({
  id: string().required().max(80),
  label: string().required().max(120),
  /** What it keeps its bytes on; a share behind a network is taken as it is, and put into no layout. */
  medium: string()
    .oneOf(MEDIA)
    .default('unknown' as const)
    .meta({ addedLater: true }),
  capacityBytes: number().positive().max(1e18).required(),
  price: priceSchema(),
  /** What one of them holds for ever; taken where no profile is given. Null for not known. */
  writeBytesPerSecond: number().positive().nullable().default(null),
  readBytesPerSecond: number().positive().nullable().default(null),
  enduranceBytes: number().positive().nullable().default(null),
  loudnessDecibels: number().min(0).max(140).nullable().default(null),
  ...drivesThereSchemas,
  /** What its runs testify; null where it was not measured. */
  profile: profileSchema.nullable().default(null),
});
export type SizingDrive = InferType<typeof sizingDriveSchema>;

/** Storage of its own behind a network: it needs no slot, and nobody here knows what it survives. */
export const isShare = ({ medium }: Pick<SizingDrive, 'medium'>): boolean => medium === 'network';

export const sizingPolicySchema = object({
  /** Of the rate, beyond the demand. */
  headroomShare: share(),
  fillLimit: number().moreThan(0).max(1).required(),
  filesystemShare: number().min(0).lessThan(1).required(),
  /** More than was foreseen. */
  growthShare: number().min(0).max(10).required(),
  /** What a layout leaves of its drives' rates, beside their dips, which are in their traces. */
  efficiency: number().moreThan(0).max(1).required(),
  /** Drives that must be allowed to fail. */
  survives: number().integer().min(0).max(2).required(),
  mostSpares: number().integer().min(0).max(MOST_SPARES).required(),
  /** Hot spares that there have to be. */
  leastSpares: number().integer().min(0).max(MOST_SPARES).default(0).meta({ addedLater: true }),
  mostDrives: number().integer().min(1).max(MOST_DRIVES).required(),
  layouts: array(string().oneOf(LAYOUT_IDS).required()).min(1).required(),
  budget: number().min(0).nullable().defined(),
  mostDecibels: number().min(0).max(140).nullable().defined(),
  leastYears: number().min(0).nullable().defined(),
  /** Bytes written to the medium for each byte of data. */
  amplification: number().min(1).max(100).required(),
  errorsPerBit: number().min(0).max(1e-6).required(),
  rebuildShare: number().moreThan(0).max(1).required(),
  /** Whether the workload has to hold with one drive gone. */
  holdsDegraded: boolean().required(),
  /** Whether a build counts only where runs prove that it holds; else floors seen and rates typed are believed. */
  needsProof: boolean().required(),
  /** Drives of a copy's storage that must be allowed to fail. */
  copySurvives: number().integer().min(0).max(2).default(0).meta({ addedLater: true }),
  /** Time in which what came in a day has to be copied. */
  copySeconds: number()
    .positive()
    .max(7 * 86_400)
    .default(8 * 3600)
    .meta({ addedLater: true }),
  /** Whether a copy is read back and compared within that time. */
  copyVerified: boolean().default(false).meta({ addedLater: true }),
});
export type SizingPolicy = InferType<typeof sizingPolicySchema>;

export const USUAL_POLICY: SizingPolicy = {
  headroomShare: 0.25,
  fillLimit: 0.8,
  filesystemShare: 0.02,
  growthShare: 0.1,
  efficiency: 0.9,
  survives: 1,
  mostSpares: 1,
  leastSpares: 0,
  mostDrives: 12,
  layouts: [...LAYOUT_IDS],
  budget: null,
  mostDecibels: null,
  leastYears: null,
  amplification: 1.5,
  errorsPerBit: 1e-15,
  rebuildShare: 0.5,
  holdsDegraded: false,
  needsProof: false,
  copySurvives: 0,
  copySeconds: 8 * 3600,
  copyVerified: true,
};

/** What a person types of a project; drives come from their cards, and the workload is the chosen one. */
export const sizingPlanSchema = object({
  name: string().required().max(120),
  /** Length of the project, days. */
  days: number().integer().min(1, 'days: a project lasts a day at least').max(MOST_DAYS).required(),
  currency: string().defined().max(8),
  /** Date of the first day; null where it is not known. */
  startsOn: string()
    .matches(/^\d{4}-\d\d-\d\d$/, 'startsOn: is no date such as 2027-03-01')
    .nullable()
    .default(null)
    .meta({ addedLater: true }),
  /** In which units amounts are reported: TB of 10^12 bytes, or TiB of 2^40. */
  units: string()
    .oneOf(['decimal', 'binary'] as const)
    .default('decimal' as const)
    .meta({ addedLater: true }),
  /** Parts of the project, such as shooting and finishing. */
  phases: array(calendarPartSchema.required()).max(40).default([]).meta({ addedLater: true }),
  /** Which of the drives with a card it may be built of; all of them where none is named. */
  choice: array(driveChoiceSchema.required()).max(40).default([]).meta({ addedLater: true }),
  materials: array(materialSchema.required()).min(1, 'materials: there is nothing to store').max(100).required(),
  enclosures: array(sizingEnclosureSchema.required()).min(1, 'enclosures: there is none').max(20).required(),
  connections: array(sizingConnectionSchema.required()).min(1, 'connections: there is none').max(20).required(),
  /** Days after the first on which drives are bought; none where all is bought at the beginning. */
  stages: stagesSchema(),
  policy: sizingPolicySchema.required(),
});
export type SizingPlan = InferType<typeof sizingPlanSchema>;

/** A plan with the drives themselves in place of their names, and with what has to be recorded and played. */
export const sizingSchema = sizingPlanSchema.omit(['choice']).shape({
  tavrox: string()
    .oneOf([SIZING_VERSION] as const)
    .required(),
  drives: array(sizingDriveSchema.required()).min(1, 'drives: there is none to build with').max(40).required(),
  /** What has to be recorded and played; null where capacity is all. */
  workload: workloadSchema.nullable().default(null),
});
export type Sizing = InferType<typeof sizingSchema>;

/** A plan as it is kept. */
export const projectSchema = object({
  id: string().required().max(80),
  example: boolean().required(),
  plan: sizingPlanSchema.required(),
  /** Drives that came with it from elsewhere and have no card here. */
  drives: array(sizingDriveSchema.required()).max(40).default([]).meta({ addedLater: true }),
  /** Counts how often it was kept: who changes it says which one they saw. */
  version: number().integer().min(0).default(0).meta({ addedLater: true }),
});
export type Project = InferType<typeof projectSchema>;

/** A plan to begin with where there is none. */
export const FIRST_PLAN: SizingPlan = {
  name: 'New project',
  days: 30,
  currency: 'EUR',
  startsOn: null,
  units: 'decimal',
  phases: [],
  choice: [],
  materials: [{ ...PLAIN_MATERIAL, toDay: 30 }],
  enclosures: [{ label: 'box', slots: 8, price: 0, parts: [], slot: null, most: 1 }],
  connections: [{ label: 'no link that binds', price: 0, parts: [], hops: [] }],
  stages: [],
  policy: USUAL_POLICY,
};

/** @throws Problem `bad-input` that names the place of the first fault */
export const parseSizing = (input: unknown): Sizing => sizingSchema.cast(parseDocument(sizingSchema, input, 'sizing'));

/** What is to be searched for a plan: its drives themselves stand in place of their names. */
export function sizingOfPlan(plan: SizingPlan, drives: SizingDrive[], workload: Sizing['workload']): Sizing {
  const { name, days, currency, startsOn, units, phases, materials, enclosures, connections, stages, policy } = plan;
  return {
    tavrox: SIZING_VERSION,
    ...{ name, days, currency, startsOn, units, phases, materials, enclosures, connections, stages, policy },
    drives,
    workload,
  };
}

/** The plan behind a sizing, which names its drives. */
export function planOfSizing({ drives, ...sizing }: Sizing): SizingPlan {
  const { name, days, currency, startsOn, units, phases, materials, enclosures, connections, stages, policy } = sizing;
  return {
    ...{ name, days, currency, startsOn, units, phases, materials, enclosures, connections, stages, policy },
    choice: drives.map(({ label, there, thereFor, most }) => ({ label, there, thereFor, most })),
  };
}
