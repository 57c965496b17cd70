import { array, number, object, string, type InferType } from 'yup';
import { ceilingBytesPerSecond, linkKindById } from '#core/2-trade/links/links.ts';

/** One stretch between medium and machine, as the system tells it or a person typed it. */
export const hopSchema = object({
  /** Id of a link kind, or `given` where the person typed a ceiling. */
  linkId: string().required().max(40),
  label: string().required().max(120),
  lanes: number().integer().min(1).max(32).required(),
  /** Payload ceiling, bytes per second. */
  ceilingBytesPerSecond: number().positive().required(),
  /** What both ends could do, where that is more; bytes per second, null when not known. */
  capableBytesPerSecond: number().positive().nullable().defined(),
  /** Where it is, such as the hub or the network port: hops of two drives that name the same are one and shared. */
  at: string().max(120).optional(),
});
export type Hop = InferType<typeof hopSchema>;

/** The chain of hops between a drive's medium and this machine, medium first. */
export const connectionSchema = object({
  hops: array(hopSchema.required()).max(12).required(),
});
export type Connection = InferType<typeof connectionSchema>;

/** A hop of a known kind; its label says kind and lanes. Undefined for unknown ids. */
export function hopOf(linkId: string, lanes = 1, capableLanes = lanes, capableLinkId = linkId): Hop | undefined {
  const kind = linkKindById(linkId);
  const capableKind = linkKindById(capableLinkId);
  if (!kind || !capableKind) return undefined;
  const ceiling = ceilingBytesPerSecond(kind, lanes);
  const capable = ceilingBytesPerSecond(capableKind, capableLanes);
  return {
    linkId,
    label: kind.lanes === 'counted' ? `${kind.label} ×${lanes}` : kind.label,
    lanes,
    ceilingBytesPerSecond: ceiling,
    capableBytesPerSecond: capable > ceiling * 1.01 ? capable : null,
  };
}

/** The least hop of a connection: it binds. Null when nothing is known of the chain. */
export function bindingHop(connection: Connection): Hop | null {
  return connection.hops.reduce<Hop | null>(
    (least, hop) => (least === null || hop.ceilingBytesPerSecond < least.ceilingBytesPerSecond ? hop : least),
    null,
  );
}

/** Hops that run below what both of their ends could do. */
export function downgradedHops(connection: Connection): Hop[] {
  return connection.hops.filter((hop) => hop.capableBytesPerSecond !== null);
}

/** What a connection carries of both ways together: the least of its hops that go one way at a time; null without any. */
export function bothWaysCeiling({ hops }: Connection): number | null {
  const ceilings = hops
    .filter(({ linkId }) => linkKindById(linkId)?.duplex === 'half')
    .map(({ ceilingBytesPerSecond: ceiling }) => ceiling);
  return ceilings.length > 0 ? Math.min(...ceilings) : null;
}
