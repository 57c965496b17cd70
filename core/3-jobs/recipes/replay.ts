import { array, object, type InferType } from 'yup';
import { chunksOf, phaseBytes, phaseSchema, type Phase } from '#core/3-jobs/demand/loads/load-item.ts';
import { addSeconds, secondsFor, type RecipeKind } from '#core/3-jobs/recipes/recipe-kind.ts';
import { bytesText, formatDuration } from '#core/1-ground/units/format.ts';
import { PHASES } from '#core/3-jobs/demand/loads/phase-line.ts';

/** Something to start from: a program that starts. */
const EXAMPLE: Phase = {
  name: 'Launch',
  processorSeconds: 7,
  bytes: 1.4e9,
  requestBytes: 128 * 1024,
  parallel: 4,
  operations: 0,
  overlapShare: 0.3,
  limitSeconds: 25,
  stream: null,
};

/** Options of the recipe *Replay*, with its defaults. */
export const replayOptionsSchema = object({
  phases: array(phaseSchema.required())
    .min(1, 'phases: name at least one.')
    .max(64, 'phases: at most 64 lines.')
    .required('phases: name at least one.')
    .test(
      'reads',
      'phases: none of them reads anything, so there is nothing to replay.',
      // What is no phase is reported by its own schema.
      (phases: readonly ({ bytes?: number } | null)[] | undefined) =>
        phases?.some((phase) => phase?.bytes === undefined || phase.bytes > 0) ?? false,
    )
    .default([EXAMPLE]),
}).noUnknown('${unknown}: is no option of Replay.');
export type ReplayOptions = InferType<typeof replayOptionsSchema>;

/** What streams in is replayed for so many chunks: enough to see its pace. */
const MOST_CHUNKS = 120;

/** One transfer of a replay: a phase, or a chunk of one that streams. Passes are numbered from 1. */
export interface ReplayStep {
  pass: number;
  /** Number of the phase in the options, from 0. */
  phase: number;
  /** Whole requests, rounded up. */
  bytes: number;
  /** A power of two: that nearest to what was asked for. */
  blockBytes: number;
  parallel: number;
}

/** Requests are powers of two from 4 KiB to 16 MiB. */
export const requestBlock = ({ requestBytes }: Pick<Phase, 'requestBytes'>): number =>
  2 ** Math.min(24, Math.max(12, Math.round(Math.log2(requestBytes))));

/** Requests under way at the same time that a machine's threads can keep. */
const MOST_PARALLEL = 32;

/** The transfers of a replay in their order; phases that read nothing are pauses only. */
export function replaySteps({ phases }: Pick<ReplayOptions, 'phases'>): ReplayStep[] {
  const steps: ReplayStep[] = [];
  phases.forEach((phase, index) => {
    if (phase.bytes === 0) return;
    const blockBytes = requestBlock(phase);
    const parallel = Math.min(MOST_PARALLEL, phase.parallel);
    const bytes = Math.max(1, Math.ceil(phase.bytes / blockBytes)) * blockBytes;
    for (let chunk = 0; chunk < Math.min(MOST_CHUNKS, chunksOf(phase) || 1); chunk += 1) {
      steps.push({ pass: steps.length + 1, phase: index, bytes, blockBytes, parallel });
    }
  });
  return steps;
}

/** Stretch that has to lie on the drive: as large as the largest transfer. */
export const replayAreaBytes = (options: Pick<ReplayOptions, 'phases'>): number =>
  Math.max(0, ...replaySteps(options).map(({ bytes }) => bytes));

export const replayKind: RecipeKind<ReplayOptions> = {
  id: 'replay',
  label: 'Replay',
  purpose: 'Reads as a game, tool or archive does: its requests, so many at a time, with the pauses it computes in.',
  measures: 'phases',
  writesNames: false,
  readOnly: false,
  canBeHeld: false,
  hasTargets: false,
  options: replayOptionsSchema,
  fields: [
    {
      option: 'phases',
      group: 'What is replayed',
      label: 'Phases, one a line',
      help: 'Name: 4 s processor, 1.8 GB in 64 KiB x8, overlap 40%. Files are not opened one by one; limits are only drawn.',
      flag: 'phase',
      kind: PHASES,
    },
  ],
  summary({ phases }) {
    const bytes = phases.reduce((sum, phase) => sum + phaseBytes(phase), 0);
    const processor = phases.reduce((sum, { processorSeconds }) => sum + processorSeconds, 0);
    return `${phases.length} ${phases.length === 1 ? 'phase' : 'phases'}, ${bytesText(bytes)} read, ${formatDuration(processor)} computing`;
  },
  cost(options, { writeBytesPerSecond, readBytesPerSecond }) {
    const area = replayAreaBytes(options);
    const read = replaySteps(options).reduce((sum, { bytes }) => sum + bytes, 0);
    const pauses = options.phases.reduce(
      (sum, { processorSeconds, stream }) =>
        sum + (stream ? Math.min(stream.forSeconds, MOST_CHUNKS * stream.everySeconds) : processorSeconds),
      0,
    );
    return {
      writtenBytes: area,
      readBytes: read,
      spaceBytes: area,
      seconds: addSeconds(secondsFor(area, writeBytesPerSecond), secondsFor(read, readBytesPerSecond), pauses),
    };
  },
};
