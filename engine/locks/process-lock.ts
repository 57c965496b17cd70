import { linkSync, mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { randomUUID } from 'node:crypto';
import { dirname } from 'node:path';
import { isAlive, isSameProcess, ownIdentity, type ProcessIdentity } from '#engine/locks/process-identity.ts';

/**
 * A lock between processes that survives crashes: a file with the holder's process id and start
 * time. It is taken over when that process is gone. The file appears whole or not at all (it is
 * written beside and linked into place), so nobody ever reads half of one.
 */
export interface ProcessLock {
  release(): void;
}

export interface LockHolder extends ProcessIdentity {
  /** What the holder said of itself. */
  purpose: string;
}

function readHolder(file: string): LockHolder | undefined {
  try {
    return JSON.parse(readFileSync(file, 'utf8')) as LockHolder;
  } catch {
    return undefined;
  }
}

/**
 * Takes the lock, or tells who holds it.
 * @throws the system's error when the folder cannot be written.
 */
export function takeLock(file: string, purpose: string): ProcessLock | LockHolder {
  mkdirSync(dirname(file), { recursive: true, mode: 0o700 });
  const own: LockHolder = { ...ownIdentity(), purpose };
  const draft = `${file}.${process.pid}.${randomUUID()}`;
  writeFileSync(draft, JSON.stringify(own), { flag: 'wx', mode: 0o600 });
  try {
    for (;;) {
      try {
        linkSync(draft, file);
        return { release: () => releaseLock(file, own) };
      } catch (error) {
        if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
      }
      const holder = readHolder(file);
      if (holder && isAlive(holder)) return holder;
      setAside(file, holder);
    }
  } finally {
    rmSync(draft, { force: true });
  }
}

/** Moves a dead holder's file away. Of several that try, the rename lets one win. */
function setAside(file: string, holder: LockHolder | undefined): void {
  const aside = `${file}.${randomUUID()}.stale`;
  try {
    renameSync(file, aside);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') return;
    throw error;
  }
  const moved = readHolder(aside);
  // Somebody took the lock over between our reading and our renaming: give it back.
  if (moved && !(holder && isSameProcess(moved, holder)) && isAlive(moved)) {
    try {
      linkSync(aside, file);
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
    }
  }
  rmSync(aside, { force: true });
}

function releaseLock(file: string, own: LockHolder): void {
  const holder = readHolder(file);
  if (holder && isSameProcess(holder, own)) rmSync(file, { force: true });
}

export function isHeld(result: ProcessLock | LockHolder): result is LockHolder {
  return 'pid' in result;
}
