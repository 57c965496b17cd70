import { describe, expect, it } from 'vitest';
import { runDocumentSchema, type RunDocument } from '#core/run/run-document.ts';
import { profileRunOf, supplyOf } from '#core/supply/profile.ts';
import { judgeItem } from '#core/verdict/judge-workload.ts';
import { DEFAULT_POLICY } from '#core/verdict/verdict.ts';
import { carryOutDemoRuns } from '#demo/runs.ts';
import { DEMO_WORKLOADS } from '#demo/workloads.ts';

const carryOut = () =>
  carryOutDemoRuns(async (info) => ({
    id: info.identity.value,
    label: info.label,
    medium: info.medium,
    identity: info.identity,
  }));

describe('the demo workspace', () => {
  it('is the same on every machine and passes its own schema', async () => {
    const [first, second] = [await carryOut(), await carryOut()];
    expect(second.map((run) => run.samples)).toEqual(first.map((run) => run.samples));
    for (const run of first) {
      expect(run).toMatchObject({ state: 'finished', example: true, failure: null });
      expect(runDocumentSchema.isValidSync(JSON.parse(JSON.stringify(run)))).toBe(true);
    }
  });

  it('shows each of the four verdicts', async () => {
    const runs = await carryOut();
    const supplyOn = (driveId: string) => {
      const own = runs.filter((run: RunDocument) => run.drive.id === driveId);
      return supplyOf({ drive: own[0]!.drive, runs: own.map((run) => profileRunOf(run)) });
    };
    const verdicts = ['petrel-2t', 'anchor-16t'].flatMap((driveId) =>
      DEMO_WORKLOADS.flatMap((workload) => workload.items).flatMap((item) =>
        judgeItem(item, supplyOn(driveId), DEFAULT_POLICY, null).map(({ verdict }) => verdict.verdict),
      ),
    );
    expect(new Set(verdicts)).toEqual(new Set(['holds', 'tight', 'breaks', 'not-proven']));
  });
});
