import { createRequire } from 'node:module';

/** The C library’s `fcntl`, for what Node has no call for. */
export type Fcntl = (descriptor: number, command: number, argument: number) => number;

/** `fcntl` command that only asks for the descriptor's flags; the same number everywhere. */
export const F_GETFD = 1;

/**
 * Null where it cannot be had. Declared variadic, as it is in C: 64-bit ARM passes the arguments behind the dots
 * differently, and a plain declaration would call it wrongly.
 */
export function loadFcntl(library: string): Fcntl | null {
  try {
    const koffi = createRequire(import.meta.url)('koffi') as typeof import('koffi');
    const call = koffi.load(library).func('int fcntl(int fd, int cmd, ...)');
    return (descriptor, command, argument) => Number(call(descriptor, command, 'int', argument));
  } catch {
    return null;
  }
}
