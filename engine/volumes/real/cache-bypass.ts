import { constants } from 'node:fs';
import { createRequire } from 'node:module';

/**
 * How requests are kept out of the system's cache. Linux and Windows have a flag for opening
 * (O_DIRECT; Node maps it to unbuffered I/O on Windows). macOS has none: there the descriptor is
 * told after opening, with `fcntl(F_NOCACHE)`, which Node cannot call itself.
 */

/** Value of F_NOCACHE in macOS's <sys/fcntl.h>. */
const F_NOCACHE = 48;
/** `fcntl` command that only asks for the descriptor's flags; the same number everywhere. */
export const F_GETFD = 1;

type Fcntl = (descriptor: number, command: number, argument: number) => number;
let loaded: Fcntl | null | undefined;

/**
 * The C library's `fcntl`, or null where it cannot be had. Declared variadic, as it is in C: 64-bit
 * ARM passes the arguments behind the dots differently, and a plain declaration would call it wrongly.
 */
export function loadFcntl(): Fcntl | null {
  if (loaded !== undefined) return loaded;
  try {
    const koffi = createRequire(import.meta.url)('koffi') as typeof import('koffi');
    const library = koffi.load(process.platform === 'darwin' ? 'libSystem.B.dylib' : 'libc.so.6');
    const call = library.func('int fcntl(int fd, int cmd, ...)');
    loaded = (descriptor, command, argument) => Number(call(descriptor, command, 'int', argument));
  } catch {
    loaded = null;
  }
  return loaded;
}

/** Flag to open files with, for reading and writing past the cache; 0 where there is none. */
export const DIRECT_FLAG = process.platform === 'darwin' ? 0 : (constants.O_DIRECT ?? 0);

/** Does what is left to do after opening. @returns whether the descriptor now bypasses the cache */
export function bypassCache(descriptor: number): boolean {
  if (process.platform !== 'darwin') return DIRECT_FLAG !== 0;
  return loadFcntl()?.(descriptor, F_NOCACHE, 1) === 0;
}
