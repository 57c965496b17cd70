import { afterEach } from 'vitest';

/** A shared machine may lose its processor in the middle of a held run: two more tries, and they are printed. */
export const TRIED_AGAIN = { retry: 2 } as const;

/** Prints which test of a describe needed another try, and why. */
export function printFurtherTries(): void {
  afterEach(({ task }) => {
    const tries = task.result?.retryCount ?? 0;
    if (tries > 0) console.log(`tried ${tries} times more: ${task.name}: ${task.result?.errors?.[0]?.message ?? ''}`);
  });
}
