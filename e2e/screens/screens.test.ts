import { expect, it } from 'vitest';
import { wrongWithScreens } from './look.ts';

/** Those that stand for a place or sheet are looked at in the light theme too: e2e/proof/computed/light-theme.test.ts. */
it('nothing is wrong with any screen', { timeout: 480_000 }, async () => {
  expect(await wrongWithScreens('dark', ({ isVariant }) => !isVariant)).toEqual([]);
});
