import { expect, it } from 'vitest';
import { wrongWithScreens } from './look.ts';

it('nothing is wrong with any screen, in either theme', { timeout: 480_000 }, async () => {
  expect(await wrongWithScreens()).toEqual([]);
});
