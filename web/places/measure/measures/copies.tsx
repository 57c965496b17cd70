import type { MeasureView } from './measure-view.ts';

/** Copies: their rate as they went along, and which side waited for which. */
export const copiesView: MeasureView = {
  picture: () => null,
  table: () => null,
  word: () => null,
  hasTraceAxis: false,
};
