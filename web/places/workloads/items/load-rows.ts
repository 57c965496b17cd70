import { FROM_ITS_BOX } from '#core/2-trade/drives/medium.ts';
import type { LoadItem } from '#core/3-jobs/demand/loads/load-item.ts';
import { readRequests } from '#core/4-runs/supply/profile.ts';
import { FROM_MEMORY } from '#core/4-runs/supply/request-rate.ts';
import { formatDuration } from '#core/1-ground/units/format.ts';
import { judgeItem } from '#core/5-answers/verdict/judge-workload.ts';
import { loadTimes } from '#core/5-answers/verdict/loads/phase-times.ts';
import type { LoadRow } from '../../../pictures/LoadStrips.tsx';
import type { DriveSupply } from '../../../state/drive-supplies.ts';

export const MEMORY_ROW = 'memory';

/** A load on every drive, the quickest first, with memory on top: what no drive gets below. */
export function loadRows(item: LoadItem, drives: readonly DriveSupply[], headroomShare: number): LoadRow[] {
  const memory = loadTimes(item, FROM_MEMORY);
  const rows = drives.map(({ card, supply, roomBytes }): LoadRow => {
    if (!supply) return { key: card.id, label: card.label, times: null, verdict: null, note: 'reading its runs' };
    const { verdict, short } = judgeItem(item, supply, { headroomShare }, roomBytes)[0]!;
    return {
      key: card.id,
      label: card.label,
      times: loadTimes(item, readRequests(supply)),
      verdict: verdict.verdict,
      note: verdict.isPromise && verdict.reason === 'no-limit' ? `${FROM_ITS_BOX}: ${short}` : (short ?? ''),
    };
  });
  const worst = ({ times }: LoadRow) =>
    times === null
      ? Infinity
      : times.totalSeconds + times.phases.reduce((sum, { stream }) => sum + (stream?.stuttersPerMinute ?? 0), 0) / 1e3;
  return [
    {
      key: MEMORY_ROW,
      label: 'Memory',
      times: memory,
      verdict: null,
      note: `processor alone: ${formatDuration(memory?.totalSeconds ?? 0)}`,
    },
    ...rows.sort((a, b) => worst(a) - worst(b)),
  ];
}
