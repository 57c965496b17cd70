import { number, object, type InferType } from 'yup';

export const SMALLEST_BLOCK_BYTES = 4096;
export const LARGEST_BLOCK_BYTES = 16 * 1024 * 1024;

const isPowerOfTwo = (value: number | undefined): boolean => value !== undefined && Number.isInteger(Math.log2(value));

/** Block size of every recipe that has one: a power of two from 4 KiB to 16 MiB. */
export const blockBytesSchema = number()
  .typeError('block: must be an amount such as 8 MiB.')
  .min(SMALLEST_BLOCK_BYTES, 'block: must be at least 4 KiB.')
  .max(LARGEST_BLOCK_BYTES, 'block: must be at most 16 MiB.')
  .test('power-of-two', 'block: must be a power of two, such as 64 KiB, 1 MiB or 8 MiB.', isPowerOfTwo);

export const depthSchema = number()
  .typeError('depth: must be a whole number from 1 to 32.')
  .integer('depth: must be a whole number from 1 to 32.')
  .min(1, 'depth: must be a whole number from 1 to 32.')
  .max(32, 'depth: must be a whole number from 1 to 32.');

/** Options of the recipe *Short passes*, with its defaults. */
export const shortPassesOptionsSchema = object({
  /** Passes in each direction; null goes on until stopped. Six give the median an interval. */
  passes: number()
    .typeError('passes: must be a whole number from 1 to 10,000.')
    .integer('passes: must be a whole number from 1 to 10,000.')
    .min(1, 'passes: must be a whole number from 1 to 10,000.')
    .max(10_000, 'passes: must be a whole number from 1 to 10,000.')
    .nullable()
    .default(6),
  /** Seconds that a pass should take in one direction; used when no size is given. */
  seconds: number()
    .typeError('seconds: must be a number from 0.2 to 600.')
    .min(0.2, 'seconds: must be a number from 0.2 to 600.')
    .max(600, 'seconds: must be a number from 0.2 to 600.')
    .default(2),
  /** Bytes of one pass in one direction; null sizes it by time. */
  sizeBytes: number()
    .typeError('size: must be an amount such as 2 GB.')
    .moreThan(0, 'size: must be more than 0. Type an amount such as 2 GB.')
    .max(1e15, 'size: must be at most 1 PB.')
    .nullable()
    .default(null),
  blockBytes: blockBytesSchema.default(8 * 1024 * 1024),
  depth: depthSchema.default(4),
}).noUnknown('${unknown}: is no option of Short passes.');

export type ShortPassesOptions = InferType<typeof shortPassesOptionsSchema>;
