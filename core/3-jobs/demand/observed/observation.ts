import { eachLine } from '#core/1-ground/fields/kinds.ts';
import { array, boolean, number, object, string, type InferType } from 'yup';
import { badInput } from '#core/1-ground/problem.ts';
import { parseDuration, parseRate } from '#core/1-ground/units/quantity.ts';
import { rateTyped, secondsTyped } from '#core/1-ground/units/typable.ts';

/** Times of the same work seen on a drive, each from its first pass or from a later one. */
export const observationSchema = object({
  label: string().required().max(60),
  /** Rate of the drive for this work, bytes per second. */
  bytesPerSecond: number().positive().max(1e12).required(),
  /** Repeats in the order in which they were taken. */
  seconds: array(number().positive().max(1e8).required()).min(1).max(50).required(),
  /** The data may have been in memory already. */
  isWarm: boolean().required(),
});
export type Observation = InferType<typeof observationSchema>;

export const observationsSchema = array(observationSchema.required()).max(50).defined();

const EXAMPLE = 'Anchor 16T, 190 MB/s: 5323 s, 5301 s';

/**
 * Times seen on a drive, from a line as people type it: name, rate, then the repeats; `warm` at the
 * end where the data was in memory already. `Anchor 16T, 190 MB/s: 88 min, 89 min`.
 * @throws Problem `bad-input` that says which part of the line is at fault
 */
export function parseObservation(line: string): Observation {
  const match = /^(.+),([^,:]+):(.+)$/.exec(line);
  if (!match) {
    throw badInput('observed', `observed: “${line}” is no drive with its times. Type a line such as “${EXAMPLE}”.`);
  }
  const [, label, rate, rest] = match;
  const isWarm = /\bwarm\s*$/.test(rest!);
  const times = rest!.replace(/,?\s*\bwarm\s*$/, '').split(',');
  const seconds = times.map((time) => parseDuration(time, 'observed'));
  const bytesPerSecond = parseRate(rate!, 'observed');
  if (!(bytesPerSecond > 0) || seconds.some((one) => !(one > 0))) {
    throw badInput('observed', `observed: “${line}”: rates and times must be more than nothing.`);
  }
  return { label: label!.trim(), bytesPerSecond, seconds, isWarm };
}

export function observationLine({ label, bytesPerSecond, seconds, isWarm }: Observation): string {
  return `${label}, ${rateTyped(bytesPerSecond)}: ${seconds.map(secondsTyped).join(', ')}${isWarm ? ' warm' : ''}`;
}

/** Times seen on drives, one drive a line. */
export const OBSERVATIONS = eachLine(parseObservation, observationLine);
