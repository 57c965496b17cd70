import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { RECIPE_KINDS } from '#core/3-jobs/recipes/registry.ts';
import { appendColumns, emptySamples, type RunDocument } from '#core/4-runs/run/run-document.ts';
import { applyRunEvent, type RunEvent } from '#core/4-runs/run/run-events.ts';
import { FAULT_KINDS } from '#core/4-runs/stand-ins/faults.ts';
import { summaryOf } from '#core/4-runs/supply/run-summary.ts';
import { NO_HISTORY, carryOutRun, openRunDocument } from '#engine/run/runner.ts';
import { simulationRequest } from '#engine/run/simulate.ts';
import { createPauseSwitch } from '#engine/volumes/volume.ts';

const PHASE = {
  name: 'Load',
  processorSeconds: 1,
  bytes: 5e8,
  requestBytes: 65_536,
  parallel: 2,
  operations: 0,
  overlapShare: 0,
  limitSeconds: null,
  stream: null,
};

const OPTIONS: Record<string, object> = {
  'short-passes': { passes: 2, seconds: 1 },
  'long-fill': { amountBytes: 4e9 },
  'paced-frames': { seconds: 2 },
  'block-ladder': { seconds: 0.5 },
  'file-scatter': { files: 40 },
  'existing-material': {},
  replay: { phases: [PHASE, { ...PHASE, bytes: 1e7, stream: { everySeconds: 0.5, forSeconds: 3 } }] },
  copy: { payload: 'made', bytes: 2e9, files: 20 },
  'until-decided': { mostSeconds: 20 },
};

/** A run of each recipe as its opening and what it told, also where something fails. */
async function told(recipeId: string, fault: (typeof FAULT_KINDS)[number] | null) {
  const request = simulationRequest({
    standIn: 'limpet-1t',
    recipeId,
    options: OPTIONS[recipeId]!,
    targets: recipeId === 'copy' ? ['petrel-2t'] : [],
    faults: fault === null ? [] : [{ kind: fault, at: null }],
  });
  const reference = ({ info }: typeof request.volume) => ({
    id: info.identity.value,
    label: info.label,
    medium: info.medium,
    identity: info.identity,
  });
  const drives = [request.volume, ...request.targets.map(({ volume }) => volume)].map(reference);
  const opening = openRunDocument(request, drives as never, NO_HISTORY, 'running', '2026-03-02T09:00:00.000Z');
  const events: RunEvent[] = [];
  const control = { signal: new AbortController().signal, pause: createPauseSwitch() };
  const run = structuredClone(opening);
  await carryOutRun(
    { ...request, run },
    (event) => {
      events.push(structuredClone(event));
      applyRunEvent(run, event);
    },
    () => undefined,
    control,
  ).catch(() => undefined);
  return { opening, events };
}

/** A run as the store has it when so many events were told: in chunks, the samples of each before its other events. */
function keptUntil({ opening, events }: Awaited<ReturnType<typeof told>>, until: number, chunk: number): RunDocument {
  const run = structuredClone(opening);
  for (let from = 0; from < until; from += chunk) {
    const samples = emptySamples();
    const part = events.slice(from, Math.min(until, from + chunk));
    for (const event of part) if (event.type === 'samples') appendColumns(samples, event.samples);
    applyRunEvent(run, { type: 'samples', samples });
    for (const event of part) if (event.type !== 'samples') applyRunEvent(run, event);
  }
  return run;
}

describe.each(RECIPE_KINDS.map(({ id }) => id))('a run of %s', (recipeId) => {
  it('has figures and doubts at any moment, whatever strikes it', async () => {
    const runs = await Promise.all([null, ...FAULT_KINDS].map((fault) => told(recipeId, fault)));
    expect(runs[0]!.events.length).toBeGreaterThan(3);
    fc.assert(
      fc.property(
        fc.nat(runs.length - 1),
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.integer({ min: 1, max: 40 }),
        (index, share, chunk) => {
          const run = runs[index]!;
          const summary = summaryOf(keptUntil(run, Math.round(share * run.events.length), chunk));
          expect(JSON.stringify(summary)).not.toContain('NaN');
          expect(Array.isArray(summary.doubts)).toBe(true);
        },
      ),
      { numRuns: 200 },
    );
  });
});
