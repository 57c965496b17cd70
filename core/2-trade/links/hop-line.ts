import { eachLine } from '#core/1-ground/fields/kinds.ts';
import type { Hop } from '#core/2-trade/links/connection.ts';
import { linkAtStart } from '#core/2-trade/links/link-names.ts';
import { LINK_KINDS } from '#core/2-trade/links/links.ts';
import { badInput } from '#core/1-ground/problem.ts';
import { parseRate } from '#core/1-ground/units/quantity.ts';
import { rateTyped } from '#core/1-ground/units/typable.ts';

/** Hops of a connection as people type them, one a line: kind of link, lanes, and where it is. */

const PLACE = /\s+at\s+(\S.*)$/i;

/**
 * “PCIe 4.0 x4”, “USB 3.2 Gen 2 at the hub”, “10GbE at port 1”, or a ceiling of one’s own with a
 * name: “Old adapter: 400 MB/s”. Hops of two drives at the same place are one, and shared.
 * @throws Problem `bad-input` that lists the kinds there are, or asks which of several is meant
 */
export function parseHop(line: string): Hop {
  const place = PLACE.exec(line)?.[1]?.trim();
  const at = place === undefined ? {} : { at: place };
  const text = line.replace(PLACE, '').trim();
  const given = /^([^:]{1,100}):\s*(.+)$/.exec(text);
  if (given) {
    const ceilingBytesPerSecond = parseRate(given[2]!, 'connection');
    if (!(ceilingBytesPerSecond > 0)) throw badInput('connection', 'connection: a hop carries more than nothing.');
    return {
      linkId: 'given',
      label: given[1]!.trim(),
      lanes: 1,
      ceilingBytesPerSecond,
      capableBytesPerSecond: null,
      ...at,
    };
  }
  const link = linkAtStart(text, 'connection');
  if (link?.words.length !== text.length) {
    throw badInput(
      'connection',
      `connection: “${line.trim()}” is no link known here. There is: ${LINK_KINDS.map(({ label }) => label).join(', ')}; or type a ceiling of your own, such as Old adapter: 400 MB/s.`,
    );
  }
  return { ...link.hop, ...at };
}

/** A hop as it is typed, so that reading it again gives the same. */
export function hopLine({ linkId, label, ceilingBytesPerSecond, at }: Hop): string {
  const place = at === undefined ? '' : ` at ${at}`;
  return linkId === 'given' ? `${label}: ${rateTyped(ceilingBytesPerSecond)}${place}` : `${label}${place}`;
}

/** Hops of a connection, one a line. */
export const HOPS = eachLine(parseHop, hopLine);
