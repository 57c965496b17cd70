import { array, number, object, string, type InferType } from 'yup';

/** What can be switched on in a stand-in, to see what a measurement makes of it. */
export const FAULT_KINDS = [
  'full',
  'read-error',
  'unplugged',
  'stall',
  'wrong-data',
  'falsified-capacity',
  'cached-reads',
  'other-traffic',
  'hot',
  'one-lane',
] as const;
export type FaultKind = (typeof FAULT_KINDS)[number];

export interface FaultText {
  label: string;
  /** One sentence: what the stand-in does then. */
  help: string;
  /** Where it strikes when nothing is said: seconds of the run, or bytes. */
  at: number;
  unit: 'seconds' | 'bytes' | null;
}

export const FAULT_TEXTS: Record<FaultKind, FaultText> = {
  full: { label: 'Full', help: 'Writing fails as if the space were used up.', at: 3e9, unit: 'bytes' },
  'read-error': { label: 'Read error', help: 'A stretch cannot be read.', at: 256e6, unit: 'bytes' },
  unplugged: { label: 'Unplugged', help: 'The device is gone in the middle of the run.', at: 8, unit: 'seconds' },
  stall: { label: 'Stall', help: 'Nothing moves for four seconds.', at: 8, unit: 'seconds' },
  'wrong-data': {
    label: 'Wrong data',
    help: 'One page is read back with other data.',
    at: 64 * 1024 * 1024,
    unit: 'bytes',
  },
  'falsified-capacity': {
    label: 'Falsified capacity',
    help: 'Behind the real capacity writing begins again at its start.',
    at: 4e9,
    unit: 'bytes',
  },
  'cached-reads': {
    label: 'Reads from memory',
    help: 'What was just written is read out of memory.',
    at: 0,
    unit: null,
  },
  'other-traffic': {
    label: 'Other traffic',
    help: 'Something else writes to it for half of the time.',
    at: 0,
    unit: null,
  },
  hot: { label: 'Hot from before', help: 'It starts as warm as hard work leaves it.', at: 0, unit: null },
  'one-lane': { label: 'One-lane slot', help: 'It sits in a slot with one lane of its four.', at: 0, unit: null },
};

export const faultSchema = object({
  kind: string().oneOf(FAULT_KINDS, 'faults: ${value} is no fault of a stand-in.').required(),
  /** Null takes the kind’s own. */
  at: number().min(0).nullable().default(null),
}).noUnknown('faults: “${unknown}” is not known.');
export type Fault = InferType<typeof faultSchema>;
export const faultsSchema = array(faultSchema.required()).max(FAULT_KINDS.length).required();

/** Where a fault strikes; null when it is not switched on. */
export function faultAt(faults: readonly Fault[], kind: FaultKind): number | null {
  const fault = faults.find((one) => one.kind === kind);
  return fault ? (fault.at ?? FAULT_TEXTS[kind].at) : null;
}
