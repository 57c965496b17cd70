import { expect, it } from 'vitest';
import { wrongWithScreens } from '../../screens/look.ts';

it('nothing is wrong with any place or sheet in the light theme', { timeout: 480_000 }, async () => {
  expect(await wrongWithScreens('light', ({ stands }) => stands === true)).toEqual([]);
});
