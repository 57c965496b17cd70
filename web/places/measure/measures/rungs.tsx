import type { MeasureView } from './measure-view.ts';
import { LadderPicture } from '../../../pictures/pictures.tsx';

/** Block sizes by queue depths: the picture says it all. */
export const rungsView: MeasureView = {
  picture: (_run, { figures }) =>
    figures.ladder && figures.ladder.length > 0 ? <LadderPicture ladder={figures.ladder} /> : null,
  table: () => null,
  word: ({ ladder }) => `${ladder?.length ?? 0} rungs`,
  hasTraceAxis: false,
};
