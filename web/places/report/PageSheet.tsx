import { useMemo } from 'react';
import type { Page, PageGroup } from '#core/6-exchange/report/pages/lay-out.ts';
import { PAPER_COLOUR, REPORT_INKS, pointsText, type Mark } from '#core/6-exchange/report/drawings/drawing.ts';

interface PageSheetProps {
  page: Page;
  number: number;
  selected: string | null;
  onSelect: (partId: string) => void;
}

/** A page of a report as it will be printed; a part that is pressed becomes the chosen one. */
export function PageSheet({ page, number, selected, onSelect }: PageSheetProps) {
  const { width, height, groups } = page;
  const mark = useMemo(() => extentOf(groups.filter((one) => one.partId === selected)), [groups, selected]);
  return (
    <div style={{ background: PAPER_COLOUR, marginBottom: 20 }}>
      <svg
        viewBox={`0 0 ${width} ${height}`}
        role="group"
        aria-label={`Page ${number}`}
        style={{ display: 'block', width: '100%' }}
        data-page={number}
      >
        {groups.map((group, index) => (
          <Group key={index} group={group} onSelect={onSelect} />
        ))}
        {mark && <line x1={46} x2={46} y1={mark.top} y2={mark.bottom} stroke={REPORT_INKS.writing} strokeWidth={2.2} />}
      </svg>
    </div>
  );
}

function Group({ group, onSelect }: { group: PageGroup; onSelect: (partId: string) => void }) {
  const { partId, role, says, marks } = group;
  const drawn = marks.map((one, index) => <MarkShape key={index} mark={one} />);
  const extent = extentOf([group]);
  return (
    <g
      {...(role === 'figure' ? { role: 'img', 'aria-label': says ?? '' } : {})}
      data-role={role}
      {...(partId === null ? {} : { onClick: () => onSelect(partId), style: { cursor: 'pointer' } })}
    >
      {extent && <rect x={40} y={extent.top} width={520} height={extent.bottom - extent.top} fill="transparent" />}
      {drawn}
    </g>
  );
}

function MarkShape({ mark }: { mark: Mark }) {
  const colour = REPORT_INKS[mark.ink];
  if (mark.kind === 'text') {
    return (
      <text
        x={mark.x}
        y={mark.y}
        fontSize={mark.size}
        fill={colour}
        textAnchor={mark.anchor}
        fontWeight={mark.isBold ? 700 : 400}
      >
        {mark.text}
      </text>
    );
  }
  const points = pointsText(mark.points);
  if (mark.kind === 'area') return <polygon points={points} fill={colour} fillOpacity={mark.opacity} />;
  return (
    <polyline
      points={points}
      fill="none"
      stroke={colour}
      strokeWidth={mark.width}
      {...(mark.dash ? { strokeDasharray: mark.dash.join(' ') } : {})}
    />
  );
}

/** From the highest to the lowest mark of some groups; null where there is none. */
function extentOf(groups: readonly PageGroup[]): { top: number; bottom: number } | null {
  let [top, bottom] = [Infinity, -Infinity];
  for (const { marks } of groups) {
    for (const mark of marks) {
      const heights =
        mark.kind === 'text' ? [mark.y - mark.size, mark.y + 3] : mark.points.filter((_, at) => at % 2 === 1);
      for (const y of heights) {
        top = Math.min(top, y);
        bottom = Math.max(bottom, y);
      }
    }
  }
  return bottom > top ? { top, bottom } : null;
}
