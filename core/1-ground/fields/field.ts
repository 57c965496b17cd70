import { capitalized } from '#core/1-ground/words.ts';

/** One thing that a person gives as text: on a form, and where it has a flag on the command line, alike. */
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

/**
 * Reads a value from what is typed, and shows it so that reading it again gives the same. Common ones stand in
 * core/1-ground/fields/kinds.ts, the others beside what they describe.
 */
export interface FieldKind {
  /** How it is given on a form; in a line of text where it does not say. */
  as?: 'choice' | 'switch' | 'rate' | 'size' | 'lines' | 'format';
  choices?: readonly (readonly [value: string, label: string])[];
  /**
   * @param text as typed, without spaces around it
   * @param where what the field is called in the sentence on a fault
   * @throws Problem `bad-input`
   */
  read(text: string, where: string): unknown;
  show(value: unknown): string;
}

/** Fields as typed, by their names. */
export type FieldTexts = Readonly<Record<string, string>>;

/** What fields give, by their names. */
export type FieldValues = Readonly<Record<string, unknown>>;

/** A sentence for each field at fault. */
export type FieldErrors = Record<string, string>;

/** A fault for those who see it at its field: without the name that the field has on the command line. */
export function withoutName(fault: string): string {
  const rest = fault.replace(/^[a-z][a-z-]*: /, '');
  return /^(?:must|is|has|takes|needs|cannot) /.test(rest) ? `It ${rest}` : capitalized(rest);
}
