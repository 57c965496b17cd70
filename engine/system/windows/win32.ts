import { createRequire } from 'node:module';

/**
 * Functions of Windows’ own libraries, by their published declarations (learn.microsoft.com/windows/win32/api). Handles and
 * sizes are pointers wide; texts are UTF-16. Loaded when first asked for: where koffi is not there, nothing is known.
 */
type Call = ((...values: unknown[]) => unknown) & {
  /** In another thread; the last value hears what came of it. */
  async: (...values: unknown[]) => void;
};

export interface Win32 extends Record<keyof typeof KERNEL, Call> {
  WNetGetConnectionW: Call;
}

const KERNEL = {
  GetLogicalDrives: 'uint32 GetLogicalDrives()',
  GetDriveTypeW: 'uint32 GetDriveTypeW(str16 root)',
  GetVolumeInformationW:
    'int GetVolumeInformationW(str16 root, void *name, uint32 nameLength, void *serial, void *longest, void *flags, void *filesystem, uint32 filesystemLength)',
  GetVolumeNameForVolumeMountPointW:
    'int GetVolumeNameForVolumeMountPointW(str16 mountPoint, void *name, uint32 length)',
  GetVolumePathNamesForVolumeNameW:
    'int GetVolumePathNamesForVolumeNameW(str16 volume, void *paths, uint32 length, void *used)',
  FindFirstVolumeW: 'intptr FindFirstVolumeW(void *name, uint32 length)',
  FindNextVolumeW: 'int FindNextVolumeW(intptr search, void *name, uint32 length)',
  FindVolumeClose: 'int FindVolumeClose(intptr search)',
  GetDiskFreeSpaceExW: 'int GetDiskFreeSpaceExW(str16 folder, void *available, void *total, void *free)',
  GetWindowsDirectoryW: 'uint32 GetWindowsDirectoryW(void *path, uint32 length)',
  CreateFileW:
    'intptr CreateFileW(str16 path, uint32 access, uint32 share, void *security, uint32 disposition, uint32 flags, intptr template)',
  CloseHandle: 'int CloseHandle(intptr handle)',
  DeviceIoControl:
    'int DeviceIoControl(intptr handle, uint32 code, void *asked, uint32 askedBytes, void *answer, uint32 answerBytes, void *usedBytes, void *overlapped)',
  GetSystemTimes: 'int GetSystemTimes(void *idle, void *kernel, void *user)',
  GetSystemPowerStatus: 'int GetSystemPowerStatus(void *status)',
  SetThreadExecutionState: 'uint32 SetThreadExecutionState(uint32 flags)',
  OpenProcess: 'intptr OpenProcess(uint32 access, int inherit, uint32 pid)',
  GetProcessTimes: 'int GetProcessTimes(intptr process, void *created, void *exited, void *kernel, void *user)',
} as const;

let loaded: Win32 | null | undefined;

/** Null where they cannot be called. */
export function win32(): Win32 | null {
  if (loaded !== undefined) return loaded;
  try {
    const koffi = createRequire(import.meta.url)('koffi') as typeof import('koffi');
    const kernel = koffi.load('kernel32.dll');
    const functions = Object.fromEntries(
      Object.entries(KERNEL).map(([name, declaration]) => [name, kernel.func(declaration.replace(' ', ' __stdcall '))]),
    );
    const network = koffi.load('mpr.dll');
    loaded = {
      ...functions,
      WNetGetConnectionW: network.func('uint32 __stdcall WNetGetConnectionW(str16 device, void *name, void *length)'),
    } as unknown as Win32;
  } catch {
    loaded = null;
  }
  return loaded;
}

const PATIENCE_MILLISECONDS = 5000;

/** Calls what may wait for another machine, in another thread. @returns what it answers; 0 where it fails or takes too long */
export function callPatiently(call: Call, ...values: unknown[]): Promise<number> {
  return new Promise((resolve) => {
    const tooLong = setTimeout(() => resolve(0), PATIENCE_MILLISECONDS);
    call.async(...values, (error: unknown, answer: unknown) => {
      clearTimeout(tooLong);
      resolve(error ? 0 : Number(answer));
    });
  });
}

/** Letters of a text that a function writes, and the text up to its end. */
export const TEXT_LETTERS = 1024;
export const newText = (letters = TEXT_LETTERS): Buffer => Buffer.alloc(2 * letters);
export const textIn = (buffer: Buffer): string => buffer.toString('utf16le').split('\0')[0]!;
/** Texts one behind the other, until an empty one. */
export function textsIn(buffer: Buffer): string[] {
  const all = buffer.toString('utf16le').split('\0');
  return all.slice(0, all.indexOf(''));
}

export const INVALID_HANDLE = -1;
const SHARE_ALL = 0x7;
const OPEN_EXISTING = 3;

/**
 * Asks a device something, opened without any right to its data, which needs no administrator.
 * @returns the answer, as long as it came; null where the device does not give it
 */
export function askDevice(device: string, code: number, asked: Buffer | null, answerBytes: number): Buffer | null {
  const api = win32();
  if (api === null) return null;
  const handle = Number(api.CreateFileW(device, 0, SHARE_ALL, null, OPEN_EXISTING, 0, 0));
  if (handle === INVALID_HANDLE) return null;
  try {
    const answer = Buffer.alloc(answerBytes);
    const used = Buffer.alloc(4);
    const does = Number(
      api.DeviceIoControl(handle, code, asked, asked?.length ?? 0, answer, answer.length, used, null),
    );
    return does === 0 ? null : answer.subarray(0, used.readUInt32LE(0));
  } finally {
    api.CloseHandle(handle);
  }
}
