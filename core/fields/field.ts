/**
 * One thing that a person gives as text: on a form, and where it has a flag on the command line, alike.
 * What reads it is core/fields/read-fields.ts, the same for recipes and demands.
 */
export interface Field {
  /** Name of the value that it gives. */
  option: string;
  /** Heading under which fields stand together on a form. */
  group: string;
  label: string;
  /** One sentence under the field. */
  help: string;
  /** What it is called in sentences on faults; and its name on the command line, without the dashes. */
  flag: string;
  kind: FieldKind;
  /** For what may be left out: what leaving the field empty means. */
  empty?: string;
}

export type FieldKind =
  | { type: 'text' }
  /** A day, such as 2027-03-01. */
  | { type: 'date' }
  /** A whole number from 1, or from `least`, on. */
  | { type: 'count'; least?: number }
  /** A number above 0, and of at least so much. */
  | { type: 'number'; example: string; least?: number }
  | { type: 'bytes' }
  | { type: 'block' }
  /** A time; above nothing where it says so. */
  | { type: 'seconds'; positive?: true }
  | { type: 'rate' }
  | { type: 'frame-rate' }
  /** Raster, layout and frame rate in one line, see core/media/format-text.ts. */
  | { type: 'format' }
  /** Seconds or bytes: which of the two is kept. */
  | { type: 'buffer' }
  | { type: 'switch' }
  | { type: 'choice'; choices: readonly (readonly [value: string, label: string])[] }
  /** Numbers of which some are taken, typed as a list. */
  | { type: 'counts' }
  | { type: 'blocks' }
  | { type: 'durations' }
  /** One stream of frames a line, see core/media/frame-stream.ts. */
  | { type: 'streams' }
  /** A share, in per cent or as a fraction. */
  | { type: 'share' }
  /** Voxels along each side of a grid. */
  | { type: 'voxels' }
  /** One channel of a cache a line, see core/demand/series/channels.ts. */
  | { type: 'channels' }
  /** Times seen on drives, one drive a line, see core/demand/observed/observation.ts. */
  | { type: 'observations' }
  /** One phase of a load a line, see core/demand/loads/phase-line.ts. */
  | { type: 'phases' }
  /** One hop of a connection a line, see core/links/hop-line.ts. */
  | { type: 'hops' }
  /** One part, kind of drive, kind of material, enclosure or connection of a project a line, see core/sizing/. */
  | { type: 'calendar' }
  | { type: 'drive-choice' }
  | { type: 'materials' }
  | { type: 'enclosures' }
  | { type: 'connections' };

const LINES: readonly FieldKind['type'][] = [
  'streams',
  'channels',
  'observations',
  'phases',
  'hops',
  'calendar',
  'drive-choice',
  'materials',
  'enclosures',
  'connections',
];

/** Kinds that take several lines. */
export const isLines = ({ type }: FieldKind): boolean => LINES.includes(type);

/** Fields as typed, by their names. */
export type FieldTexts = Readonly<Record<string, string>>;
/** What fields give, by their names. */
export type FieldValues = Readonly<Record<string, unknown>>;
/** A sentence for each field at fault. */
export type FieldErrors = Record<string, string>;
