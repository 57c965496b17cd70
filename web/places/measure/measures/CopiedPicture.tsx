import Typography from '@mui/material/Typography';
import { useMemo, useState } from 'react';
import { predictCopy } from '#core/copies/predict.ts';
import { copyOptionsSchema } from '#core/recipes/copy.ts';
import type { CopyRecord } from '#core/run/copy-record.ts';
import type { RunDocument } from '#core/run/run-document.ts';
import type { CopyFigures } from '#core/trace/copied.ts';
import { formatDuration, formatNumber } from '#core/units/format.ts';
import { Choice } from '../../../kit/form.tsx';
import { HopTrace } from '../../../pictures/HopTrace.tsx';
import { useDriveSupplies } from '../../../state/drive-supplies.ts';
import { ink } from '../../../theme/tokens.ts';

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
  const ids = useMemo(
    () => [leg.from, ...leg.to].map((end) => copy.ends[end]!.drive.id),
    // The numbers of a leg's ends never change.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [leg.leg, copy.ends],
  );
  const { drives } = useDriveSupplies(ids);
  const { parallelFiles, verify } = useMemo(() => copyOptionsSchema.cast(run.options), [run.options]);
  const bytes = leg.outcome?.bytes ?? leg.copiedBytes;
  const files = leg.outcome?.files ?? 1;
  const predicted = useMemo(() => {
    const profiles = ids.map((id) => drives.find(({ card }) => card.id === id)?.profile);
    const [source, ...targets] = profiles;
    if (!source || bytes <= 0 || !targets.every((one) => one !== undefined)) return null;
    return predictCopy({ bytes, files, parallelFiles, verifies: verify === 'read-back' }, source, targets);
  }, [ids, drives, bytes, files, parallelFiles, verify]);
  const expected = predicted && predicted.movingSeconds + predicted.filesSeconds;
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
      <Typography variant="body2" data-predicted="" sx={{ color: ink('second'), flex: 'none' }}>
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
