import type { Payload } from '#core/5-answers/copies/predict.ts';
import type { Field, FieldErrors, FieldTexts } from '#core/1-ground/fields/field.ts';
import { fieldTexts, readFields } from '#core/1-ground/fields/read-fields.ts';
import { BYTES, COUNT, SWITCH } from '#core/1-ground/fields/kinds.ts';

/** What people usually copy, to start from. All figures are made up. */
export const USUAL_PAYLOADS: readonly { id: string; label: string; payload: Payload }[] = [
  { id: 'file', label: 'One large file', payload: { bytes: 400e9, files: 1, parallelFiles: 1, verifies: false } },
  { id: 'offload', label: 'Evening offload', payload: { bytes: 640e9, files: 4200, parallelFiles: 2, verifies: true } },
  { id: 'photos', label: 'Photographs', payload: { bytes: 64e9, files: 8000, parallelFiles: 4, verifies: false } },
  {
    id: 'project',
    label: 'Project folder',
    payload: { bytes: 90e9, files: 60_000, parallelFiles: 4, verifies: false },
  },
];

const GROUP = 'What is copied';

export const PAYLOAD_FIELDS: readonly Field[] = [
  {
    option: 'bytes',
    group: GROUP,
    label: 'Size',
    help: 'Of all of it together, such as 640 GB.',
    flag: 'size',
    kind: BYTES,
  },
  {
    option: 'files',
    group: GROUP,
    label: 'Files',
    help: 'Each costs time beside its bytes.',
    flag: 'files',
    kind: COUNT,
  },
  {
    option: 'parallelFiles',
    group: GROUP,
    label: 'At work at a time',
    help: 'Files that the copying program handles at once.',
    flag: 'at a time',
    kind: COUNT,
  },
  {
    option: 'verifies',
    group: GROUP,
    label: 'Read back and compared',
    help: 'Adds reading all of the copy.',
    flag: 'verify',
    kind: SWITCH,
  },
];

export const payloadTexts = (payload: Payload): FieldTexts => fieldTexts(PAYLOAD_FIELDS, { ...payload });

/** A payload from texts; all faults at once. */
export function readPayload(texts: FieldTexts): { payload: Payload | null; errors: FieldErrors } {
  const { values, errors } = readFields(PAYLOAD_FIELDS, texts);
  const bytes = values['bytes'] as number | undefined;
  if (bytes !== undefined && bytes <= 0) errors['bytes'] = 'size: must be more than nothing.';
  if (bytes !== undefined && bytes > 1e18)
    errors['bytes'] = 'size: more than anything that is copied. Type one such as 640 GB.';
  return Object.keys(errors).length > 0 ? { payload: null, errors } : { payload: values as unknown as Payload, errors };
}
