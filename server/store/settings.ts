import { parseDocument } from '#core/1-ground/schema/parse-document.ts';
import {
  FIRST_SETTINGS,
  SETTINGS_ID,
  changedSettings,
  settingsSchema,
  type Settings,
  type SettingsChange,
} from '#core/6-exchange/archive/settings.ts';
import { settings } from '#server/store/schema.ts';
import { now, type Database } from '#server/store/database.ts';

/** Settings of the workspace with when they were changed; null where nobody changed any. */
export async function findSettings(db: Database): Promise<{ document: Settings; changedAt: string } | null> {
  const [row] = await db.select().from(settings);
  return row ?? null;
}

export async function saveSettings(db: Database, document: Settings, changedAt: string = now()): Promise<void> {
  await db
    .insert(settings)
    .values({ id: SETTINGS_ID, document, changedAt })
    .onConflictDoUpdate({ target: settings.id, set: { document, changedAt } });
}

/** Changes what is named and leaves the rest. @throws Problem `bad-input` */
export async function changeSettings(db: Database, change: SettingsChange): Promise<Settings> {
  return db.transaction(async (tx) => {
    const kept = (await findSettings(tx))?.document ?? FIRST_SETTINGS;
    const next = changedSettings(kept, change);
    parseDocument(settingsSchema, next, 'settings');
    await saveSettings(tx, next);
    return next;
  });
}
