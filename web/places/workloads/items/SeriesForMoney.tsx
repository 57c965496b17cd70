import ButtonBase from '@mui/material/ButtonBase';
import Typography from '@mui/material/Typography';
import { useMemo } from 'react';
import { FROM_ITS_BOX } from '#core/2-trade/drives/medium.ts';
import { sumOf } from '#core/3-jobs/demand/series/frame-bytes.ts';
import { seriesWork } from '#core/3-jobs/demand/series/series-kind.ts';
import type { SeriesItem } from '#core/3-jobs/demand/series/series-item.ts';
import { formatDuration, formatNumber, orDash } from '#core/1-ground/units/format.ts';
import { moneyText } from '#core/1-ground/units/money.ts';
import { seriesOnDrive } from '#core/5-answers/verdict/series/series-on-drive.ts';
import { besideNow } from '#core/5-answers/verdict/series/what-helps.ts';
import { ScrollBox } from '../../../kit/ScrollBox.tsx';
import { FigureTable } from '../../../kit/table.tsx';
import { ink } from '../../../theme/tokens.ts';
import type { DriveSupply } from '../../../state/drive-supplies.ts';
import type { ItemViewProps } from './item-view.ts';
import { toHelp } from './to-help.ts';

/** All drives and the processor, by what they save for their money on what the simulation takes now. */
export function SeriesForMoney({ item, drives, selectedDrive, onDrive }: ItemViewProps<SeriesItem>) {
  const now = drives.find(({ card }) => card.id === selectedDrive) ?? drives[0];
  const others = useMemo(() => drives.filter((one) => one !== now && one.supply !== undefined), [drives, now]);
  const beside = useMemo(() => {
    const own = now && toHelp(now);
    return own
      ? besideNow(
          item,
          own,
          others.flatMap((one) => toHelp(one) ?? []),
        )
      : [];
  }, [item, now, others]);
  if (!now) return null;
  const takes = now.supply && seriesOnDrive(item, now.supply)?.neverEmptied.totalSeconds;
  const { bytes, holdsWriting } = seriesWork(item);
  const version = sumOf(bytes);
  const fitting = ({ roomBytes }: DriveSupply) =>
    roomBytes === null ? '–' : <Fitting key="fits" versions={Math.floor(roomBytes / version)} asked={item.versions} />;
  const { price, currency } = now.card.details;
  return (
    <ScrollBox sx={{ flex: '1 1 0', minHeight: 0 }}>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 0.5 }}>
        {takes === undefined
          ? `Writing has not been measured on ${now.card.label}: choose the drive that it is written to now.`
          : holdsWriting
            ? 'The times hold the writing to a drive that is not known: what another would save cannot be said.'
            : `Written to ${now.card.label} now, where nothing of its fast cache comes back meanwhile. Choose another drive to hold them against that one.`}
      </Typography>
      {takes !== undefined && !holdsWriting && (
        <FigureTable
          heads={[
            'Drive',
            'Price',
            { head: 'Whole simulation', wideOnly: true },
            'Less than now',
            'For each 100',
            { head: 'Versions that fit', wideOnly: true },
          ]}
          rows={[
            {
              key: now.card.id,
              data: { 'data-beside': now.card.label },
              cells: [
                <Name key="name" drive={now} isNow />,
                orDash(price, (amount) => moneyText(amount, currency)),
                formatDuration(takes),
                '',
                '',
                fitting(now),
              ],
            },
            ...beside.map((one) => {
              const drive = one.place === null ? undefined : others[one.place];
              return {
                key: drive?.card.id ?? one.label,
                data: { 'data-beside': one.label } as const,
                cells: [
                  drive ? (
                    <ButtonBase
                      key="name"
                      onClick={() => onDrive(drive.card.id)}
                      sx={{ fontSize: 'inherit', textAlign: 'left', py: 0.4 }}
                    >
                      <Name drive={drive} />
                    </ButtonBase>
                  ) : (
                    one.label
                  ),
                  orDash(one.price, (amount) => moneyText(amount, one.currency)),
                  one.totalSeconds === null ? 'not measured' : formatDuration(one.totalSeconds),
                  <Saved key="saved" seconds={one.savedSeconds} doesFit={one.full === null} />,
                  orDash(one.secondsPerHundred, (seconds) => `${formatNumber(seconds / 60)} min`),
                  fitting(drive ?? now),
                ],
              };
            }),
          ]}
        />
      )}
    </ScrollBox>
  );
}

function Name({ drive: { card, supply }, isNow = false }: { drive: DriveSupply; isNow?: boolean }) {
  return (
    <span>
      {isNow ? <b>{card.label}, now</b> : card.label}
      {supply?.isPromise && <span style={{ color: ink('second') }}>, {FROM_ITS_BOX}</span>}
    </span>
  );
}

/** Versions that there is room for; too few stand out. */
function Fitting({ versions, asked }: { versions: number; asked: number }) {
  const text = formatNumber(versions, 'full');
  return versions < asked ? <span style={{ color: ink('breaks') }}>{text}</span> : text;
}

/** What is saved; what takes longer says so, and what would be saved where not all of it fits stands back. */
function Saved({ seconds, doesFit }: { seconds: number | null; doesFit: boolean }) {
  if (seconds === null) return '–';
  if (seconds > 0 && doesFit) return <b>{formatDuration(seconds)}</b>;
  const text = seconds > 0 ? formatDuration(seconds) : seconds === 0 ? 'the same' : `${formatDuration(-seconds)} more`;
  return <span style={{ color: ink('second') }}>{text}</span>;
}
