import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { isHeld, takeLock, type ProcessLock } from '#engine/locks/process-lock.ts';
import { system } from '#engine/system/this-system.ts';

let folder: string;
let file: string;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'lock-test-'));
  file = join(folder, 'store.lock');
});
afterEach(() => rmSync(folder, { recursive: true }));

it('lets one in, tells the next who holds it, and frees the place on release', () => {
  const first = takeLock(file, 'first');
  expect(isHeld(first)).toBe(false);
  expect(takeLock(file, 'second')).toMatchObject({ pid: process.pid, purpose: 'first' });
  (first as ProcessLock).release();
  expect(isHeld(takeLock(file, 'third'))).toBe(false);
});

it('is taken over from a process that is gone', () => {
  const dead = spawnSync(process.execPath, ['-e', '']).pid;
  writeFileSync(file, JSON.stringify({ pid: dead, startTicks: '1', purpose: 'crashed' }));
  expect(isHeld(takeLock(file, 'next'))).toBe(false);
  expect(readdirSync(folder)).toEqual(['store.lock']);
  expect(JSON.parse(readFileSync(file, 'utf8'))).toMatchObject({ purpose: 'next' });
});

it('is taken over from a later process that got the same id', () => {
  writeFileSync(file, JSON.stringify({ pid: process.pid, startTicks: '1', purpose: 'before the reboot' }));
  expect(isHeld(takeLock(file, 'next'))).toBe(system.processMark(process.pid) === '');
});

it('is taken over when the file is no lock at all', () => {
  writeFileSync(file, 'rubbish');
  expect(isHeld(takeLock(file, 'next'))).toBe(false);
});
