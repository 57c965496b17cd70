import { useMemo } from 'react';
import type { LoadItem } from '#core/3-jobs/demand/loads/load-item.ts';
import { useContextStore } from '../../../state/context.ts';
import type { ItemViewProps } from './item-view.ts';
import { loadRows } from './load-rows.ts';
import { LoadStrips } from '../../../pictures/pictures.tsx';

/** A load on every drive and from memory, strip by strip. */
export default function LoadOfDrives({ item, drives, selectedDrive, onDrive }: ItemViewProps<LoadItem>) {
  const headroomShare = useContextStore((state) => state.headroomShare);
  const rows = useMemo(() => loadRows(item, drives, headroomShare), [item, drives, headroomShare]);
  return <LoadStrips item={item} rows={rows} selected={selectedDrive} onSelect={onDrive} />;
}
