import { describe, expect, it } from 'vitest';
import { pairsOff } from '#engine/testing/copied-drives.ts';

describe('copies between simulated drives', () => {
  it('of a hundred pairs take what their runs predict, within three per cent', async () => {
    expect(await pairsOff(20, 100)).toEqual([]);
  });
});
