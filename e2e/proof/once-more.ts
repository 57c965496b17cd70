import { afterEach } from 'vitest';

/** A shared machine may lose its processor in the middle of a held run: one more try, and it is printed. */
export const ONCE_MORE = { retry: 1 } as const;

/** Prints which test of a describe needed its second try, and why. */
export function printSecondTries(): void {
  afterEach(({ task }) => {
    if ((task.result?.retryCount ?? 0) === 0) return;
    console.log(`tried once more: ${task.name}: ${task.result?.errors?.[0]?.message ?? ''}`);
  });
}
