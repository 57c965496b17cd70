import { rm } from 'node:fs/promises';
import type { KeptScratchEntry, LeftScratchEntry } from '#core/6-exchange/api/wire.ts';
import { Problem } from '#core/1-ground/problem.ts';
import { isAlive, isSameProcess, ownIdentity } from '#engine/locks/process-identity.ts';
import { dropNote, noteFile, notesIn, readNote, scratchName, type JournalEntry } from '#engine/scratch/journal.ts';
import { nowhere, removeScratch, wasRemoved, type MountPoints, type Removal } from '#engine/scratch/removal.ts';

/**
 * Removes what earlier processes left. Runs of this process for which `isRunning`, and those of other processes that
 * live, are passed over. What cannot be removed of one is no reason to leave another.
 * @returns how each noted folder fared
 */
export async function cleanUpScratch(
  journalFolder: string,
  isRunning: (runId: string) => boolean,
  mountPoints: MountPoints = nowhere,
): Promise<{ folder: string; removal: Removal }[]> {
  const cutOff: string[] = [];
  const noted = await notesIn(journalFolder, (file) => cutOff.push(file));
  // A note cut off by a crash was written before its folder was made: nothing to remove.
  for (const file of cutOff) await rm(file, { force: true }).catch(() => undefined);
  const results: { folder: string; removal: Removal }[] = [];
  for (const { note, entry } of noted) {
    if (entry.kept) {
      // Kept on purpose; forgotten only when somebody was seen to have removed it.
      if (await wasRemoved(entry)) await dropNote(note);
      continue;
    }
    if (isInUse(entry, isRunning)) continue;
    results.push({ folder: entry.folder, removal: await removeScratch(entry, note, mountPoints) });
  }
  return results;
}

function isInUse({ runId, owner }: JournalEntry, isRunning: (runId: string) => boolean): boolean {
  return isSameProcess(owner, ownIdentity()) ? isRunning(runId) : isAlive(owner);
}

/** Scratch spaces that were kept, for a list. */
export async function listKept(journalFolder: string): Promise<KeptScratchEntry[]> {
  return (await notesIn(journalFolder)).flatMap(({ entry: { runId, folder, kept } }) =>
    kept ? [{ runId, folder, ...kept }] : [],
  );
}

/** Scratch spaces that could not be removed, and why, for a list. */
export async function listLeft(journalFolder: string): Promise<LeftScratchEntry[]> {
  return (await notesIn(journalFolder)).flatMap(({ entry }) => {
    const { folder, driveLabel, left, kept } = entry;
    return left === undefined || kept ? [] : [{ id: scratchName(entry), folder, driveLabel, why: left }];
  });
}

/** Gives back a kept scratch space. @throws Problem 404 when there is none of this run */
export async function removeKept(
  journalFolder: string,
  runId: string,
  mountPoints: MountPoints = nowhere,
): Promise<Removal> {
  const { note, entry } = await notedAs(journalFolder, runId);
  if (!entry?.kept) {
    throw new Problem('not-kept', `No scratch file of the run “${runId}” is kept. It may have been removed already.`, {
      status: 404,
    });
  }
  return removeScratch(entry, note, mountPoints);
}

/** Tries again to remove what was left. @throws Problem 404 when nothing of this name is */
export async function removeLeft(
  journalFolder: string,
  id: string,
  mountPoints: MountPoints = nowhere,
): Promise<Removal> {
  const { note, entry } = await leftAs(journalFolder, id);
  return removeScratch(entry, note, mountPoints);
}

/** Drops the note of what was left, and touches nothing else. @throws Problem 404 when nothing of this name is */
export async function forgetLeft(journalFolder: string, id: string): Promise<void> {
  await dropNote((await leftAs(journalFolder, id)).note);
}

async function notedAs(journalFolder: string, id: string): Promise<{ note: string; entry: JournalEntry | undefined }> {
  const note = noteFile(journalFolder, { runId: id });
  return { note, entry: /^[\w-]+$/.test(id) ? await readNote(note) : undefined };
}

async function leftAs(journalFolder: string, id: string): Promise<{ note: string; entry: JournalEntry }> {
  const { note, entry } = await notedAs(journalFolder, id);
  if (entry?.left !== undefined && !entry.kept) return { note, entry };
  throw new Problem('not-left', 'Nothing of this name is left any more.', { status: 404 });
}
