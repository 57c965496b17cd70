import { mkdirSync, readFileSync, readdirSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { tellHouse, whyNotReached, type HouseAddress } from '#cli/house/client.ts';
import { note } from '#cli/output.ts';
import { readJson } from '#core/1-ground/schema/json-text.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';

/** Runs that go to a house: what cannot be sent is kept, and sent later, once. */

/** What is waiting to be sent, in a data folder. */
const outboxOf = (dataFolder: string): string => join(dataFolder, 'outbox');

/** Keeps a run to be sent; a crash leaves all of it or nothing. */
export function keepToSend(dataFolder: string, run: RunDocument, { url }: HouseAddress): void {
  const folder = outboxOf(dataFolder);
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  const file = join(folder, `${run.id}.json`);
  writeFileSync(`${file}.part`, JSON.stringify({ url, run }), { mode: 0o600 });
  renameSync(`${file}.part`, file);
}

export interface Sent {
  sent: number;
  /** Kept for later. */
  waiting: number;
  /** Why something waits, as a sentence; null where nothing does. */
  why: string | null;
}

/**
 * Sends what waits for a house, the oldest first. What it has already is not sent twice: a run is known by its id.
 * What does not reach it is kept.
 */
export async function sendWaiting(dataFolder: string, house: HouseAddress): Promise<Sent> {
  let waiting: string[];
  try {
    waiting = readdirSync(outboxOf(dataFolder)).filter((name) => name.endsWith('.json'));
  } catch {
    return { sent: 0, waiting: 0, why: null };
  }
  let [sent, why]: [number, string | null] = [0, null];
  const left: string[] = [];
  for (const name of byAge(dataFolder, waiting)) {
    const file = join(outboxOf(dataFolder), name);
    const text = textIfThere(file);
    if (text === null) continue;
    const { url, run } = readJson(text, 'outbox') as { url: string; run: RunDocument };
    if (url !== house.url) continue;
    try {
      const path = `/api/archive?take=newer&name=${encodeURIComponent(name)}`;
      await tellHouse(house, path, JSON.stringify(run), 'application/octet-stream');
      rmSync(file, { force: true });
      sent += 1;
    } catch (error) {
      left.push(name);
      why = whyNotReached(error, house);
    }
  }
  return { sent, waiting: left.length, why };
}

/** Null where somebody else who sends from here was quicker. */
function textIfThere(file: string): string | null {
  try {
    return readFileSync(file, 'utf8');
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') return null;
    throw error;
  }
}

const byAge = (dataFolder: string, names: readonly string[]): string[] => {
  const ages = new Map(
    names.map((name) => [
      name,
      statSync(join(outboxOf(dataFolder), name), { throwIfNoEntry: false })?.mtimeMs ?? Infinity,
    ]),
  );
  return [...names].sort((a, b) => ages.get(a)! - ages.get(b)!);
};

/** Says what became of it on standard error. */
export function tellSent({ sent, waiting, why }: Sent, { url }: HouseAddress): void {
  if (sent > 0) note(`${sent} ${sent === 1 ? 'run was' : 'runs were'} sent to ${url}.`);
  if (waiting > 0) note(`${waiting} ${waiting === 1 ? 'run waits' : 'runs wait'} to be sent with the next: ${why}`);
}
