import { eachLine } from '#core/1-ground/fields/kinds.ts';
import { hopLine, parseHop } from '#core/2-trade/links/hop-line.ts';
import { badInput, type Problem } from '#core/1-ground/problem.ts';
import { MOST_OF_A_BOX, type Part, type SizingConnection, type SizingEnclosure } from '#core/5-answers/sizing/parts.ts';
import { PRICE_PATTERN, parseMoney } from '#core/1-ground/units/money.ts';
import { parseCount } from '#core/1-ground/units/quantity.ts';

/** Enclosures and connections as people type them, one a line. */

const TERM = new RegExp(String.raw`^(?:(.*?)\s+)?(${PRICE_PATTERN})(\s+each|\s+shared)?$`);

/** “420 + rails 60 + tray 12 each”: one price of its own, and parts with theirs. @throws Problem `bad-input` */
function parsePrices(text: string, where: string, line: string): { price: number; parts: Part[] } {
  const prices = { price: 0, parts: [] as Part[] };
  for (const term of text.split(/\s+\+\s+/)) {
    const [, label, amount = '', how] = TERM.exec(term.trim()) ?? [];
    const [each, shared] = [how?.trim() === 'each', how?.trim() === 'shared'];
    if (amount === '') throw noPrice(term, where, line);
    const price = priceOf(amount);
    if (price === null) throw noPrice(term, where, line);
    if (label === undefined && how === undefined) prices.price += price;
    else prices.parts.push({ label: label ?? (shared ? 'for all stores' : 'for each drive'), price, each, shared });
  }
  return prices;
}

const noPrice = (term: string, where: string, line: string): Problem =>
  badInput(
    where,
    `${where}: “${term.trim()}” in “${line.trim()}” is no price. Type a number, nothing or more, or parts: card 120 + cable 40 + tray 12 each.`,
  );

function priceOf(text: string): number | null {
  try {
    return parseMoney(text).amount;
  } catch {
    return null;
  }
}

function pricesLine({ price, parts }: { price: number; parts: readonly Part[] }): string {
  const terms = parts.map(
    (part) => `${part.label} ${part.price}${part.each ? ' each' : ''}${part.shared ? ' shared' : ''}`,
  );
  return [...(price > 0 || parts.length === 0 ? [`${price}`] : []), ...terms].join(' + ');
}

const ENCLOSURE =
  /^([^:]{1,100}):\s*(\d+)\s+slots?(?:\s+over\s+([^,]+))?\s*,\s*(.+?)(?:\s*,\s*(?:at most|up to)\s+(\d+)(?:\s+of them)?)?$/i;

/**
 * “Desk box: 8 slots, 420”, “Shelf: 12 slots over SATA 6 Gb/s, 900 + tray 12 each, at most 3”.
 * @throws Problem `bad-input`
 */
export function parseEnclosure(line: string): SizingEnclosure {
  const match = ENCLOSURE.exec(line.trim());
  if (!match) {
    throw badInput(
      'enclosure',
      `enclosure: “${line.trim()}” is none. Type its slots and its price: Desk box: 8 slots, 420.`,
    );
  }
  const slots = parseCount(match[2]!, 'enclosure');
  if (slots > 60) throw badInput('enclosure', `enclosure: ${slots} slots are more than any box has. At most 60.`);
  const most = match[5] === undefined ? 1 : parseCount(match[5], 'enclosure');
  if (most > MOST_OF_A_BOX) {
    throw badInput(
      'enclosure',
      `enclosure: ${most} of “${match[1]!.trim()}” are more than one build can have. At most ${MOST_OF_A_BOX}.`,
    );
  }
  return {
    label: match[1]!.trim(),
    slots,
    ...parsePrices(match[4]!, 'enclosure', line),
    slot: match[3] === undefined ? null : parseHop(match[3].trim()),
    most,
  };
}

export function enclosureLine({ label, slots, slot, most, ...prices }: SizingEnclosure): string {
  const over = slot === null ? '' : ` over ${hopLine(slot)}`;
  const several = most > 1 ? `, at most ${most}` : '';
  return `${label}: ${slots} ${slots === 1 ? 'slot' : 'slots'}${over}, ${pricesLine(prices)}${several}`;
}

/** What is typed for a connection without a link that could bind. */
const NO_LINK = 'nothing';

/**
 * “10 Gb/s card and cable: 190 over Ethernet 10 Gb/s”, “10 Gb/s: card 120 + cable 40 over Ethernet 10 Gb/s”;
 * several hops are joined by “+”, and “over nothing” never binds.
 * @throws Problem `bad-input`
 */
export function parseSizingConnection(line: string): SizingConnection {
  const match = /^([^:]{1,100}):\s*(.+?)\s+over\s+(.+)$/.exec(line.trim());
  if (!match) {
    throw badInput(
      'connection',
      `connection: “${line.trim()}” is none. Type its price and its links: 10 Gb/s card and cable: 190 over Ethernet 10 Gb/s.`,
    );
  }
  return {
    label: match[1]!.trim(),
    ...parsePrices(match[2]!, 'connection', line),
    hops: match[3]!.trim().toLowerCase() === NO_LINK ? [] : match[3]!.split('+').map((hop) => parseHop(hop.trim())),
  };
}

export const sizingConnectionLine = ({ label, hops, ...prices }: SizingConnection): string =>
  `${label}: ${pricesLine(prices)} over ${hops.length === 0 ? NO_LINK : hops.map(hopLine).join(' + ')}`;

/** Enclosures of a project, one a line. */
export const ENCLOSURES = eachLine(parseEnclosure, enclosureLine, /\n/);

/** Connections of a project, one a line. */
export const CONNECTIONS = eachLine(parseSizingConnection, sizingConnectionLine, /\n/);
