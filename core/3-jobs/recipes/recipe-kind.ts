import type { ObjectSchema } from 'yup';
import type { Field } from '#core/1-ground/fields/field.ts';

/** What is known of a volume before a run on it: for telling what the run will take. */
export interface Knowledge {
  /** Rates expected of the drive, bytes per second; null where nothing was measured yet. */
  writeBytesPerSecond: number | null;
  readBytesPerSecond: number | null;
  /** Free space less the reserve. */
  roomBytes: number;
}

/** What a run will take. */
export interface Cost {
  /** Bytes written and read in all; null where it cannot be told before. */
  writtenBytes: number | null;
  readBytes: number | null;
  /** Most space taken at any time. */
  spaceBytes: number;
  /** Null where no rate of the drive is known, and for runs that go on until stopped. */
  seconds: number | null;
  /** Whether what is read and how long it takes is the least or the most that it may come to; else about that. */
  bound?: 'least' | 'most';
}

/** The readings of a trace that there are, see core/4-runs/trace/figures.ts. */
export type Measures = 'levels' | 'rungs' | 'frames' | 'files' | 'phases' | 'copies';

/** A recipe as people meet it: what it is for, its options, and what it takes. */
export interface RecipeKind<Options extends object> {
  id: string;
  label: string;
  /** One sentence: what it is for and what it costs. */
  purpose: string;
  /** What its trace is read as: levels of the drive, or figures of its own. */
  measures: Measures;
  /** Names and folders of many files are written beside their bytes, so that the device moves more than these. */
  writesNames: boolean;
  /** It makes nothing on the volume, and may run where nothing can be written. */
  readOnly: boolean;
  /** It can be held and go on; what keeps its own time cannot. */
  canBeHeld: boolean;
  /** It writes to further volumes, which are named with the run. */
  hasTargets: boolean;
  /** It is started by a question, and not chosen by itself. */
  isAsked?: true;
  options: ObjectSchema<Options>;
  fields: readonly Field[];
  /** The options in one line, for the place beside the start button. */
  summary(options: Options): string;
  cost(options: Options, knowledge: Knowledge): Cost;
}

/** Seconds for bytes at a rate that may not be known. */
export function secondsFor(bytes: number, bytesPerSecond: number | null): number | null {
  return bytesPerSecond === null || bytesPerSecond <= 0 ? null : bytes / bytesPerSecond;
}

export function addSeconds(...parts: (number | null)[]): number | null {
  return parts.reduce<number | null>((sum, part) => (sum === null || part === null ? null : sum + part), 0);
}
