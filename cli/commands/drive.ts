import type { Command } from 'commander';
import { inWorkspace } from '#cli/in-store.ts';
import { print, printJson, tableLines } from '#cli/output.ts';
import { textOf } from '#cli/files.ts';
import { camelCase } from '#cli/flags.ts';
import { readJson } from '#core/1-ground/schema/json-text.ts';
import { badInput } from '#core/1-ground/problem.ts';
import { bytesText, orDash, rateText } from '#core/1-ground/units/format.ts';
import { parseDriveLine, type NewDrive } from '#core/2-trade/drives/drive-line.ts';
import { FROM_ITS_BOX, MEDIA, mediumText } from '#core/2-trade/drives/medium.ts';
import { newDriveText, newDriveTexts, readNewDrive } from '#core/2-trade/drives/new-drive.ts';
import { parseProfile } from '#core/4-runs/supply/profile.ts';
import { textsOfProfile } from '#core/4-runs/supply/typed-from-profile.ts';
import { defaultDataFolder } from '#server/serve.ts';
import type { Database } from '#server/store/database.ts';
import { addDrive, joinDrives, listDrives, removeDrive } from '#server/store/drives.ts';

/** Cards of drives: those that were measured, and those that are known from their boxes. */
export function addDriveCommand(program: Command): void {
  const command = program
    .command('drive')
    .description(
      'cards of drives: adds one that is not here as it stands on its box, lists them all, removes one that was typed, or joins it with the one that was measured since',
    )
    .argument('<add|list|remove|join>', 'what to do')
    .argument(
      '[line]',
      'of a drive to add: “20 TB spinning, 265 MB/s, 12 ms, SATA, 530 EUR”, a name and a colon before it; to join or remove, the name that was typed',
    )
    .argument('[measured]', 'to join: the name of the drive that was measured')
    .option('--json', 'print JSON')
    .option(
      '--profile <file>',
      'the profile of a colleague’s drive, as exported: what it says counts where nothing else is typed',
    );
  for (const [flag, , text] of FLAGS) command.option(`--${flag}`, `to add: ${text}`);
  command.action(
    async (
      what: string,
      line: string | undefined,
      measured: string | undefined,
      { json = false, ...flags }: { json?: boolean } & Record<string, string | undefined>,
    ) => {
      if (what === 'add') await add(line, flags, json);
      else if (what === 'remove') await remove(line, json);
      else if (what === 'list') await list(json);
      else if (what === 'join') await join(line, measured, json);
      else throw badInput('drive', `drive: “${what}” is not known. Type add, list, remove or join.`);
    },
  );
}

const DRIVES = '/api/drives';

/** Flags of a drive, each with the field of the form that it is. */
const FLAGS = [
  ['name <text>', 'label', 'what it is called'],
  ['capacity <size>', 'capacity', 'how large it is'],
  ['medium <word>', 'medium', `what it keeps its bytes on: ${MEDIA.join(', ')}`],
  ['write <rate>', 'ratedWrite', 'what it writes at the beginning'],
  ['write-floor <rate>', 'ratedFloor', 'what it writes behind its fast cache'],
  ['floor-after <size>', 'ratedFall', 'what its fast cache takes'],
  ['inner <rate>', 'ratedInner', 'of a spinning drive, on its inner tracks'],
  ['read <rate>', 'ratedRead', 'what it reads'],
  ['access <time>', 'access', 'of one small read'],
  ['link <link>', 'hops', 'how it is connected, such as “PCIe 4.0 x4”'],
  ['price <price>', 'price', 'with its currency'],
  ['endurance <size>', 'endurance', 'what it may be written'],
  ['noise <loudness>', 'loudness', 'such as “34 dB at 1 m”'],
] as const;

type DriveFlags = Readonly<Record<string, string | undefined>>;

/** A drive from a line, from flags, from a profile, or from all of them: flags count first, then the line. */
async function driveFrom(line: string | undefined, flags: DriveFlags): Promise<NewDrive> {
  const given = FLAGS.flatMap(([flag, option]): [string, string][] => {
    const typed = flags[camelCase(flag.split(' ')[0]!)];
    return typed === undefined ? [] : [[option, typed]];
  });
  const { profile } = flags;
  if (given.length === 0 && profile === undefined) return parseDriveLine(line ?? '');
  const told =
    profile === undefined ? {} : textsOfProfile(parseProfile(readJson(await textOf(profile, 'profile'), 'profile')));
  const { kept, errors } = readNewDrive({
    ...newDriveTexts(),
    ...told,
    ...(line === undefined ? {} : { line }),
    ...Object.fromEntries(given),
  });
  if (kept) return kept;
  throw badInput('line', Object.values(errors)[0] ?? 'line: cannot be read.');
}

async function remove(name: string | undefined, json: boolean): Promise<void> {
  const cards = await inWorkspace(defaultDataFolder(), 'GET', DRIVES, undefined, listDrives);
  const wanted = name?.trim().toLowerCase();
  const found = cards.filter(({ id, label }) => id === name?.trim() || label.toLowerCase() === wanted);
  const [card] = found;
  if (!card || found.length > 1) {
    const names = cards.map(({ id, label }) => `${label} (${id})`).join(', ') || 'none';
    throw badInput(
      'line',
      `line: ${found.length > 1 ? 'several drives are' : 'no drive is'} called “${name ?? ''}”. There is: ${names}.`,
    );
  }
  await inWorkspace(defaultDataFolder(), 'DELETE', `${DRIVES}/${card.id}`, undefined, (db) => removeDrive(db, card.id));
  if (json) printJson({ removed: card.id });
  else print(`${card.label} is removed.`);
}

async function add(line: string | undefined, flags: DriveFlags, json: boolean): Promise<void> {
  const typed = await driveFrom(line, flags);
  const card = await inWorkspace(defaultDataFolder(), 'POST', DRIVES, typed, (db) => addDrive(db, typed));
  if (json) printJson(card);
  else print(newDriveText(typed));
}

async function join(typed: string | undefined, measured: string | undefined, json: boolean): Promise<void> {
  const cards = await inWorkspace(defaultDataFolder(), 'GET', DRIVES, undefined, listDrives);
  const idOf = (label: string | undefined, isTyped: boolean, where: string): string => {
    const those = cards.filter(({ identityKind }) => (identityKind === 'typed') === isTyped);
    const found = those.find((card) => card.label.toLowerCase() === label?.trim().toLowerCase());
    if (found) return found.id;
    const names = those.length === 0 ? 'There is none.' : `There is: ${those.map((card) => card.label).join(', ')}.`;
    throw badInput(
      where,
      `${where}: no drive that was ${isTyped ? 'typed' : 'measured'} is called “${label ?? ''}”. ${names}`,
    );
  };
  const [typedId, measuredId] = [idOf(typed, true, 'line'), idOf(measured, false, 'measured')];
  const doing = (db: Database) => joinDrives(db, typedId, measuredId);
  const card = await inWorkspace(defaultDataFolder(), 'POST', `${DRIVES}/${typedId}/join`, { with: measuredId }, doing);
  if (json) printJson(card);
  else print(`${card.label}: its runs count from now on, beside what its box promises.`);
}

async function list(json: boolean): Promise<void> {
  const cards = await inWorkspace(defaultDataFolder(), 'GET', DRIVES, undefined, listDrives);
  if (json) return printJson(cards);
  const rows = cards.map(({ label, medium, capacityBytes, identityKind, details }) => [
    label,
    mediumText(medium),
    bytesText(capacityBytes),
    `writes ${orDash(details.ratedWriteBytesPerSecond, rateText)}`,
    `reads ${orDash(details.ratedReadBytesPerSecond, rateText)}`,
    identityKind === 'typed' ? FROM_ITS_BOX : 'measured here',
  ]);
  if (rows.length > 0) tableLines(rows).forEach(print);
}
