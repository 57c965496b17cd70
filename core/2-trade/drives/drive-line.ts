import { badInput } from '#core/1-ground/problem.ts';
import { bytesText } from '#core/1-ground/units/format.ts';
import { pricedIn } from '#core/1-ground/units/money.ts';
import { RATE_PATTERN, parseBytes, parseDuration, parseNumber, parseRate } from '#core/1-ground/units/quantity.ts';
import { NO_DETAILS, type DriveDetails } from '#core/2-trade/drives/drive-details.ts';
import { parseHop } from '#core/2-trade/links/hop-line.ts';
import { MEDIUM_NAMES, type Medium } from '#core/2-trade/drives/medium.ts';

/** A drive that nobody has here, as it is known from a box, a data sheet or a mail. */
export interface NewDrive {
  label: string;
  medium: Medium;
  capacityBytes: number;
  details: DriveDetails;
}

const MEDIUM_WORDS: readonly (readonly [RegExp, Medium])[] = [
  [/\b(?:spinning|hard disk|hard drive|hdd|\d[\d,]*\s*rpm)\b/i, 'spinning'],
  [/\b(?:memory disk|ram disk|ram)\b/i, 'memory'],
  [/\b(?:share|network|nas|server)\b/i, 'network'],
  [/\b(?:flash|ssd|nvme|card|solid state)\b/i, 'flash'],
];
/** A rate, of what it is, and after how much it is so. */
const ONE_RATE = new RegExp(
  String.raw`^(?:(writes?|writing|reads?|reading|then|floor|inner)\s+(?:at\s+|up to\s+)?|up to\s+)?(${RATE_PATTERN})(?:\s+after\s+(.+))?$`,
  'i',
);
/** As it stands on boxes: reading and writing before one unit. */
const BOTH_RATES = /^(?:up to\s+)?(\d[\d.,]*)\s*\/\s*(\d[\d.,]*)\s*([kMGT]i?B(?:ps|\/s(?:ec)?))$/;
const EXAMPLE = '20 TB spinning, 265 MB/s, 12 ms, SATA, 530 EUR';

/**
 * “20 TB spinning, 265 MB/s, 12 ms, SATA, 530 EUR”, “Shuttle: 2 TB flash, writes 5,200 MB/s, then 1,450 MB/s after
 * 190 GB, reads 6.8 GB/s”: in any order, with commas between. What is no name, size, rate, time, link or price is
 * refused, and never passed over.
 * @throws Problem `bad-input` that names the part at fault
 */
export function parseDriveLine(line: string): NewDrive {
  const named = /^([^:,]{1,120}):\s+(.*)$/s.exec(line.trim());
  const parts = (named?.[2] ?? line)
    .split(/[,;](?=\s|$)/)
    .map((part) => part.trim())
    .filter(Boolean);
  const drive: NewDrive = {
    label: named?.[1]?.trim() ?? '',
    medium: 'unknown',
    capacityBytes: 0,
    details: { ...NO_DETAILS },
  };
  for (const part of parts) takePart(drive, part);
  const { details } = drive;
  if (drive.capacityBytes === 0)
    throw badInput('line', `line: say how large it is. Type a drive such as “${EXAMPLE}”.`);
  if (details.ratedWriteBytesPerSecond === null && details.ratedReadBytesPerSecond === null) {
    throw badInput('line', `line: say how fast it is. Type a drive such as “${EXAMPLE}”.`);
  }
  drive.label ||= `${bytesText(drive.capacityBytes).replaceAll(/\s/g, ' ')} ${MEDIUM_NAMES[drive.medium]}`;
  return drive;
}

function takePart(drive: NewDrive, part: string): void {
  const { details } = drive;
  const medium = MEDIUM_WORDS.find(([word]) => word.test(part));
  if (medium) drive.medium = medium[1];
  const both = BOTH_RATES.exec(part);
  if (both) {
    takeRate(details, 'reads', parseRate(`${both[1]} ${both[3]}`, 'line'), undefined);
    return takeRate(details, 'writes', parseRate(`${both[2]} ${both[3]}`, 'line'), undefined);
  }
  const rate = ONE_RATE.exec(part);
  if (rate) return takeRate(details, rate[1]?.toLowerCase() ?? '', parseRate(rate[2]!, 'line'), rate[3]);
  const written = /^(\S+(?:\s+\S+)?)\s+written$|^(\S+)\s*TBW$/i.exec(part);
  if (written) {
    details.enduranceBytes = parseBytes(written[1] ?? `${written[2]} TB`, 'line');
    return;
  }
  const capacity = /^(\d[\d.,]*\s*[kMGTP]i?B)\b(.*)$/i.exec(part);
  if (capacity) {
    drive.capacityBytes = parseBytes(capacity[1]!, 'line');
    const words = capacity[2]!.trim();
    if (words !== '' && !medium) details.className = words.slice(0, 80);
    return;
  }
  const access = /^(?:access(?:\s+time)?\s+)?(\d[\d.,]*\s*(?:ms|[µμu]s|s))(?:\s+access(?:\s+time)?)?$/i.exec(part);
  if (access) {
    details.accessSeconds = parseDuration(access[1]!, 'line');
    return;
  }
  // 7200 RPM are no currency.
  const price = medium ? null : pricedIn(part);
  if (price) {
    Object.assign(details, { price: price.amount, currency: price.currency });
    return;
  }
  const loudness = /^(\d[\d.,]*)\s*dB(?:\(A\)|A)?$/i.exec(part);
  if (loudness) {
    details.loudnessDecibels = parseNumber(loudness[1]!, 'line');
    return;
  }
  const hop = linkOf(part);
  if (hop) details.hops = [...(details.hops ?? []), hop];
  else if (!medium) {
    throw badInput('line', `line: “${part}” is no size, rate, time, link or price. Type a drive such as “${EXAMPLE}”.`);
  } else if (details.className === '') details.className = part.slice(0, 80);
}

function takeRate(details: DriveDetails, which: string, bytesPerSecond: number, after: string | undefined): void {
  if (which.startsWith('writ')) details.ratedWriteBytesPerSecond = bytesPerSecond;
  else if (which.startsWith('read')) details.ratedReadBytesPerSecond = bytesPerSecond;
  else if (which === 'inner') details.ratedInnerBytesPerSecond = bytesPerSecond;
  else if (which === 'then' || which === 'floor') {
    details.ratedFloorBytesPerSecond = bytesPerSecond;
    if (after !== undefined) details.ratedFallBytes = parseBytes(after, 'line');
  } else {
    details.ratedWriteBytesPerSecond ??= bytesPerSecond;
    details.ratedReadBytesPerSecond ??= bytesPerSecond;
  }
}

/** A link as people say it; null for what is none. */
function linkOf(part: string) {
  try {
    return parseHop(/^sata$/i.test(part) ? 'SATA 6 Gb/s' : part);
  } catch {
    return null;
  }
}
