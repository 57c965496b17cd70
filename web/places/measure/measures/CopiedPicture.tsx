import { copyingSeconds } from '#core/5-answers/copies/copy-words.ts';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { copyOptionsSchema } from '#core/3-jobs/recipes/copy.ts';
import type { CopyRecord } from '#core/4-runs/run/copy-record.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import type { CopyFigures } from '#core/4-runs/trace/copied.ts';
import { formatDuration, formatNumber } from '#core/1-ground/units/format.ts';
import { Choice } from '../../../kit/Choice.tsx';
import { usePredictedCopy } from './use-predicted-copy.ts';
import { HopTrace } from '../../../pictures/pictures.tsx';

/** A copy as it was measured, and thin beside it what the other runs of its drives predict. */
export default function CopiedPicture({
  run,
  copy,
  figures,
}: {
  run: RunDocument;
  copy: CopyRecord;
  figures: CopyFigures;
}) {
  const [chosen, setChosen] = useState<number>();
  const shown = figures.legs.filter(({ stretches }) => stretches.length > 0);
  const leg =
    shown.find((one) => one.leg === chosen) ?? shown.at(chosen === undefined && run.endedAt === null ? -1 : 0)!;
  const bytes = leg.outcome?.bytes ?? leg.copiedBytes;
  const { parallelFiles, verify } = copyOptionsSchema.cast(run.options);
  const predicted = usePredictedCopy({
    driveIdLines: [leg.from, ...leg.to].map((end) => copy.ends[end]!.drive.id).join('\n'),
    bytes,
    files: leg.outcome?.files ?? 1,
    parallelFiles,
    verifies: verify === 'read-back',
  });
  const expected = predicted && copyingSeconds(predicted);
  const off = expected && leg.seconds > 0 && leg.outcome ? leg.seconds / expected - 1 : null;
  return (
    <>
      {shown.length > 1 && (
        <Choice
          label="Which copy"
          value={String(leg.leg)}
          options={shown.map((one) => [String(one.leg), `${one.leg}, ${one.from === 0 ? 'there' : 'back'}`] as const)}
          onChange={(next) => setChosen(Number(next))}
        />
      )}
      <Typography variant="body2" data-predicted="" color="textSecondary" sx={{ flex: 'none' }}>
        {predicted === null
          ? 'What its drives’ other runs would predict cannot be said: reading or writing of one of them was not measured.'
          : `Predicted from the other runs of its drives: ${formatDuration(expected!)}${
              off === null
                ? ''
                : Math.abs(off) < 0.005
                  ? ', and so it was'
                  : `; it was ${formatNumber(Math.abs(off) * 100)} % ${off > 0 ? 'slower' : 'quicker'}`
            }.`}
      </Typography>
      <HopTrace
        stretches={leg.stretches}
        earlyBytesPerSecond={leg.earlySeconds === null ? null : bytes / leg.earlySeconds}
        beside={predicted ? [{ label: 'predicted', stretches: predicted.stretches }] : []}
      />
    </>
  );
}
