import { useMemo } from 'react';
import type { LoadItem } from '#core/3-jobs/demand/loads/load-item.ts';
import { judgeItem } from '#core/5-answers/verdict/judge-workload.ts';
import { VERDICT_INK } from '#core/5-answers/verdict/verdict.ts';
import { FigureTable } from '../../../kit/table.tsx';
import { useContextStore } from '../../../state/context.ts';
import type { DriveSupply } from '../../../state/drive-supplies.ts';
import { useWorkload } from '../../../state/judged.ts';
import { ink } from '../../../theme/tokens.ts';
import type { ItemViewProps } from './item-view.ts';
import { loadRows } from './load-rows.ts';
import { LoadStrips } from '../../../pictures/pictures.tsx';

/** A load on every drive and from memory, strip by strip; of several loads the whole library under it, in words. */
export default function LoadOfDrives({ item, drives, selectedDrive, onDrive }: ItemViewProps<LoadItem>) {
  const headroomShare = useContextStore((state) => state.headroomShare);
  const workload = useWorkload();
  const loads = (workload?.items ?? []).filter((one): one is LoadItem => one.kind === 'load');
  const rows = useMemo(() => loadRows(item, drives, headroomShare), [item, drives, headroomShare]);
  return (
    <>
      <LoadStrips item={item} rows={rows} selected={selectedDrive} onSelect={onDrive} />
      {loads.length > 1 && <LibraryTable loads={loads} drives={drives} headroomShare={headroomShare} />}
    </>
  );
}

/** Columns beyond these would be too narrow for words, and beyond these where there is little room. */
const MOST_COLUMNS = 5;
const ALWAYS_COLUMNS = 2;
const MOST_LETTERS = 24;

const shortened = (name: string): string => (name.length > MOST_LETTERS ? `${name.slice(0, MOST_LETTERS - 1)}…` : name);

/** Every load of a workload on every drive: how long it takes there, or why that is not known. */
function LibraryTable({
  loads,
  drives,
  headroomShare,
}: {
  loads: readonly LoadItem[];
  drives: readonly DriveSupply[];
  headroomShare: number;
}) {
  const columns = drives.slice(0, MOST_COLUMNS);
  return (
    <FigureTable
      heads={[
        'Load',
        ...columns.map(({ card: { label } }, at) =>
          at < ALWAYS_COLUMNS ? shortened(label) : { head: shortened(label), wideOnly: true as const },
        ),
      ]}
      rows={loads.map((load) => ({
        key: load.id,
        data: { 'data-library': load.name },
        cells: [
          shortened(load.name),
          ...columns.map(({ card, supply, roomBytes }) => {
            if (!supply) return 'reading its runs';
            const { verdict, short, sentence } = judgeItem(load, supply, { headroomShare }, roomBytes)[0]!;
            return (
              <span key={card.id} title={sentence} style={{ color: ink(VERDICT_INK[verdict.verdict]) }}>
                {short}
              </span>
            );
          }),
        ],
      }))}
    />
  );
}
