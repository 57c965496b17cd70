import type { ReactNode } from 'react';
import type { Item } from '#core/3-jobs/demand/items.ts';
import type { DriveSupply } from '../../../state/drive-supplies.ts';

/** What an item view is given. */
export interface ItemViewProps<One extends Item> {
  item: One;
  /** Drives that it is laid beside. */
  drives: readonly DriveSupply[];
  selectedDrive: string | null;
  onDrive: (driveId: string) => void;
}

export interface ItemSheetProps<One extends Item> {
  /** Null for a new one. */
  item: One | null;
  onClose: () => void;
  onSave: (item: One) => void;
}

/** How one kind of item is shown and given. */
export interface ItemView<One extends Item> {
  /** Its own picture; null for what is drawn beside all others only. */
  picture: ((props: ItemViewProps<One>) => ReactNode) | null;
  /** The column: what it comes to. */
  facts: (props: ItemViewProps<One>) => ReactNode;
  sheet: (props: ItemSheetProps<One>) => ReactNode;
  /** What the button that adds one says. */
  addText: string;
}
