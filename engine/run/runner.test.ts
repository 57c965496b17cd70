import { describe, expect, it } from 'vitest';
import type { RunEvent } from '#core/4-runs/run/run-events.ts';
import { carryOutRun, checkRun } from '#engine/run/runner.ts';
import { simulationRequest } from '#engine/run/simulate.ts';
import { createPauseSwitch } from '#engine/volumes/volume.ts';

const GB = 1e9;

describe('room', () => {
  it('is looked for anew when a run that has waited begins', async () => {
    const request = simulationRequest({
      standIn: 'petrel-2t',
      recipeId: 'long-fill',
      options: { amountBytes: 100 * GB },
    });
    await checkRun(request);
    const events: RunEvent[] = [];
    const control = { signal: new AbortController().signal, pause: createPauseSwitch() };
    const { volume } = request;
    // Somebody else has taken it meanwhile.
    const full = { ...request, volume: { ...volume, info: { ...volume.info, freeBytes: 20 * GB } } };
    await carryOutRun(
      request,
      (event) => events.push(event),
      () => undefined,
      control,
      () => Promise.resolve(full),
    );
    expect(events).toHaveLength(1);
    expect(events[0]).toMatchObject({ type: 'ended', state: 'failed', failure: { code: 'not-enough-room' } });
  });

  it('has to do for all that a copy takes from one space', async () => {
    const copyTo = (...targets: string[]) =>
      checkRun(
        simulationRequest({
          standIn: 'petrel-2t',
          recipeId: 'copy',
          targets,
          options: { payload: 'made', bytes: 500 * GB, files: 5 },
        }),
      );
    await expect(copyTo('limpet-1t')).resolves.toBeDefined();
    // Each alone would fit; both do not.
    await expect(copyTo('limpet-1t', 'limpet-1t')).rejects.toThrow(
      /which other parts of this copy go to as well, 1.TB are needed/,
    );
  });
});
