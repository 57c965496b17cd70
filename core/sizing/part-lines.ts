import { hopLine, parseHop } from '#core/links/hop-line.ts';
import { badInput } from '#core/problem.ts';
import type { SizingConnection, SizingEnclosure } from '#core/sizing/parts.ts';
import { parseCount } from '#core/units/quantity.ts';

/** Enclosures and connections as people type them, one a line. */

function priceOf(text: string, where: string, line: string): number {
  const price = Number(text.trim());
  if (text.trim() !== '' && Number.isFinite(price) && price >= 0 && price <= 1e9) return price;
  throw badInput(where, `${where}: “${text.trim()}” in “${line.trim()}” is no price. Type a number, nothing or more.`);
}

/** “Desk box: 8 slots, 420”. @throws Problem `bad-input` */
export function parseEnclosure(line: string): SizingEnclosure {
  const match = /^([^:]{1,100}):\s*(\d+)\s+slots?\s*,\s*(.+)$/.exec(line.trim());
  if (!match) {
    throw badInput(
      'enclosure',
      `enclosure: “${line.trim()}” is none. Type its slots and its price: Desk box: 8 slots, 420.`,
    );
  }
  const slots = parseCount(match[2]!, 'enclosure');
  if (slots > 60) throw badInput('enclosure', `enclosure: ${slots} slots are more than any box has. At most 60.`);
  return { label: match[1]!.trim(), slots, price: priceOf(match[3]!, 'enclosure', line) };
}

export const enclosureLine = ({ label, slots, price }: SizingEnclosure): string =>
  `${label}: ${slots} ${slots === 1 ? 'slot' : 'slots'}, ${price}`;

/** “10 Gb/s card and cable: 190 over Ethernet 10 Gb/s”; several hops are joined by “+”. @throws Problem `bad-input` */
export function parseSizingConnection(line: string): SizingConnection {
  const match = /^([^:]{1,100}):\s*(\S+)\s+over\s+(.+)$/.exec(line.trim());
  if (!match) {
    throw badInput(
      'connection',
      `connection: “${line.trim()}” is none. Type its price and its links: 10 Gb/s card and cable: 190 over Ethernet 10 Gb/s.`,
    );
  }
  return {
    label: match[1]!.trim(),
    price: priceOf(match[2]!, 'connection', line),
    hops: match[3]!.split('+').map((hop) => parseHop(hop.trim())),
  };
}

export const sizingConnectionLine = ({ label, price, hops }: SizingConnection): string =>
  `${label}: ${price} over ${hops.map(hopLine).join(' + ')}`;
