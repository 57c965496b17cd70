import { array, number, object, string, type InferType } from 'yup';
import { itemIdSchema, itemNameSchema, kindSchema } from '#core/3-jobs/demand/item-kind.ts';
import { observationsSchema } from '#core/3-jobs/demand/observed/observation.ts';

export const LARGEST_REQUEST_BYTES = 16 * 1024 * 1024;
export const SMALLEST_REQUEST_BYTES = 4096;

/** One part of a load: what it computes, what it reads and how, and by when it has to be done. */
export const phaseSchema = object({
  name: string().required().max(60),
  /** Processor time that nothing of the drive shortens, seconds. */
  processorSeconds: number().min(0).max(1e6).required(),
  /** Read in all, or in each chunk of a stream. */
  bytes: number().min(0).max(1e15).required(),
  requestBytes: number().integer().min(SMALLEST_REQUEST_BYTES).max(LARGEST_REQUEST_BYTES).required(),
  /** Requests under way at the same time. */
  parallel: number().integer().min(1).max(64).required(),
  /** Files opened, listed and looked up. */
  operations: number().integer().min(0).max(1e9).required(),
  /** Share of the shorter of computing and reading that goes on beside the other, 0 to 1. */
  overlapShare: number().min(0).max(1).required(),
  /** By when it has to be done, or each chunk of a stream has to be there; null for no limit. */
  limitSeconds: number().positive().max(1e6).nullable().defined(),
  /** Written by it, which the program waits for; left out of what only reads. */
  writtenBytes: number().min(0).max(1e15).optional().default(undefined).meta({ addedLater: true }),
  /** Chunks that come while the program is in use; null for what is waited for once. */
  stream: object({
    everySeconds: number().positive().max(1e5).required(),
    forSeconds: number().positive().max(1e6).required(),
  })
    .nullable()
    .defined(),
});
export type Phase = InferType<typeof phaseSchema>;

/** A game, tool or archive that is started and used: phases one after the other. */
export const loadItemSchema = object({
  kind: kindSchema('load'),
  id: itemIdSchema,
  name: itemNameSchema,
  phases: array(phaseSchema.required()).min(1).max(64).required(),
  /** What it takes on the drive; null when not given. */
  installBytes: number().min(0).max(1e15).nullable().defined(),
  observed: observationsSchema,
});
export type LoadItem = InferType<typeof loadItemSchema>;

/** Chunks of a stream over its time. */
export const chunksOf = ({ stream }: Phase): number =>
  stream ? Math.max(1, Math.round(stream.forSeconds / stream.everySeconds)) : 0;

/** Bytes that a phase reads in all. */
export const phaseBytes = (phase: Phase): number => phase.bytes * (phase.stream ? chunksOf(phase) : 1);
