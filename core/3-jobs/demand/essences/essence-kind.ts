import { number, object, string, type ObjectSchema } from 'yup';
import type { Field, FieldTexts, FieldValues } from '#core/1-ground/fields/field.ts';
import type { Progress } from '#core/1-ground/curves/progress.ts';
import { framesPerSecond, type FrameRate } from '#core/1-ground/units/frame-rate.ts';

/** What streams of one essence ask for. Rates and bursts are of all streams, frames of one. */
export interface EssenceRate {
  /** Bytes per second. */
  average: number;
  /** Highest bytes in any one second. */
  peak: number;
  /** Bytes by which any stretch exceeds its average. */
  burst: number;
  /** Bytes asked for by a moment, where it is no constant rate. */
  curve: Progress | null;
  /** Null where there are no frames to drop. */
  frameRate: FrameRate | null;
  /** Bytes of one frame of one stream; what a program moves at a time. */
  bytesPerFrame: number;
  /** Bytes that lie on the drive for one frame of one stream, sound included. */
  storedFrameBytes: number;
  /** Whether each frame is a file. */
  isSequence: boolean;
  /** The format in words. */
  text: string;
}

/** What is recorded or played: one way in which its bytes per second are known. */
export interface EssenceKind<Essence extends { kind: string }> {
  kind: Essence['kind'];
  schema: ObjectSchema<Essence>;
  /** @throws Problem `bad-input` when the format is impossible */
  rate(essence: Essence, streams: number): EssenceRate;
  /** What an item of it is called that was given no name. */
  name(essence: Essence): string;
  /** How a person gives it; null for what is read from real material. */
  form: EssenceForm<Essence> | null;
}

/** A form in which an essence is given. */
export interface EssenceForm<Essence> {
  label: string;
  /** One sentence on what it is for. */
  help: string;
  fields: readonly Field[];
  /** Texts of a new one. */
  start: FieldTexts;
  /** From what the fields give, when none is at fault; streams when a field says how many. */
  essence(values: FieldValues): { essence: Essence; streams?: number | null };
  values(essence: Essence): FieldValues;
}

/** Programs that have no frames move about a tenth of a second at a time. */
const CHUNK_SECONDS = 0.1;

/** A constant rate, of which a second at the peak brings (peak − average) × 1 s more than its share. */
export function constantRate(
  averageOfOne: number,
  streams: number,
  frameRate: FrameRate | null,
  text: string,
  more: Partial<EssenceRate> = {},
): EssenceRate {
  const average = averageOfOne * streams;
  const { peak = average } = more;
  const frame = frameRate ? averageOfOne / framesPerSecond(frameRate) : averageOfOne * CHUNK_SECONDS;
  return {
    average,
    peak,
    burst: peak - average,
    curve: null,
    frameRate,
    bytesPerFrame: frame,
    storedFrameBytes: more.bytesPerFrame ?? frame,
    isSequence: false,
    text,
    ...more,
  };
}

export const frameRateSchema = object({
  numerator: number().integer().positive().required(),
  denominator: number().integer().positive().required(),
});

export const labelSchema = string().required().max(120);
/** Bytes per second. */
export const rateSchema = number().positive().max(1e12).required();
