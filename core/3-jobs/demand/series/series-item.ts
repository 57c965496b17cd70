import { array, number, object, string, type InferType } from 'yup';
import { frameRateSchema } from '#core/3-jobs/demand/essences/essence-kind.ts';
import { itemIdSchema, itemNameSchema, kindSchema } from '#core/3-jobs/demand/item-kind.ts';
import { processorSchema } from '#core/3-jobs/demand/series/processor.ts';
import { observationsSchema } from '#core/3-jobs/demand/observed/observation.ts';
import { previewsSchema } from '#core/3-jobs/demand/observed/preview.ts';
import { boundedColumn } from '#core/1-ground/schema/columns.ts';
import { oneOfKinds } from '#core/1-ground/schema/one-of-kinds.ts';

/** Frames that no grid and no folder has: beyond this something was mistyped. */
export const MOST_FRAMES = 1_000_000;
/** A frame of a petabyte fits nowhere. */
export const LARGEST_FRAME_BYTES = 1e15;

/** What is kept in each voxel: a number for each component. */
export const channelSchema = object({
  name: string().required().max(60),
  components: number().integer().min(1).max(64).required(),
  bits: number()
    .oneOf([8, 16, 32, 64] as const)
    .required(),
});
export type Channel = InferType<typeof channelSchema>;

const gridSchema = object({
  kind: kindSchema('grid'),
  /** Voxels along each side. */
  voxels: object({
    x: number().integer().min(1).max(1e9).required(),
    y: number().integer().min(1).max(1e9).required(),
    z: number().integer().min(1).max(1e9).required(),
  }).required(),
  /** Share of the voxels that are kept, above 0 to 1. */
  occupancyShare: number().positive().max(1).required(),
  channels: array(channelSchema.required()).min(1).max(64).required(),
  /** Uncompressed : compressed, 8 means 8:1. */
  ratio: number().min(1).max(1000).required(),
  headerBytes: number().min(0).max(1e12).required(),
});
export type GridFrames = InferType<typeof gridSchema>;

/** Frames of one size that a person knows. */
const sizeSchema = object({
  kind: kindSchema('size'),
  frameBytes: number().positive().max(LARGEST_FRAME_BYTES).required(),
});
export type SizedFrames = InferType<typeof sizeSchema>;

/** Sizes of frames that lie in a folder, in the order of their numbers. */
const filesSchema = object({
  kind: kindSchema('files'),
  label: itemNameSchema,
  firstFrame: number().integer().min(0).required(),
  bytes: boundedColumn(0, LARGEST_FRAME_BYTES, MOST_FRAMES),
  /** Numbers between the first and the last that were not there. */
  missingCount: number().integer().min(0).required(),
});
export type FileFrames = InferType<typeof filesSchema>;
export type SeriesFrames = GridFrames | FileFrames | SizedFrames;

const framesSchema = oneOfKinds<SeriesFrames>([
  ['grid', gridSchema],
  ['files', filesSchema],
  ['size', sizeSchema],
]);

const heldWritingSchema = object({ bytesPerSecond: number().positive().max(1e12).nullable().defined() });
export type HeldWriting = InferType<typeof heldWritingSchema>;

/** A simulation that writes a cache frame by frame, in several versions, and plays it back. */
export const seriesItemSchema = object({
  kind: kindSchema('series'),
  id: itemIdSchema,
  name: itemNameSchema,
  frames: framesSchema,
  frameCount: number().integer().min(1).max(MOST_FRAMES).required(),
  versions: number().integer().min(1).max(10_000).required(),
  /** Computing of each frame, seconds; the last goes on for the frames after it. */
  computeSeconds: boundedColumn(0, 1e7, MOST_FRAMES),
  /**
   * Where those times hold the writing of each frame, as the times of files do: the rate of the drive that it went to,
   * bytes per second, null where that is not known. Left out where they are computing alone.
   */
  heldWriting: heldWritingSchema.optional().default(undefined).meta({ addedLater: true }),
  /** Finished frames that may wait for the drive while the next is computed; 0 for a writer that blocks. */
  queueFrames: number().integer().min(0).max(10_000).required(),
  /** Most of the whole time that waiting for the drive may take. */
  mostDriveShare: number().positive().max(0.95).required(),
  /** Frames per second at which it is looked at; null when it is not. */
  playback: object({
    frameRate: frameRateSchema.required(),
    /** Processor time to show one frame, seconds. */
    showSeconds: number().min(0).max(3600).required(),
  })
    .nullable()
    .defined(),
  /** What could be bought instead of a drive; left out where nobody thinks of it. */
  processor: processorSchema.optional().default(undefined).meta({ addedLater: true }),
  observed: observationsSchema,
  /** How quick it was seen to come when it was looked at; left out where nobody timed it. */
  previews: previewsSchema,
});
export type SeriesItem = InferType<typeof seriesItemSchema>;
