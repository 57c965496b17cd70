import { array, number, object, string, type InferType } from 'yup';
import { DIRECTIONS } from '#core/1-ground/curves/direction.ts';
import { BYTES, SECONDS } from '#core/1-ground/fields/kinds.ts';
import { bytesText, formatDuration, rateText } from '#core/1-ground/units/format.ts';
import { BETWEEN, takeBytesOf, type Demand } from '#core/3-jobs/demand/demand.ts';
import {
  DEFAULT_BLOCK_BYTES,
  blockBytesSchema,
  blockField,
  bytesSchema,
  dataField,
  dataSchema,
  depthField,
  depthSchema,
  secondsSchema,
} from '#core/3-jobs/recipes/option-fields.ts';
import { secondsFor, type RecipeKind } from '#core/3-jobs/recipes/recipe-kind.ts';

/** So long it measures where nothing else is said. */
export const MOST_SECONDS = 600;

const ACTS = ['record', 'play', 'simulate', 'load'] as const;

const jobFields = {
  name: string().required().max(300),
  direction: string().oneOf(DIRECTIONS).required(),
  act: string().oneOf(ACTS).required(),
  bytesPerSecond: number().moreThan(0).required(),
  peakBytesPerSecond: number().min(0).required(),
  burstBytes: number().min(0).required(),
  framesPerSecond: number().moreThan(0).nullable().defined(),
  bytesPerFrame: number().min(0).required(),
  streams: number().integer().min(1).required(),
  takeSeconds: number().moreThan(0).required(),
  takes: number().integer().min(1).required(),
  gapSeconds: number().min(0).required(),
  between: string().oneOf(BETWEEN).required(),
  takeOffSeconds: number().min(0).nullable().defined(),
  bufferBytes: number().min(0).required(),
  formatText: string().defined().max(600),
};
/** What a job asks of the drive: a demand without its curve, which only the verdict afterwards looks at. */
const jobSchema = object({
  ...jobFields,
  /** Of a sum of several: each with its own length and buffer. */
  parts: array(object(jobFields).required()).max(64).required(),
});
export type Job = InferType<typeof jobSchema>;

/** Options of the recipe *Until it is decided*, with its defaults. */
export const untilDecidedOptionsSchema = object({
  jobs: array(jobSchema.required())
    .min(1, 'jobs: name at least one.')
    .max(64, 'jobs: at most 64.')
    .required()
    .default([
      {
        name: 'One camera',
        direction: 'write',
        act: 'record',
        bytesPerSecond: 182_169_600,
        peakBytesPerSecond: 182_169_600,
        burstBytes: 0,
        framesPerSecond: 25,
        bytesPerFrame: 7_286_784,
        streams: 1,
        takeSeconds: 600,
        takes: 1,
        gapSeconds: 0,
        between: 'stay',
        takeOffSeconds: null,
        bufferBytes: 182_169_600,
        formatText: '3840x2160 vc3-444 at 25',
        parts: [],
      },
    ]),
  /** Share of a rate that must be left over for *Holds*. */
  headroomShare: number().min(0).max(2).default(0.25),
  /** Longest that it may write and watch. */
  mostSeconds: secondsSchema('within', 10, 24 * 3600).default(MOST_SECONDS),
  /** Most that it may write; null for half of the room. */
  mostBytes: bytesSchema('at-most').nullable().default(null),
  blockBytes: blockBytesSchema.default(DEFAULT_BLOCK_BYTES),
  depth: depthSchema.default(4),
  data: dataSchema,
}).noUnknown('${unknown}: is no option of Until it is decided.');
export type UntilDecidedOptions = InferType<typeof untilDecidedOptionsSchema>;

/** A demand as a job of a run. A curve becomes its average with the bytes by which it exceeds it. */
export function jobOf(demand: Demand): Job {
  const { curve, itemId, isSum, parts, ...fields } = demand;
  void [curve, itemId, isSum];
  return {
    ...fields,
    name: demand.name || demand.formatText.slice(0, 300) || 'Job',
    formatText: demand.formatText.slice(0, 600),
    parts: parts.map((part) => {
      const { parts: none, ...own } = jobOf(part);
      void none;
      return own;
    }),
  };
}

/** A job of a run as the demand that is judged. @param index its number in the list */
export function demandOfJob(job: Job, index: number): Demand {
  const parts = job.parts.map((part, number) => demandOfJob({ ...part, parts: [] }, number));
  return { ...job, itemId: `job-${index}`, curve: null, isSum: parts.length > 0, parts };
}

/** Bytes that the run itself has to have moved for a job to be decided by its own bytes: all takes that stay. */
export function ownBytesOf(demand: Demand): number {
  const staying = demand.direction === 'write' && demand.between === 'stay' ? demand.takes : 1;
  return takeBytesOf(demand) * staying;
}

/** Up to so much a volume is a card, and filling it is what it is there for. */
const CARD_BYTES = 64e9;

/**
 * Bytes that it may write: what was allowed, or half of the room; of a card all of it.
 * @param usesAll nothing else is kept there
 */
export const allowedBytes = (mostBytes: number | null, roomBytes: number, usesAll = false): number =>
  Math.min(mostBytes ?? (usesAll ? roomBytes : Math.max(roomBytes / 2, CARD_BYTES)), roomBytes);

export const untilDecidedKind: RecipeKind<UntilDecidedOptions> = {
  id: 'until-decided',
  label: 'Until it is decided',
  purpose: 'Writes, and reads, as long as a question needs and no longer: it ends when every job holds or breaks.',
  measures: 'levels',
  writesNames: false,
  readOnly: false,
  canBeHeld: true,
  hasTargets: false,
  isAsked: true,
  options: untilDecidedOptionsSchema,
  fields: [
    {
      option: 'mostSeconds',
      group: 'How long',
      label: 'At most',
      help: 'What is not decided by then is told with the run that would decide it.',
      flag: 'within',
      kind: SECONDS,
    },
    {
      option: 'mostBytes',
      group: 'How long',
      label: 'Writes at most',
      help: 'Less than the jobs ask for can only show that they break.',
      flag: 'at-most',
      kind: BYTES,
      empty: 'half of the room, all of a card’s',
    },
    blockField,
    depthField,
    dataField,
  ],
  summary({ jobs, mostSeconds, mostBytes }) {
    const most = mostBytes === null ? 'half of the room (all of a card’s)' : bytesText(mostBytes);
    const [first] = jobs;
    const what = jobs.length === 1 ? `${first!.name}, ${rateText(first!.bytesPerSecond)}` : `${jobs.length} jobs`;
    return `${what}, at most ${formatDuration(mostSeconds)} and ${most}`;
  },
  cost({ jobs, mostBytes, mostSeconds }, { writeBytesPerSecond, roomBytes }) {
    const demands = jobs.map(demandOfJob);
    const wanted = Math.max(...demands.map(ownBytesOf));
    const bytes = Math.min(wanted, allowedBytes(mostBytes, roomBytes));
    const reads = demands.filter(({ direction }) => direction === 'read').map(ownBytesOf);
    const seconds = secondsFor(bytes, writeBytesPerSecond);
    return {
      writtenBytes: bytes,
      readBytes: Math.min(bytes, Math.max(0, ...reads)),
      spaceBytes: bytes,
      seconds: seconds === null ? null : Math.min(seconds, mostSeconds),
      bound: 'most',
    };
  },
};
