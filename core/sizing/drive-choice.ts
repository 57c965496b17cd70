import { number, object, string, type InferType } from 'yup';
import { badInput } from '#core/problem.ts';
import { parseCount } from '#core/units/quantity.ts';

/** Which of the drives with a card a project may be built of, and how many of them are there already. */
export const driveChoiceSchema = object({
  label: string().required().max(120),
  /** Drives that are there and cost nothing. */
  there: number().integer().min(0).max(60).required(),
  /** Most in one build; null for as many as it takes. */
  most: number().integer().min(1).max(60).nullable().defined(),
});
export type DriveChoice = InferType<typeof driveChoiceSchema>;

const THERE = /^(\d+)\s+there$/i;
const MOST = /^at most\s+(\d+)$/i;

/** “Anchor 16T”, “Anchor 16T: 4 there”, “Petrel 2T: 2 there, at most 6”. @throws Problem `bad-input` */
export function parseDriveChoice(line: string): DriveChoice {
  const [label, rest] = line.split(/:(.*)/s) as [string, string | undefined];
  const unreadable = () =>
    badInput('drives', `drives: “${line.trim()}” cannot be read. Type Anchor 16T: 4 there, at most 8.`);
  const choice: DriveChoice = { label: label.trim(), there: 0, most: null };
  for (const part of (rest ?? '').split(',').map((one) => one.trim())) {
    const [there, most] = [THERE.exec(part), MOST.exec(part)];
    if (there) choice.there = parseCount(there[1]!, 'drives', 0);
    else if (most) choice.most = parseCount(most[1]!, 'drives');
    else if (part !== '') throw unreadable();
  }
  if (choice.label === '') throw unreadable();
  if (choice.there > 60 || (choice.most ?? 1) > 60) throw badInput('drives', 'drives: at most 60 of a kind.');
  if (choice.most !== null && choice.most < choice.there) {
    throw badInput(
      'drives',
      `drives: of “${choice.label}” more are there than may be used. Let at most be ${choice.there}.`,
    );
  }
  return choice;
}

export const driveChoiceLine = ({ label, there, most }: DriveChoice): string => {
  const parts = [...(there > 0 ? [`${there} there`] : []), ...(most === null ? [] : [`at most ${most}`])];
  return parts.length === 0 ? label : `${label}: ${parts.join(', ')}`;
};

/**
 * The drives a project may be built of, with what is said of each; all of them where nothing is said.
 * @throws Problem `bad-input` for a name that no drive has
 */
export function chosenDrives<Drive extends { label: string }>(
  drives: readonly Drive[],
  choices: readonly DriveChoice[],
): (Drive & { there: number; most: number | null })[] {
  if (choices.length === 0) return drives.map((drive) => ({ ...drive, there: 0, most: null }));
  return choices.map(({ label, there, most }) => {
    const drive = drives.find((one) => one.label.toLowerCase() === label.toLowerCase());
    if (drive) return { ...drive, there, most };
    const names = drives.map((one) => one.label).join(', ');
    throw badInput('drives', `drives: no drive with a price is called “${label}”. There is: ${names}.`);
  });
}
