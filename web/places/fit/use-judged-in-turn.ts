import { useEffect, useMemo, useState } from 'react';
import type { Workload } from '#core/3-jobs/demand/workload.ts';
import type { Supply } from '#core/4-runs/supply/profile.ts';
import { DEFAULT_POLICY } from '#core/5-answers/verdict/verdict.ts';
import { judgedItems } from '../../state/judging.ts';

/** So many verdicts are worked out at once; of more the page would stand still. */
const AT_ONCE = 100;

/** For so long the page may stand still, milliseconds: half a frame. */
const AT_A_TIME = 8;

/** Lets the page draw and be pressed. */
const pause = () => new Promise<void>((resolve) => setTimeout(resolve, 0));

/** Judges a workload on a drive bit by bit; false where nobody waits for it any more. */
async function judgeInTurn(workload: Workload, supply: Supply, isLeft: () => boolean): Promise<boolean> {
  let since = -Infinity;
  for (const item of workload.items) {
    if (performance.now() - since >= AT_A_TIME) {
      await pause();
      if (isLeft()) return false;
      since = performance.now();
    }
    judgedItems({ ...workload, items: [item] }, supply, DEFAULT_POLICY.headroomShare, null);
  }
  return true;
}

/**
 * The drives that may be judged for a workload now: all at once where there is little to do, else those that were gone
 * through bit by bit, one after the other. What their runs carry of it is kept with them, so that it is quick then.
 */
export function useJudgedInTurn(
  workload: Workload | undefined,
  supplies: readonly (Supply | undefined)[],
): ReadonlySet<Supply | undefined> {
  const [gone, setGone] = useState<{ workload: Workload; through: ReadonlySet<Supply | undefined> }>();
  const [failed, setFailed] = useState<{ workload: Workload; error: unknown }>();
  // What fails between two pictures fails as it would in one: the place shows it.
  if (failed && failed.workload === workload) throw failed.error;
  const isMany = workload !== undefined && workload.items.length * supplies.length > AT_ONCE;
  useEffect(() => {
    if (!isMany) return;
    let left = false;
    void (async () => {
      for (const supply of supplies) {
        if (!supply) continue;
        if (!(await judgeInTurn(workload, supply, () => left))) return;
        setGone((before) => ({
          workload,
          through: new Set([...(before?.workload === workload ? before.through : []), supply]),
        }));
      }
    })().catch((error: unknown) => setFailed({ workload, error }));
    return () => {
      left = true;
    };
  }, [isMany, workload, supplies]);
  return useMemo(() => {
    if (!isMany) return new Set(supplies);
    return gone?.workload === workload ? gone.through : new Set();
  }, [isMany, supplies, gone, workload]);
}
