import { demandOf } from '#core/3-jobs/demand/footage/footage-demand.ts';
import { footageItemSchema, type FootageItem } from '#core/3-jobs/demand/footage/footage-item.ts';
import type { ItemKind } from '#core/3-jobs/demand/item-kind.ts';

/** Footage has a sheet of its own: it is given in several ways, real material among them. */
export const footageKind: ItemKind<FootageItem> = {
  kind: 'footage',
  schema: footageItemSchema,
  demands: (item) => [demandOf(item)],
  form: null,
};
