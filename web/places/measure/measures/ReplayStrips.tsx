import { useMemo } from 'react';
import { replayOptionsSchema } from '#core/3-jobs/recipes/replay.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { readRequests } from '#core/4-runs/supply/profile.ts';
import type { ReplayedPhase } from '#core/4-runs/trace/replayed.ts';
import { FROM_MEMORY } from '#core/4-runs/supply/request-rate.ts';
import { formatDuration, formatNumber } from '#core/1-ground/units/format.ts';
import { loadTimes, staysWithin } from '#core/5-answers/verdict/loads/phase-times.ts';
import { timesOfReplay } from '#core/5-answers/verdict/loads/replay-times.ts';
import type { LoadRow } from '../../../pictures/LoadStrips.tsx';
import { useDriveSupplies } from '../../../state/drive-supplies.ts';
import { LoadStrips } from '../../../pictures/pictures.tsx';

/** The measured strip beside the predicted one, and what memory would leave of it. */
export default function ReplayStrips({ run, phases }: { run: RunDocument; phases: readonly ReplayedPhase[] }) {
  const asked = useMemo(() => replayOptionsSchema.cast(run.options).phases, [run.options]);
  const ids = useMemo(() => [run.drive.id], [run.drive.id]);
  const { drives } = useDriveSupplies(ids);
  const supply = drives[0]?.supply;
  const isOver = run.endedAt !== null;
  // Files are not opened one by one in a replay: they have no part in what is compared.
  const item = useMemo(() => ({ phases: asked.map((phase) => ({ ...phase, operations: 0 })) }), [asked]);
  const rows = useMemo((): LoadRow[] => {
    const measured = timesOfReplay(asked, phases);
    const predicted = supply ? loadTimes(item, readRequests(supply)) : null;
    const memory = loadTimes(item, FROM_MEMORY);
    // What goes on is neither quicker nor within its limit yet.
    const off =
      isOver && predicted && predicted.totalSeconds > 0 ? measured.totalSeconds / predicted.totalSeconds - 1 : null;
    return [
      {
        key: 'measured',
        label: 'Measured',
        times: measured,
        verdict: isOver ? (measured.phases.every(staysWithin) ? 'holds' : 'breaks') : null,
        note:
          off === null
            ? isOver
              ? 'as it was replayed'
              : 'so far'
            : `${formatNumber(Math.abs(off) * 100)} % ${off < 0 ? 'quicker' : 'slower'}`,
      },
      {
        key: 'predicted',
        label: 'Predicted',
        times: predicted,
        verdict: null,
        note:
          predicted === null
            ? 'no ladder of this drive yet'
            : predicted.isMeasured
              ? 'from its Block ladder'
              : 'from its rate in one go',
      },
      {
        key: 'memory',
        label: 'Memory',
        times: memory,
        verdict: null,
        note: `processor alone: ${formatDuration(memory?.totalSeconds ?? 0)}`,
      },
    ];
  }, [asked, phases, supply, item, isOver]);
  return <LoadStrips item={item} rows={rows} selected="measured" onSelect={() => undefined} />;
}
