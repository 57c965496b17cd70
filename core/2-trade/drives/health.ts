import { boolean, number, object, type InferType } from 'yup';
import { bytesText, count, formatNumber, formatShare } from '#core/1-ground/units/format.ts';

/**
 * What a drive says of itself, from the JSON of a S.M.A.R.T. reader (the shape that such readers share: NVM Express base
 * specification, log page 02h; ATA attributes by their common numbers). What it does not say is null.
 */
export const healthSchema = object({
  celsius: number().min(0).nullable().defined(),
  /** Share of its rated writing that is used up, by its own count; it may go beyond 1. */
  wornShare: number().min(0).nullable().defined(),
  writtenBytes: number().min(0).nullable().defined(),
  hours: number().min(0).nullable().defined(),
  powerCycles: number().min(0).nullable().defined(),
  /** Bytes that it could not give back as they were written, or places that it gave up, by its own count. */
  mediaErrors: number().min(0).nullable().defined(),
  unsafeShutdowns: number().min(0).nullable().defined(),
  /** Whether it says that it is about to fail. */
  isFailing: boolean().nullable().defined(),
});
export type DriveHealth = InferType<typeof healthSchema>;

type Document = Readonly<Record<string, unknown>>;
const documentOf = (value: unknown): Document =>
  typeof value === 'object' && value !== null && !Array.isArray(value) ? (value as Document) : {};
const numberOf = (value: unknown): number | null =>
  typeof value === 'number' && Number.isFinite(value) && value >= 0 ? value : null;

/** Data units of NVMe are thousands of 512 bytes. */
const DATA_UNIT_BYTES = 512_000;
/** Numbers of ATA attributes; of errors those that tell of data, and of wear those whose value is what is left of 100. */
const ERRORS = [5, 187, 197, 198];
const LEFT = [231, 233, 202, 169, 177];
const UNSAFE_OFF = [174, 192];
const LBAS_WRITTEN = 241;
const LBA_BYTES = 512;

/** Null where the document says nothing of a drive. */
export function healthIn(read: unknown): DriveHealth | null {
  const document = documentOf(read);
  const nvme = documentOf(document['nvme_smart_health_information_log']);
  const table = documentOf(document['ata_smart_attributes'])['table'];
  const rows = (Array.isArray(table) ? table : []).map(documentOf);
  const rowOf = (ids: readonly number[]) => rows.find(({ id }) => ids.includes(id as number));
  const raw = (row: Document | undefined): number | null => numberOf(documentOf(row?.['raw'])['value']);
  const errors = rows.filter(({ id }) => ERRORS.includes(id as number)).map(raw);
  const left = numberOf(rowOf(LEFT)?.['value']);
  const percent =
    numberOf(documentOf(document['endurance_used'])['current_percent']) ??
    numberOf(nvme['percentage_used']) ??
    (left === null || left > 100 ? null : 100 - left);
  const units = numberOf(nvme['data_units_written']);
  const lbas = raw(rowOf([LBAS_WRITTEN]));
  const passed = documentOf(document['smart_status'])['passed'];
  const health: DriveHealth = {
    celsius: numberOf(documentOf(document['temperature'])['current']),
    wornShare: percent === null ? null : percent / 100,
    writtenBytes: units === null ? (lbas === null ? null : lbas * LBA_BYTES) : units * DATA_UNIT_BYTES,
    hours: numberOf(documentOf(document['power_on_time'])['hours']) ?? numberOf(nvme['power_on_hours']),
    powerCycles: numberOf(document['power_cycle_count']) ?? numberOf(nvme['power_cycles']),
    mediaErrors:
      numberOf(nvme['media_errors']) ??
      (errors.length === 0 ? null : errors.reduce<number>((sum, one) => sum + (one ?? 0), 0)),
    unsafeShutdowns: numberOf(nvme['unsafe_shutdowns']) ?? raw(rowOf(UNSAFE_OFF)),
    isFailing: typeof passed === 'boolean' ? !passed : null,
  };
  return Object.values(health).every((value) => value === null) ? null : health;
}

/** What is known of it, by its name and in words; what is not is left out. */
export function healthFacts(health: DriveHealth): { name: string; text: string }[] {
  const { celsius, wornShare, writtenBytes, hours, powerCycles, mediaErrors, unsafeShutdowns, isFailing } = health;
  const fact = (name: string, text: string | null) => (text === null ? [] : [{ name, text }]);
  return [
    ...fact('says of itself', isFailing === null ? null : isFailing ? 'it is about to fail' : 'nothing is failing'),
    ...fact('temperature', celsius === null ? null : `${celsius} °C`),
    ...fact('worn', wornShare === null ? null : `${formatShare(wornShare)} of its rated writing`),
    ...fact('written in all', writtenBytes === null ? null : bytesText(writtenBytes)),
    ...fact('on for', hours === null ? null : count(hours, 'hour', 'hours')),
    ...fact('switched on', powerCycles === null ? null : count(powerCycles, 'time', 'times')),
    ...fact('errors in its data', mediaErrors === null ? null : formatNumber(mediaErrors, 'full')),
    ...fact('cut off without a word', unsafeShutdowns === null ? null : count(unsafeShutdowns, 'time', 'times')),
  ];
}

/** Drives count their wear in whole percent, cut off or rounded. */
const WEAR_STEP = 0.01;
/** With less wear the step is too coarse to say anything. */
const LEAST_WORN = 0.02;

/**
 * Bytes that a drive takes until its promise ends, by its own counts of wear and of what was written: at least, and at
 * most. Null where it does not count both, or is too new to tell.
 */
export function enduranceByItsCount({ wornShare, writtenBytes }: DriveHealth): { least: number; most: number } | null {
  if (wornShare === null || writtenBytes === null || wornShare < LEAST_WORN || writtenBytes === 0) return null;
  return { least: writtenBytes / (wornShare + WEAR_STEP), most: writtenBytes / (wornShare - WEAR_STEP) };
}
