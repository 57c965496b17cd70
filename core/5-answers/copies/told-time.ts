import { badInput, Problem } from '#core/1-ground/problem.ts';
import { LINK_KINDS, ceilingBytesPerSecond } from '#core/2-trade/links/links.ts';
import type { Hop } from '#core/2-trade/links/connection.ts';
import { bytesText, formatDuration, formatNumber, rateText } from '#core/1-ground/units/format.ts';
import { parseBytes, parseDuration } from '#core/1-ground/units/quantity.ts';

/** A copy that somebody else timed. */
export interface ToldTime {
  bytes: number;
  seconds: number;
}

/**
 * “173 GB in 2:08”, “64 GB in 9 min”, “1.2 TB in 1:02:30”. A clock of two parts is minutes and seconds.
 * @throws Problem `bad-input` on anything else
 */
export function parseToldTime(text: string, where = 'told'): ToldTime {
  const parts = /^(.+?)\s+in\s+(.+)$/.exec(text.trim());
  if (!parts) throw badInput(where, `${where}: “${text}” is not a size and a time. Type both, such as 173 GB in 2:08.`);
  const bytes = parseBytes(parts[1]!, where);
  const seconds = parseDuration(parts[2]!, where);
  if (!(bytes > 0) || !(seconds > 0)) {
    throw badInput(where, `${where}: both the size and the time must be more than nothing.`);
  }
  return { bytes, seconds };
}

/** What a told time says of the way it went. */
export interface ToldReading {
  bytesPerSecond: number;
  /** The slowest link of the library that can have carried it, and the fastest that cannot; null at the ends. */
  leastLink: { label: string; bytesPerSecond: number } | null;
  tooSlowLink: { label: string; bytesPerSecond: number } | null;
  /** Sentences: why it may not be what it seems. */
  doubts: string[];
}

/** A ceiling is computed from round figures; a rate may exceed it by this much and still be real. */
const TOLERANCE = 1.05;
/** So little fits into the fast cache of most drives. */
const SMALL_BYTES = 20e9;

/** Every link of the library by what it carries, slowest first. Lanes are those that slots have. */
function allLinks(): { label: string; bytesPerSecond: number }[] {
  return LINK_KINDS.flatMap((kind) =>
    (kind.lanes === 'counted' ? [1, 2, 4, 8, 16] : [1]).map((lanes) => ({
      label: kind.lanes === 'counted' ? `${kind.label} ×${lanes}` : kind.label,
      bytesPerSecond: ceilingBytesPerSecond(kind, lanes),
    })),
  ).sort((a, b) => a.bytesPerSecond - b.bytesPerSecond);
}

/** What is known of a copy of so many bytes between two drives. */
export interface KnownCopy {
  /** As their runs predict it; null where they do not. */
  predictedSeconds: number | null;
  target: { label: string; roomBytes: number | null };
}

/** A prediction is good to about this much. */
const PREDICTED_WITHIN = 1.25;

function againstKnown({ bytes, seconds }: ToldTime, { predictedSeconds, target }: KnownCopy): string[] {
  const found: string[] = [];
  if (target.roomBytes !== null && bytes > target.roomBytes) {
    found.push(`${bytesText(bytes)} do not fit on ${target.label}: ${bytesText(target.roomBytes)} can be used there.`);
  }
  if (predictedSeconds !== null) {
    const times = predictedSeconds / seconds;
    const predicted = `By their own runs it takes ${formatDuration(predictedSeconds)}`;
    if (times > PREDICTED_WITHIN) found.push(`${predicted}, ${formatNumber(times)} times as long.`);
    if (times < 1 / PREDICTED_WITHIN) found.push(`${predicted}: something held that copy back.`);
  }
  return found;
}

/**
 * The rate of a told time, the links it would fit, and what to doubt.
 * @param ends the two drives that it is said of, where they are known
 * @param known what is known of a copy of so many bytes from one to the other
 */
export function readToldTime(
  { bytes, seconds }: ToldTime,
  ends: { label: string; hops: readonly Hop[]; bestBytesPerSecond: number | null }[] = [],
  known: KnownCopy | null = null,
): ToldReading {
  const bytesPerSecond = bytes / seconds;
  const links = allLinks();
  const carries = (link: { bytesPerSecond: number }) => link.bytesPerSecond * TOLERANCE >= bytesPerSecond;
  const doubts: string[] = [];
  for (const { label, hops, bestBytesPerSecond } of ends) {
    for (const hop of hops) {
      if (bytesPerSecond <= hop.ceilingBytesPerSecond * TOLERANCE) continue;
      doubts.push(
        `Impossible over ${hop.label} of ${label}: it carries at most ${rateText(hop.ceilingBytesPerSecond)}. A clone, compression, or a time taken before all was written.`,
      );
    }
    if (bestBytesPerSecond !== null && bytesPerSecond > bestBytesPerSecond * TOLERANCE) {
      doubts.push(`Faster than ${label} was ever measured: at most ${rateText(bestBytesPerSecond)}.`);
    }
  }
  if (known) doubts.push(...againstKnown({ bytes, seconds }, known));
  if (bytes < SMALL_BYTES) {
    doubts.push(
      `${bytesText(bytes)} fit into memory or a fast cache: the time may leave out that they had to be written.`,
    );
  }
  return {
    bytesPerSecond,
    leastLink: links.find(carries) ?? null,
    tooSlowLink: links.filter((link) => !carries(link)).at(-1) ?? null,
    doubts,
  };
}

/** The fault in a told time, or null when it can be read. */
export function toldTimeFault(text: string): string | null {
  try {
    parseToldTime(text);
    return null;
  } catch (error) {
    return error instanceof Problem ? error.detail : String(error);
  }
}
