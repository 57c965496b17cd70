import { existsSync } from 'node:fs';
import { inStore } from '#cli/in-store.ts';
import { call } from '#cli/through-server.ts';
import { RATE_PATTERN } from '#core/1-ground/units/quantity.ts';
import type { DriveDetails } from '#core/2-trade/drives/drive-details.ts';
import { parseDriveLine, type NewDrive } from '#core/2-trade/drives/drive-line.ts';
import { parseProfile, type Profile } from '#core/4-runs/supply/profile.ts';
import { promisedProfile } from '#core/4-runs/supply/promised.ts';
import { cardedDrive, type CardedDrive } from '#core/5-answers/sizing/drive-of-card.ts';
import type { DriveCard } from '#core/6-exchange/api/wire.ts';
import { defaultDataFolder, findServer } from '#server/serve.ts';
import { listDrives } from '#server/store/drives.ts';
import { databaseUrlOf, storeFolderOf } from '#server/store/folder.ts';
import { createProfiles } from '#server/store/profiles.ts';

/** Drives that need not be attached: those with a card in the workspace, and those that are typed as on their box. */

export interface KnownDrive {
  label: string;
  capacityBytes: number;
  details: DriveDetails;
  /** As a kind of drive to build with; null where nothing can be built of it. */
  drive: CardedDrive | null;
  /** One for each connection, the latest first; what its box promises where nothing was measured. */
  profiles: readonly Profile[];
}

/** A drive as it is typed, which is kept nowhere. @throws Problem `bad-input` */
export function typedDrive(line: string): KnownDrive {
  const typed = parseDriveLine(line);
  const card = { ...typed, id: idOf(typed), createdAt: new Date().toISOString() };
  const profile = promisedProfile(card);
  return known(card, profile === null ? [] : [profile]);
}

const idOf = ({ label }: NewDrive): string => `typed-${label}`.slice(0, 80);

/** Whether a text reads as a drive on its box, and not as a path or a name. */
export const isDriveLine = (text: string): boolean =>
  HAS_SIZE.test(text) && (text.includes(',') || HAS_RATE.test(text));
const HAS_SIZE = /\d\s*[kMGTP]i?B\b/;
const HAS_RATE = new RegExp(RATE_PATTERN);

/**
 * Drives that have a card in the workspace; none where there is no workspace yet.
 * @param isWanted by its card: what the runs of others testify is not read
 */
export async function drivesOfWorkspace(isWanted: (card: DriveCard) => boolean = () => true): Promise<KnownDrive[]> {
  const dataFolder = defaultDataFolder();
  const server = await findServer(dataFolder);
  if (server) {
    const cards = ((await call(server, 'GET', '/api/drives')) as DriveCard[]).filter(isWanted);
    return Promise.all(
      cards.map(async (card) => {
        const profiles = (await call(server, 'GET', `/api/drives/${card.id}/profiles`)) as unknown[];
        return known(card, profiles.map(parseProfile));
      }),
    );
  }
  if (databaseUrlOf(process.env) === null && !existsSync(storeFolderOf(dataFolder))) return [];
  return inStore(dataFolder, async ({ db }) => {
    const all = createProfiles(db);
    const found: KnownDrive[] = [];
    for (const card of (await listDrives(db)).filter(isWanted)) found.push(known(card, await all.of(card.id)));
    return found;
  });
}

const known = (card: Parameters<typeof cardedDrive>[0], profiles: readonly Profile[]): KnownDrive => ({
  label: card.label,
  capacityBytes: card.capacityBytes,
  details: card.details,
  drive: cardedDrive(card, profiles[0] ?? null),
  profiles,
});
