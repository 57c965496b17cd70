import { Problem, badInput } from '#core/1-ground/problem.ts';
import { bytesText, rateText } from '#core/1-ground/units/format.ts';
import { pricedIn } from '#core/1-ground/units/money.ts';
import { RATE_PATTERN, parseBytes, parseDuration, parseNumber, parseRate } from '#core/1-ground/units/quantity.ts';
import { NO_DETAILS, type DriveDetails } from '#core/2-trade/drives/drive-details.ts';
import { linkAtStart } from '#core/2-trade/links/link-names.ts';
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
  [/\b(?:flash|ssd|nvme|card|stick|solid state)\b/i, 'flash'],
];
const AMOUNT = String.raw`\d[\d.,]*`;
const SIZE = String.raw`${AMOUNT}\s*[kMGTP]i?B`;
const VERBS = 'writes?|writing|reads?|reading';
/** Words of a drive’s kind, which are no name. */
const KIND_WORDS =
  /^(?:spinning|hard|solid|state|disk|drive|hdd|ssd|nvme|m\.2|card|flash|memory|ram|share|network|nas|server|raid|portable|external|internal|rugged|new|used|\d[\d,]*\s*rpm)$/i;
/** A rate with what it is of before or behind it, and after how much it is so. What stands behind belongs to the next where that is left without. */
const ONE_RATE = String.raw`(?:(${VERBS}|then|(?:falls|down)\s+to|(?:sustained|sustains|steady)(?:\s+(?:write|writing))?|floor|inner(?:\s+tracks)?)[:\s]\s*(?:at\s+|up\s+to\s+)?|up\s+to\s+)?(${RATE_PATTERN})`;
const BEHIND = String.raw`\s+(write|writing|read|reading)\b(?!\s+(?:at\s+|up\s+to\s+)?${RATE_PATTERN}(?!\s*(?:write|writing|read|reading|after)\b))`;
const AFTER = String.raw`\s+after(?:\s+the\s+first)?\s+(${SIZE})`;
const EXAMPLE = '20 TB spinning, 265 MB/s, 12 ms, SATA, 530 EUR';
/** What no drive has is looked at again by who typed it. */
function possible(value: number, least: number, most: number, typed: string): number {
  if (value >= least && value <= most) return value;
  throw badInput('line', `line: no drive has “${typed.trim()}”. Look at the number and its unit.`);
}
const MOST_BYTES = 1e18;

/** Words that join others and say nothing of a drive. */
const JOINING = /^(?:with|and|at|of|over|via|on|by|behind|for|costs?|price|link|connection|access|time|&|\+|[–-])$/i;

/** What is known of it so far; a rate of which nobody says whether it reads or writes stands for both that nobody gives. */
interface Draft extends NewDrive {
  anyBytesPerSecond: number | null;
}

const part = (pattern: string, take: Take): Part => ({ pattern: new RegExp(`^(?:${pattern})`, 'i'), take });
type Take = (drive: Draft, match: RegExpExecArray) => void;
/** What a line is made of: how it is known at the beginning of what is left of it, and what it says of the drive. */
interface Part {
  pattern: RegExp;
  take: Take;
}

/** The first that matches counts. */
const PARTS: readonly Part[] = [
  // As it stands on boxes: reading and writing before one unit.
  part(
    String.raw`(?:up\s+to\s+)?(${AMOUNT})\s*\/\s*(${AMOUNT})\s*([kMGT]i?B(?:ps|\/s(?:ec)?))(?:\s*(?:R\/W|read\/write))?`,
    (drive, [, read, write, unit]) => {
      takeRate(drive, 'reads', `${read} ${unit}`);
      takeRate(drive, 'writes', `${write} ${unit}`);
    },
  ),
  part(`${ONE_RATE}(?:${AFTER}|${BEHIND})?`, (drive, [, before, rate, after, behind]) =>
    takeRate(drive, before ?? behind ?? (after === undefined ? '' : 'then'), rate!, after),
  ),
  part(String.raw`(${AMOUNT})\s*TBW\b|(${SIZE})\s+written\b|endurance[:\s]\s*(${SIZE})(?!\s*\/)`, (drive, match) => {
    const bytes = parseBytes(match[1] === undefined ? (match[2] ?? match[3])! : `${match[1]} TB`, 'line');
    drive.details.enduranceBytes = possible(bytes, 0, MOST_BYTES, match[0]);
  }),
  part(String.raw`(${SIZE})(?![\w/])`, (drive, [, size]) => {
    const bytes = possible(parseBytes(size!, 'line'), 1, MOST_BYTES, size!);
    if (drive.capacityBytes > 0 && bytes !== drive.capacityBytes) {
      throw badInput(
        'line',
        `line: it is ${bytesText(drive.capacityBytes)} and ${bytesText(bytes)} large. Say what the other is: “then 1,450 MB/s after 190 GB”, “1200 TBW”.`,
      );
    }
    drive.capacityBytes = bytes;
  }),
  part(
    String.raw`(?:access(?:\s+time)?\s+)?(${AMOUNT}\s*(?:ms|[µμu]s|s))\b(?:\s+access(?:\s+time)?)?`,
    ({ details }, [, time]) => {
      details.accessSeconds = possible(parseDuration(time!, 'line'), 1e-9, 10, time!);
    },
  ),
  part(String.raw`(${AMOUNT})\s*dB(?:\(A\)|A)?(?!\w)`, ({ details }, [, level]) => {
    details.loudnessDecibels = possible(parseNumber(level!, 'line'), 0, 140, `${level!} dB`);
  }),
];
/** What a line may begin with that is a price; 7200 RPM and 500 HDD are no currencies. */
const PRICE = /^(?:[€$£]|[a-z]{3}\s)?\s*\d(?:[\d.,]|['’\s](?=\d{3}\b))*(?:\s?(?:[€$£]|[a-z]{3}\b))?/i;
/** A word of a line, with its number where it has one: “7,200 rpm”. */
const WORD = /^(?:\d[\d,]*\s*rpm\b|\S+)/i;

/**
 * “20 TB spinning, 265 MB/s, 12 ms, SATA, 530 EUR”, “Shuttle: 2 TB flash, writes 5,200 MB/s, then 1,450 MB/s after
 * 190 GB, reads 6.8 GB/s”, “4TB SSD 7000 MB/s read 6500 MB/s write USB4 40Gbps €329”: in any order, with commas between or
 * without. What is no name, size, rate, time, link or price is refused, and never passed over.
 * @throws Problem `bad-input` that names the part at fault
 */
export function parseDriveLine(line: string): NewDrive {
  const named = /^([^:,]{1,120}):\s+(.*)$/s.exec(line.trim());
  const isName = named !== null && !WITH_COLON.test(named[1]!);
  const draft: Draft = {
    label: isName ? named[1]!.trim() : '',
    medium: 'unknown',
    capacityBytes: 0,
    details: { ...NO_DETAILS },
    anyBytesPerSecond: null,
  };
  const stretches = (isName ? named[2]! : line).split(/[,;](?=\s|$)/);
  stretches.forEach((stretch, at) => takeStretch(draft, stretch, at === 0 && !isName));
  const { anyBytesPerSecond, ...drive } = draft;
  const { details } = drive;
  if (anyBytesPerSecond !== null) {
    const { ratedWriteBytesPerSecond: write, ratedReadBytesPerSecond: read } = details;
    if (write !== null && read !== null) throw twoRates(write, anyBytesPerSecond);
    details.ratedWriteBytesPerSecond ??= anyBytesPerSecond;
    details.ratedReadBytesPerSecond ??= anyBytesPerSecond;
  }
  if (drive.capacityBytes === 0)
    throw badInput('line', `line: say how large it is. Type a drive such as “${EXAMPLE}”.`);
  if (details.ratedWriteBytesPerSecond === null && details.ratedReadBytesPerSecond === null) {
    throw badInput('line', `line: say how fast it is. Type a drive such as “${EXAMPLE}”.`);
  }
  drive.label ||= `${bytesText(drive.capacityBytes).replaceAll(/\s/g, ' ')} ${MEDIUM_NAMES[drive.medium]}`;
  return drive;
}

/** What stands before a colon that belongs to what follows it. */
const WITH_COLON = new RegExp(
  String.raw`(?:^|\s)(?:${VERBS}|then|floor|inner|endurance|price|link|connection|access)$`,
  'i',
);

/**
 * What stands between two commas: parts one after the other, and words that say what kind of drive it is.
 * @param mayName whether words before its first part may be the drive’s name
 */
function takeStretch(drive: Draft, stretch: string, mayName: boolean): void {
  const words: string[] = [];
  const hadCapacity = drive.capacityBytes > 0;
  /** Words before the first part; null until one was found. */
  let leading = mayName ? null : 0;
  for (let rest = stretch.trim(); rest !== '';) {
    const known = words.length;
    rest = rest.slice(takeNext(drive, rest, words)).trim();
    if (words.length === known) leading ??= known;
  }
  // “Lagoon 4T 4 TB NVMe”, or with a comma behind the name; words of its kind alone are none.
  const own = words.slice(0, leading ?? words.length);
  if (own.some((word) => !KIND_WORDS.test(word))) drive.label = words.splice(0, own.length).join(' ').slice(0, 120);
  if (words.length === 0) return;
  const text = words.join(' ');
  const found = mediumIn(text);
  if (!found && (hadCapacity || drive.capacityBytes === 0)) {
    throw badInput('line', `line: “${text}” is no size, rate, time, link or price. Type a drive such as “${EXAMPLE}”.`);
  }
  // “SSD” alone says no more than its medium does.
  if (drive.details.className === '' && found?.words !== text) drive.details.className = text.slice(0, 80);
}

/** What words say that a drive keeps its bytes on, and those that say so; undefined where none does. */
function mediumIn(text: string): { words: string; medium: Medium } | undefined {
  for (const [word, medium] of MEDIUM_WORDS) {
    const match = word.exec(text);
    if (match) return { words: match[0], medium };
  }
  return undefined;
}

/** “USB SSD”, “SAS HDD”: what kind of drive it is, and no more of its link than its rate says already. */
const KIND_BEHIND = /^[a-z][\w-]*(?:\s+[\d.]+)?\s+(?:stick|drive|ssd|hdd|disk|raid|card|key)\b/i;

/** The link that a text begins with; null where it begins with none, or where a link’s name names the kind of drive. */
function linkOf(text: string): ReturnType<typeof linkAtStart> {
  try {
    return linkAtStart(text, 'line');
  } catch (error) {
    if (error instanceof Problem && KIND_BEHIND.test(text)) return null;
    throw error;
  }
}

/** Takes what a text begins with; the length of it. */
function takeNext(drive: Draft, text: string, words: string[]): number {
  const link = linkOf(text);
  if (link) {
    drive.details.hops = [...(drive.details.hops ?? []), link.hop];
    return link.words.length;
  }
  for (const { pattern, take } of PARTS) {
    const match = pattern.exec(text);
    if (!match) continue;
    take(drive, match);
    return match[0].length;
  }
  const word = WORD.exec(text)![0];
  const priced = PRICE.exec(text)?.[0];
  const price = priced === undefined || mediumIn(word) || mediumIn(priced) ? null : pricedIn(priced);
  if (price) {
    Object.assign(drive.details, { price: price.amount, currency: price.currency });
    return priced!.length;
  }
  if (!JOINING.test(word.replace(/:$/, ''))) words.push(word);
  drive.medium = mediumIn(words.join(' '))?.medium ?? drive.medium;
  return word.length;
}

/** @param which what stands before the rate or behind it, or nothing */
function takeRate(draft: Draft, which: string, rate: string, after?: string): void {
  const { details } = draft;
  const bytesPerSecond = possible(parseRate(rate, 'line'), 1, 1e12, rate);
  const keep = (field: RateField): void => {
    if ((details[field] ?? bytesPerSecond) !== bytesPerSecond) throw twoRates(details[field]!, bytesPerSecond);
    details[field] = bytesPerSecond;
  };
  const of = which.toLowerCase();
  if (of.startsWith('writ')) keep('ratedWriteBytesPerSecond');
  else if (of.startsWith('read')) keep('ratedReadBytesPerSecond');
  // What spins comes down on its way inwards.
  else if (of.startsWith('inner') || (of.startsWith('down') && draft.medium === 'spinning')) {
    keep('ratedInnerBytesPerSecond');
  } else if (of !== '') {
    keep('ratedFloorBytesPerSecond');
    if (after !== undefined) details.ratedFallBytes = possible(parseBytes(after, 'line'), 0, MOST_BYTES, after);
  } else {
    if ((draft.anyBytesPerSecond ?? bytesPerSecond) !== bytesPerSecond)
      throw twoRates(draft.anyBytesPerSecond!, bytesPerSecond);
    draft.anyBytesPerSecond = bytesPerSecond;
  }
}

type RateField =
  'ratedWriteBytesPerSecond' | 'ratedReadBytesPerSecond' | 'ratedFloorBytesPerSecond' | 'ratedInnerBytesPerSecond';

const twoRates = (one: number, other: number) =>
  badInput(
    'line',
    `line: ${rateText(one)} and ${rateText(other)} are two rates for one thing. Say which is which: writes, reads, then, inner.`,
  );
