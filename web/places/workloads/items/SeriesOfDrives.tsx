import { useMemo } from 'react';
import { seriesWork } from '#core/3-jobs/demand/series/series-kind.ts';
import type { SeriesItem } from '#core/3-jobs/demand/series/series-item.ts';
import { fullAt, seriesOnDrive } from '#core/5-answers/verdict/series/series-on-drive.ts';
import type { ItemViewProps } from './item-view.ts';
import { SeriesPicture } from '../../../pictures/pictures.tsx';

function fullText(item: SeriesItem, roomBytes: number | null): string | null {
  const full = fullAt(item, roomBytes);
  if (!full) return null;
  return `full at frame ${full.frame}${full.version > 1 ? `, version ${full.version}` : ''}`;
}

/** A cache series on every drive: one frame, and all of them against the rate. */
export default function SeriesOfDrives({ item, drives, selectedDrive, onDrive }: ItemViewProps<SeriesItem>) {
  const work = useMemo(() => seriesWork(item), [item]);
  const rows = useMemo(
    () =>
      drives
        .map(({ card, supply, roomBytes }) => ({
          driveId: card.id,
          label: card.label,
          on: supply ? seriesOnDrive(item, supply) : null,
          full: fullText(item, roomBytes),
        }))
        // The fastest on top; what was not measured last.
        .sort((a, b) => (a.on?.neverEmptied.totalSeconds ?? Infinity) - (b.on?.neverEmptied.totalSeconds ?? Infinity)),
    [item, drives],
  );
  return <SeriesPicture work={work} rows={rows} selected={selectedDrive} onSelect={onDrive} />;
}
