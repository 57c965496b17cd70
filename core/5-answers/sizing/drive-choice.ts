import { eachLine } from '#core/1-ground/fields/kinds.ts';
import { array, number, object, string, type InferType } from 'yup';
import { badInput } from '#core/1-ground/problem.ts';
import {
  COPY_STORES,
  STORE_WORDS,
  copyStoreNamed,
  copyStoreSchema,
  type StoreId,
} from '#core/5-answers/sizing/stores.ts';
import { parseCount } from '#core/1-ground/units/quantity.ts';

const MOST_OF_A_KIND = 60;
const count = () => number().integer().min(0).max(MOST_OF_A_KIND);

/** Drives of a kind that are there already and cost nothing. */
export const drivesThereSchemas = {
  /** For working storage. */
  there: count().default(0).meta({ addedLater: true }),
  /** For other stores. */
  thereFor: array(object({ store: copyStoreSchema(), count: count().required() }).required())
    .max(COPY_STORES.length)
    .default([])
    .meta({ addedLater: true }),
  /** Most in one build; null for as many as it takes. */
  most: number().integer().min(1).max(MOST_OF_A_KIND).nullable().default(null).meta({ addedLater: true }),
};

/** Which of the drives with a card a project may be built of, and how many of them are there already. */
export const driveChoiceSchema = object({
  label: string().required().max(120),
  ...drivesThereSchemas,
});
export type DriveChoice = InferType<typeof driveChoiceSchema>;

/** What of a kind of drive is there, and how many of it may be used. */
export type DrivesThere = Omit<DriveChoice, 'label'>;

/** All of them are to be bought, as many as it takes. */
export const NONE_THERE: DrivesThere = { there: 0, thereFor: [], most: null };

/** Drives of a kind that are there for a store. */
export const thereOn = (store: StoreId, { there, thereFor }: DrivesThere): number =>
  store === 'working' ? there : (thereFor.find((one) => one.store === store)?.count ?? 0);

const THERE = /^(\d+)\s+there(?:\s+for\s+(.+))?$/i;
const MOST = /^at most\s+(\d+)$/i;

/**
 * “Anchor 16T”, “Petrel 2T: 2 there, at most 6”, “Anchor 16T: 4 there, 2 there for second copy”.
 * @throws Problem `bad-input`
 */
export function parseDriveChoice(line: string): DriveChoice {
  const [label, rest] = line.split(/:(.*)/s) as [string, string | undefined];
  const unreadable = () =>
    badInput(
      'drives',
      `drives: “${line.trim()}” cannot be read. Type Anchor 16T: 4 there, 2 there for second copy, at most 8.`,
    );
  const choice: DriveChoice = { label: label.trim(), ...NONE_THERE };
  for (const part of (rest ?? '').split(',').map((one) => one.trim())) {
    const [there, most] = [THERE.exec(part), MOST.exec(part)];
    const store = there?.[2] === undefined ? undefined : copyStoreNamed(there[2]);
    if (there && store === null) throw unreadable();
    if (there && store) {
      const others = choice.thereFor.filter((one) => one.store !== store);
      choice.thereFor = [...others, { store, count: parseCount(there[1]!, 'drives', 0) }];
    } else if (there) choice.there = parseCount(there[1]!, 'drives', 0);
    else if (most) choice.most = parseCount(most[1]!, 'drives');
    else if (part !== '') throw unreadable();
  }
  if (choice.label === '') throw unreadable();
  const mostThere = Math.max(choice.there, ...choice.thereFor.map((one) => one.count));
  if (mostThere > MOST_OF_A_KIND || (choice.most ?? 1) > MOST_OF_A_KIND) {
    throw badInput('drives', `drives: at most ${MOST_OF_A_KIND} of a kind.`);
  }
  if (choice.most !== null && choice.most < mostThere) {
    throw badInput(
      'drives',
      `drives: of “${choice.label}” more are there than may be used. Let at most be ${mostThere}.`,
    );
  }
  return choice;
}

export const driveChoiceLine = ({ label, there, thereFor, most }: DriveChoice): string => {
  const parts = [
    ...(there > 0 ? [`${there} there`] : []),
    ...thereFor.map(({ store, count }) => `${count} there for ${STORE_WORDS[store].toLowerCase()}`),
    ...(most === null ? [] : [`at most ${most}`]),
  ];
  return parts.length === 0 ? label : `${label}: ${parts.join(', ')}`;
};

/**
 * The drives a project may be built of, with what is said of each; all that have a price where nothing is said. What
 * has none can be used as far as it is there.
 * @throws Problem `bad-input` for a name that no drive has, and for what has no price and is not there
 */
export function chosenDrives<Drive extends { label: string; price: number | null }>(
  drives: readonly Drive[],
  choices: readonly DriveChoice[],
): (Drive & DrivesThere & { price: number })[] {
  if (choices.length === 0) {
    return drives.flatMap((drive) => (drive.price === null ? [] : [{ ...drive, price: drive.price, ...NONE_THERE }]));
  }
  return choices.map(({ label, ...there }) => {
    const drive = drives.find((one) => one.label.toLowerCase() === label.toLowerCase());
    if (drive && drive.price !== null) return { ...drive, price: drive.price, ...there };
    const most = Math.max(there.there, ...there.thereFor.map(({ count: those }) => those));
    if (drive && most > 0) return { ...drive, price: 0, ...there, most };
    if (drive) {
      throw badInput(
        'drives',
        `drives: “${drive.label}” has no price on its card. Type it there, or how many are there already: ${drive.label}: 1 there.`,
      );
    }
    const names = drives.map((one) => one.label).join(', ');
    throw badInput(
      'drives',
      `drives: no drive is called “${label}”. ${names === '' ? 'None has a card yet: add it first.' : `There is: ${names}.`}`,
    );
  });
}

/** Kinds of drives that a project may be built of, one a line. */
export const DRIVE_CHOICE = eachLine(parseDriveChoice, driveChoiceLine, /\n/);
