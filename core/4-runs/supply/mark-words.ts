import type { Direction } from '#core/1-ground/curves/direction.ts';
import { bytesText, formatDuration, formatNumber, rateText } from '#core/1-ground/units/format.ts';
import { capitalized } from '#core/1-ground/words.ts';
import { PARTICIPLES, type Doubt, type DoubtEffect } from '#core/4-runs/supply/doubts/doubt.ts';
import type { TraceReading } from '#core/4-runs/trace/reading.ts';

/** What a mark on a trace is, in a sentence or two, for those who press it. */

/** Where the rate falls. */
export function kneeWords(reading: TraceReading, direction: Direction): string {
  const { kneeBytes, kneeSeconds, kneeSpreadBytes, openingBytesPerSecond, floorBytesPerSecond } = reading;
  if (kneeBytes === null || kneeSeconds === null) return '';
  const before = openingBytesPerSecond === null ? '' : ` at ${rateText(openingBytesPerSecond)}`;
  const first = `${capitalized(bytesText(kneeBytes))} were ${PARTICIPLES[direction]}${before}, in ${formatDuration(kneeSeconds)}.`;
  const fall = kneeSpreadBytes
    ? ` From ${bytesText(kneeSpreadBytes[0])} to ${bytesText(kneeSpreadBytes[1])} the rate falls`
    : ' There the rate falls';
  const to = floorBytesPerSecond === null ? '.' : ` to ${rateText(floorBytesPerSecond)}.`;
  const why =
    direction === 'write' ? ' Most often that is the end of a fast cache; a rest may give some of it back.' : '';
  return first + fall + to + why;
}

/** The rate it falls to, and how far that was seen. */
export function floorWords({ floorBytesPerSecond, floorBytes, floorSeconds }: TraceReading): string {
  if (floorBytesPerSecond === null) return '';
  return (
    `Behind the fall it goes on at ${rateText(floorBytesPerSecond)}: seen for ${bytesText(floorBytes)} and ${formatDuration(floorSeconds)}, ` +
    'to the end of this pass. What it does after that was not seen; a longer fill shows it.'
  );
}

/** A rate that falls steadily, as far as it was seen. */
export function slopeWords({ slope }: TraceReading): string {
  if (slope === null) return '';
  return (
    `The rate falls steadily from ${rateText(slope.startBytesPerSecond)} to ${rateText(slope.endBytesPerSecond)}, to the end of this pass: ` +
    'spinning drives are faster on their outer tracks, which are used first. Further in it goes on falling.'
  );
}

/** How warm it became. @param points in their order; null where the drive did not tell */
export function heatWords(points: readonly { atSeconds: number; celsius: number | null }[]): string {
  const known = points.flatMap(({ atSeconds, celsius }) => (celsius === null ? [] : [{ atSeconds, celsius }]));
  const [first, last] = [known[0], known.at(-1)];
  if (!first || !last) return '';
  const hottest = known.reduce((most, one) => (one.celsius > most.celsius ? one : most));
  const degrees = (celsius: number): string => `${formatNumber(celsius)} °C`;
  return (
    `The drive’s own temperature: ${degrees(first.celsius)} at the start, ${degrees(hottest.celsius)} at most, after ${formatDuration(hottest.atSeconds)}, ` +
    `${degrees(last.celsius)} at the end. A drive that becomes too hot slows down to save itself; where this run shows it, a doubt says so.`
  );
}

const EFFECT_WORDS: Record<DoubtEffect, string> = {
  'too-high':
    'The rates may be higher than the drive’s own: this run can show that a job breaks, and not that it holds.',
  'too-low': 'The rates may be lower than the drive’s own: this run can show that a job holds, and not that it breaks.',
  apart: 'That part is set apart; the rest counts.',
  finding: 'That is the drive itself, and counts.',
  partial: 'The run counts up to there.',
  void: 'This run shows neither that a job holds nor that it breaks.',
};

/** What raised a doubt, what it does to verdicts, and what to do about it. */
export const doubtWords = ({ evidence, effect, advice }: Pick<Doubt, 'evidence' | 'effect' | 'advice'>): string =>
  [evidence, EFFECT_WORDS[effect], advice].filter(Boolean).join(' ');

/** Why nothing was asked of the drive for a while. */
export function stillWords({
  kind,
  seconds,
  note,
}: {
  kind: 'pause' | 'rest' | 'sleep';
  seconds: number;
  note: string;
}) {
  const what = {
    pause: `The run was held for ${formatDuration(seconds)}.`,
    rest: `The drive was left alone for ${formatDuration(seconds)}.`,
    sleep: `The machine slept for ${formatDuration(seconds)}.`,
  }[kind];
  return `${what}${note === '' ? '' : ` ${note}`} This time is no part of the rates.`;
}
