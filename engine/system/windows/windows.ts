import { existsSync } from 'node:fs';
import { rename } from 'node:fs/promises';
import { homedir } from 'node:os';
import { join } from 'node:path';
import { elsewhere } from '#engine/system/elsewhere.ts';
import { timesByNode } from '#engine/system/processors.ts';
import type { System } from '#engine/system/system.ts';
import { onBatteryIn, timesIn } from '#engine/system/windows/answers.ts';
import { celsiusOf, diskBytes, volumes } from '#engine/system/windows/volumes.ts';
import { win32 } from '#engine/system/windows/win32.ts';

/** FILE_FLAG_NO_BUFFERING, which libuv passes on to CreateFile; Node has no name for it here. */
const NO_BUFFERING = 0x02000000;
/** SetThreadExecutionState: until it is said otherwise, the system is needed. */
const [KEEP, NEEDED] = [0x80000000, 0x1];
const LIMITED_INFORMATION = 0x1000;

/** Windows, by calls of its own libraries: no shell is started on the way of a run. */
export const windows: System = {
  ...elsewhere,
  name: 'Windows',
  volumes,
  directFlag: NO_BUFFERING,
  // Opening with the flag is all.
  bypassCache: () => true,
  // A folder cannot be flushed, and all of a volume only by an administrator: files are flushed one by one.
  flushVolume: () => Promise.resolve(),
  // A folder never replaces anything here, not even an empty one.
  async moveToFree(folder, place) {
    if (existsSync(place)) return false;
    try {
      await rename(folder, place);
      return true;
    } catch (error) {
      if (existsSync(place)) return false;
      throw error;
    }
  },
  diskBytes,
  processorTimes() {
    const [idle, kernel, user] = [Buffer.alloc(8), Buffer.alloc(8), Buffer.alloc(8)];
    return Number(win32()?.GetSystemTimes(idle, kernel, user) ?? 0) === 0 ? timesByNode() : timesIn(idle, kernel, user);
  },
  readerName({ diskFolder }) {
    const number = /PhysicalDrive(\d+)$/.exec(diskFolder ?? '')?.[1];
    return number === undefined ? null : `/dev/pd${number}`;
  },
  temperatureOf({ diskFolder }) {
    return diskFolder === null || celsiusOf(diskFolder) === null ? null : () => celsiusOf(diskFolder);
  },
  onBattery() {
    const status = Buffer.alloc(12);
    return Number(win32()?.GetSystemPowerStatus(status) ?? 0) === 0 ? null : onBatteryIn(status);
  },
  keepAwake() {
    win32()?.SetThreadExecutionState((KEEP | NEEDED) >>> 0);
    return () => void win32()?.SetThreadExecutionState(KEEP);
  },
  processMark(pid) {
    const api = win32();
    const handle = Number(api?.OpenProcess(LIMITED_INFORMATION, 0, pid) ?? 0);
    if (api === null || handle === 0) return '';
    try {
      const [created, ...rest] = [Buffer.alloc(8), Buffer.alloc(8), Buffer.alloc(8), Buffer.alloc(8)];
      return Number(api.GetProcessTimes(handle, created, ...rest)) === 0 ? '' : String(created.readBigUInt64LE(0));
    } finally {
      api.CloseHandle(handle);
    }
  },
  ownFolders() {
    const folder = join(process.env['LOCALAPPDATA'] ?? join(homedir(), 'AppData', 'Local'), 'Tavrox');
    return { data: folder, running: folder };
  },
  hasFileModes: false,
  whenNowhere: 'A share needs a drive letter first: connect it as a network drive, then choose it by its letter.',
  canCall: () => win32() !== null,
};
