import type { Loudness } from '#core/4-runs/run/loudness.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { useListening } from '../../state/listening.ts';

/** What was heard of a run: as far as this page heard it now, else as it is kept. */
export function useHeard(run: RunDocument): Loudness | null {
  const heard = useListening((state) => state.heard);
  return heard?.runId === run.id ? heard.loudness : run.loudness;
}
