// @vitest-environment happy-dom
import { renderHook, waitFor } from '@testing-library/react';
import { expect, it } from 'vitest';
import { NEW_FOOTAGE, readFootage } from '#core/3-jobs/demand/footage/footage-form.ts';
import { WORKLOAD_VERSION, type Workload } from '#core/3-jobs/demand/workload.ts';
import { evidenceFrom, steady, supplyFrom } from '#core/testing/curves.ts';
import { useJudgedInTurn } from './use-judged-in-turn.ts';

const supplies = [100, 200, 300].map((rate) => supplyFrom([evidenceFrom([steady(100, rate)], { direction: 'write' })]));
const workloadOf = (items: number): Workload => ({
  tavrox: WORKLOAD_VERSION,
  id: `of-${items}`,
  name: '',
  note: '',
  example: false,
  items: Array.from({ length: items }, (_, at) => {
    const texts = { ...NEW_FOOTAGE.texts, format: `${10 + at} MB/s`, name: `Item ${at}` };
    return readFootage({ ...NEW_FOOTAGE, texts }, `item-${at}`).item!;
  }),
});

/** A machine may have more to do. */
const PATIENCE = { timeout: 100_000 };

const few = workloadOf(5);
const many = workloadOf(60);

it('judges a few items on all drives at once', () => {
  const { result } = renderHook(() => useJudgedInTurn(few, supplies));
  expect([...result.current]).toEqual(supplies);
});
it('judges many drive by drive, in their order, and anew for another workload', async () => {
  const seen: number[] = [];
  const { result, rerender } = renderHook(
    ({ workload }) => {
      const ready = useJudgedInTurn(workload, supplies);
      seen.push(ready.size);
      return ready;
    },
    { initialProps: { workload: many } },
  );
  expect(result.current.size).toBe(0);
  await waitFor(() => expect(result.current.size).toBe(3), PATIENCE);
  expect([...result.current]).toEqual(supplies);
  expect(seen[0]).toBe(0);
  expect(seen).toEqual([...seen].sort());
  rerender({ workload: { ...many, id: 'another' } });
  expect(result.current.size).toBe(0);
  await waitFor(() => expect(result.current.size).toBe(3), PATIENCE);
});
