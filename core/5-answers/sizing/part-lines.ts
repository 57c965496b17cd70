import { eachLine } from '#core/1-ground/fields/kinds.ts';
import type { Hop } from '#core/2-trade/links/connection.ts';
import { hopLine, parseHop } from '#core/2-trade/links/hop-line.ts';
import { linkAtStart } from '#core/2-trade/links/link-names.ts';
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

const SLOTS = /^(?:([^:]{1,100}):\s*)?(\d+)[\s-]*(?:slots?|bays?)\b\s*(.*)$/i;
const AT_MOST = /\s*,?\s*(?:at most|up to)\s+(\d+)(?:\s+of them)?$/i;

/**
 * “Desk box: 8 slots, 420”, “Shelf: 12 slots over SATA 6 Gb/s, 900 + tray 12 each, at most 3”, “8 bay NAS, 1,299 EUR”.
 * @throws Problem `bad-input`
 */
export function parseEnclosure(line: string): SizingEnclosure {
  const match = SLOTS.exec(line.trim());
  const most = match && AT_MOST.exec(match[3]!)?.[1];
  const said = match ? match[3]!.replace(AT_MOST, '') : '';
  const { slot, rest } = slotLink(said);
  // Without a name before it, it is called by its slots and what follows them.
  const own = match?.[1] === undefined ? /^([^,]*),(.*)$/s.exec(rest) : null;
  const prices = (own?.[2] ?? rest).replace(/^\s*,/, '').trim();
  if (!match || prices === '' || (match[1] === undefined && !own)) {
    throw badInput(
      'enclosure',
      `enclosure: “${line.trim()}” is none. Type its slots and its price: Desk box: 8 slots, 420.`,
    );
  }
  return {
    label: match[1]?.trim() ?? `${line.trim().slice(0, line.trim().indexOf(','))}`.slice(0, 100),
    slots: slotsOf(match[2]!),
    ...parsePrices(prices, 'enclosure', line),
    slot,
    most: mostOf(most, match[1] ?? line),
  };
}

/** The link of a slot that a text begins with, and what follows it; commas part a link that has a place or a name of its own. */
function slotLink(text: string): { slot: Hop | null; rest: string } {
  const over = /^(?:over|behind)\s+/i.exec(text);
  const behind = text.slice(over?.[0].length ?? 0).replace(/^,\s*/, '');
  const link = linkAtStart(behind, 'enclosure');
  const [whole] = /^[^,]*/.exec(behind)!;
  if (link && !/^\s+at\s/i.test(behind.slice(link.words.length))) {
    return { slot: link.hop, rest: behind.slice(link.words.length) };
  }
  return over || link ? { slot: parseHop(whole.trim()), rest: behind.slice(whole.length) } : { slot: null, rest: text };
}

function slotsOf(typed: string): number {
  const slots = parseCount(typed, 'enclosure');
  if (slots > 60) throw badInput('enclosure', `enclosure: ${slots} slots are more than any box has. At most 60.`);
  return slots;
}

function mostOf(typed: string | null | undefined, label: string): number {
  const most = typed ? parseCount(typed, 'enclosure') : 1;
  if (most <= MOST_OF_A_BOX) return most;
  throw badInput(
    'enclosure',
    `enclosure: ${most} of “${label.trim()}” are more than one build can have. At most ${MOST_OF_A_BOX}.`,
  );
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
  // “10GbE card: 190 EUR” says already what it carries.
  const named = match ? null : /^([^:]{1,100}):\s*(.+)$/.exec(line.trim());
  const link = named && linkAtStart(named[1]!, 'connection');
  if (named && link)
    return { label: named[1]!.trim(), ...parsePrices(named[2]!, 'connection', line), hops: [link.hop] };
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
