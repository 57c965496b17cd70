import type { DriveToHelp } from '#core/5-answers/verdict/series/what-helps.ts';
import type { DriveSupply } from '../../../state/drive-supplies.ts';

/** A drive with what it costs, to be held against another; null while nothing of it is read. */
export const toHelp = ({ card: { label, details }, supply, roomBytes }: DriveSupply): DriveToHelp | null =>
  supply ? { label, supply, roomBytes, price: details.price, currency: details.currency } : null;
