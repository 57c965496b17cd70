import ButtonBase from '@mui/material/ButtonBase';
import type { Sizing } from '#core/5-answers/sizing/project.ts';
import { bytesText, formatNumber, formatShare, orDash, rateText } from '#core/1-ground/units/format.ts';
import { FigureTable } from '../../kit/table.tsx';
import { Tip } from '../../kit/Tip.tsx';
import type { ShownBuild } from '../../sizing/sizing-worker.ts';
import { ink } from '../../theme/tokens.ts';

interface HeldTableProps {
  held: readonly ShownBuild[];
  selected: string | undefined;
  sizing: Sizing;
  /** Null where each is of a store of its own and none can be chosen for another. */
  onSelect: ((code: string) => void) | null;
}

/** Builds side by side, in figures; those that are ruled out say so by their colour and their mark. */
export function HeldTable({ held, selected, sizing: { currency, units }, onSelect }: HeldTableProps) {
  const tebibyte = units === 'binary' ? 1024 ** 4 : 1e12;
  return (
    <FigureTable
      heads={[
        'Build',
        currency === '' ? 'Cost' : currency,
        units === 'binary' ? 'A TiB' : 'A TB',
        'Usable',
        'Full on',
        'Sustained writing',
        { head: 'One gone', wideOnly: true },
        { head: 'Years', wideOnly: true },
        'To spare',
      ]}
      rows={held.map(({ code, explained }) => ({
        key: code,
        data: { 'data-held': explained.constraint ?? 'feasible' },
        cells: [
          <Tip key="name" text={explained.name}>
            <ButtonBase
              aria-pressed={code === selected}
              disabled={onSelect === null}
              onClick={() => onSelect?.(code)}
              sx={{
                display: 'block',
                maxWidth: '100%',
                textAlign: 'left',
                fontSize: 'inherit',
                lineHeight: 1.3,
                py: 0.4,
                '& span': { display: 'block', overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' },
              }}
            >
              <span
                style={{
                  fontWeight: code === selected ? 700 : 400,
                  color: explained.constraint === null ? undefined : ink('breaks'),
                }}
              >
                {explained.drivesText}
              </span>
              <span style={{ color: ink('second'), fontSize: 12.5 }}>{explained.aroundText}</span>
            </ButtonBase>
          </Tip>,
          <b key="cost">{formatNumber(explained.cost, 'full')}</b>,
          formatNumber(explained.cost / (explained.usableBytes / tebibyte)),
          bytesText(explained.usableBytes, 'picture', units),
          orDash(explained.fullOnDay, (day) => `day ${day}`),
          orDash(explained.writeBytesPerSecond, rateText),
          orDash(explained.degradedBytesPerSecond, rateText),
          orDash(
            explained.enduranceYears !== null && Number.isFinite(explained.enduranceYears)
              ? explained.enduranceYears
              : null,
            formatNumber,
          ),
          explained.constraint === null && Number.isFinite(explained.margin) ? formatShare(explained.margin) : '–',
        ],
      }))}
    />
  );
}
