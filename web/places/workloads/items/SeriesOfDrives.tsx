import Box from '@mui/material/Box';
import { useMemo, useState } from 'react';
import { seriesWork } from '#core/3-jobs/demand/series/series-kind.ts';
import type { SeriesItem } from '#core/3-jobs/demand/series/series-item.ts';
import { fullAt, seriesOnDrive } from '#core/5-answers/verdict/series/series-on-drive.ts';
import { fullText } from '#core/5-answers/verdict/series/what-helps.ts';
import type { ItemViewProps } from './item-view.ts';
import { SeriesForMoney } from './SeriesForMoney.tsx';
import { Choice } from '../../../kit/Choice.tsx';
import { SeriesPicture } from '../../../pictures/pictures.tsx';

/** A cache series on every drive: one frame, and all of them against the rate or the money. */
export default function SeriesOfDrives({ item, drives, selectedDrive, onDrive }: ItemViewProps<SeriesItem>) {
  const [against, setAgainst] = useState<'rate' | 'money'>('rate');
  const work = useMemo(() => seriesWork(item), [item]);
  const rows = useMemo(
    () =>
      drives
        .map(({ card, supply, roomBytes }) => {
          const full = fullAt(item, roomBytes);
          return {
            driveId: card.id,
            label: card.label,
            on: supply ? seriesOnDrive(item, supply) : null,
            full: full && fullText(full),
          };
        })
        // The fastest on top; what was not measured last.
        .sort((a, b) => (a.on?.neverEmptied.totalSeconds ?? Infinity) - (b.on?.neverEmptied.totalSeconds ?? Infinity)),
    [item, drives],
  );
  return (
    <SeriesPicture
      work={work}
      rows={rows}
      selected={selectedDrive}
      onSelect={onDrive}
      between={
        <Box sx={{ flex: 'none', mt: 0.5, mb: 0.75 }}>
          <Choice
            label="All frames"
            value={against}
            options={[
              ['rate', 'Against the rate'],
              ['money', 'For the money'],
            ]}
            onChange={(next) => setAgainst(next as typeof against)}
          />
        </Box>
      }
      instead={
        against === 'money' ? (
          <SeriesForMoney item={item} drives={drives} selectedDrive={selectedDrive} onDrive={onDrive} />
        ) : null
      }
    />
  );
}
