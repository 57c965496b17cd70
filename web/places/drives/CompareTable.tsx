import { ink } from '../../theme/tokens.ts';
import { FROM_ITS_BOX } from '#core/2-trade/drives/medium.ts';
import { comparedOver, differenceText } from '#core/5-answers/compare/difference-words.ts';
import { formatNumber, formatRate, orDash } from '#core/1-ground/units/format.ts';
import { FigureTable } from '../../kit/table.tsx';
import { InlineVerdict } from '../../pictures/kit/verdict-marks.tsx';
import { Tip } from '../../kit/Tip.tsx';
import type { ComparedRow } from './compared.ts';

const rateNumber = (value: number) => formatRate(value).number;

/** What each drive shows, with spread, money, and how it differs from the one the others are held against. */
export function CompareTable({ rows, againstLabel }: { rows: readonly ComparedRow[]; againstLabel: string }) {
  const named = rows.find(({ guaranteed }) => guaranteed)?.guaranteed?.name;
  // Where nobody told how loud any of them is there is nothing to compare.
  const isHeard = rows.some(({ drive }) => drive.card.details.loudnessDecibels !== null);
  return (
    <FigureTable
      heads={[
        'Drive',
        named === undefined ? 'Guaranteed' : `For ${named.length > 22 ? `${named.slice(0, 21)}…` : named}`,
        'Opening',
        'Floor',
        { head: 'Passes or stretches', wideOnly: true },
        `Against ${againstLabel.length > 16 ? `${againstLabel.slice(0, 15)}…` : againstLabel}`,
        { head: 'A TB', wideOnly: true },
        { head: 'Sustained MB/s per 100', wideOnly: true },
        ...(isHeard ? [{ head: 'dB(A)', wideOnly: true } as const] : []),
      ]}
      rows={rows.map(({ drive: { card, supply }, side, difference, guaranteed }) => {
        const { price, currency } = card.details;
        return {
          key: card.id,
          data: { 'data-compared': card.id },
          cells: [
            <Tip key="name" text={card.label}>
              <span>
                {card.label}
                {supply?.isPromise && <span style={{ color: ink('second') }}>, {FROM_ITS_BOX}</span>}
              </span>
            </Tip>,
            guaranteed ? (
              <span key="guaranteed">
                <InlineVerdict verdict={guaranteed.verdict} isPromise={supply?.isPromise ?? false} />{' '}
                {orDash(guaranteed.bytesPerSecond, rateNumber)}
              </span>
            ) : (
              '–'
            ),
            side ? rateNumber(side.openingBytesPerSecond) : '–',
            <b key="floor">{side ? rateNumber(side.floorBytesPerSecond) : '–'}</b>,
            side ? `${rateNumber(side.lowestBytesPerSecond)} – ${rateNumber(side.highestBytesPerSecond)}` : '–',
            difference ? (
              <Tip key="difference" text={comparedOver(difference)}>
                {/* Of many drives it is the one that gives way. */}
                <span style={{ whiteSpace: 'normal' }}>{differenceText(difference)}</span>
              </Tip>
            ) : side === null ? (
              // Until its runs have been read nobody knows whether there are any.
              supply ? (
                'not measured'
              ) : (
                'reading its runs'
              )
            ) : (
              '–'
            ),
            price === null || card.capacityBytes === 0
              ? '–'
              : `${formatNumber(price / (card.capacityBytes / 1e12))} ${currency}`,
            price === null || price === 0 || side === null
              ? '–'
              : formatNumber((side.floorBytesPerSecond / 1e6 / price) * 100),
            ...(isHeard ? [orDash(card.details.loudnessDecibels, formatNumber)] : []),
          ],
        };
      })}
    />
  );
}
