import { useMemo } from 'react';
import { seriesWork } from '#core/demand/series/series-kind.ts';
import type { SeriesItem } from '#core/demand/series/series-item.ts';
import { seriesOnDrive } from '#core/verdict/series/series-on-drive.ts';
import { SeriesPicture } from '../../../pictures/SeriesPicture.tsx';
import type { ItemViewProps } from './item-view.ts';

/** A cache series on every drive: one frame, and all of them against the rate. */
export default function SeriesOfDrives({ item, drives, selectedDrive, onDrive }: ItemViewProps<SeriesItem>) {
  const work = useMemo(() => seriesWork(item), [item]);
  const rows = useMemo(
    () =>
      drives
        .map(({ card, supply }) => ({
          driveId: card.id,
          label: card.label,
          on: supply ? seriesOnDrive(item, supply) : null,
        }))
        // The fastest on top; what was not measured last.
        .sort((a, b) => (a.on?.neverEmptied.totalSeconds ?? Infinity) - (b.on?.neverEmptied.totalSeconds ?? Infinity)),
    [item, drives],
  );
  return <SeriesPicture work={work} rows={rows} selected={selectedDrive} onSelect={onDrive} />;
}
