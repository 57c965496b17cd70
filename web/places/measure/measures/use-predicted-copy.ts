import { useMemo } from 'react';
import { predictCopy, type CopyPrediction } from '#core/5-answers/copies/predict.ts';
import { useDriveSupplies } from '../../../state/drive-supplies.ts';

interface CopyAsked {
  /** Ids of the source’s drive and of the targets’, a line each: the same text while a leg comes anew. */
  driveIdLines: string;
  bytes: number;
  files: number;
  parallelFiles: number;
  verifies: boolean;
}

/** What the other runs of its drives predict of a copy; null where reading or writing of one was not measured. */
export function usePredictedCopy({
  driveIdLines,
  bytes,
  files,
  parallelFiles,
  verifies,
}: CopyAsked): CopyPrediction | null {
  const ids = useMemo(() => driveIdLines.split('\n'), [driveIdLines]);
  const { drives } = useDriveSupplies(ids);
  return useMemo(() => {
    const [source, ...targets] = ids.map((id) => drives.find(({ card }) => card.id === id)?.profile);
    if (!source || bytes <= 0 || !targets.every((one) => one !== undefined)) return null;
    return predictCopy({ bytes, files, parallelFiles, verifies }, source, targets);
  }, [ids, drives, bytes, files, parallelFiles, verifies]);
}
