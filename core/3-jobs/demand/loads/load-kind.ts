import { ONE_TAKE, type Demand } from '#core/3-jobs/demand/demand.ts';
import type { ItemKind } from '#core/3-jobs/demand/item-kind.ts';
import { loadForm } from '#core/3-jobs/demand/loads/load-form.ts';
import { loadItemSchema, phaseBytes, type LoadItem, type Phase } from '#core/3-jobs/demand/loads/load-item.ts';
import { bytesText } from '#core/1-ground/units/format.ts';

/** Rate at which the bytes of a phase have to come for it to stay within its limit, bytes per second. */
function neededRate({ bytes, processorSeconds, overlapShare, limitSeconds, stream }: Phase): number {
  if (bytes === 0) return 0;
  // A chunk that may wait longer than the next one is apart has to come as often all the same.
  const within = stream ? Math.min(limitSeconds ?? Infinity, stream.everySeconds) : limitSeconds;
  // Without a limit what is read takes as long as what is computed: a drive that fast is no brake.
  if (within === null) return bytes / Math.max(processorSeconds, 0.1);
  const left = within - processorSeconds * (1 - overlapShare);
  return bytes / Math.max(left, within / 100);
}

/** The largest of what its phases need; as long as its limits allow. */
function demandOfLoad(item: LoadItem): Demand {
  const bytesPerSecond = Math.max(1, ...item.phases.map(neededRate));
  const bytes = item.phases.reduce((sum, phase) => sum + phaseBytes(phase), 0);
  const waits = item.phases.filter((phase) => phase.stream === null);
  const takeSeconds = waits.reduce(
    (sum, { limitSeconds, processorSeconds }) => sum + (limitSeconds ?? 2 * Math.max(processorSeconds, 0.5)),
    0,
  );
  const largest = item.phases.reduce((most, phase) => (neededRate(phase) > neededRate(most) ? phase : most));
  return {
    itemId: item.id,
    name: item.name,
    direction: 'read',
    act: 'load',
    bytesPerSecond,
    peakBytesPerSecond: bytesPerSecond,
    burstBytes: 0,
    curve: null,
    framesPerSecond: null,
    bytesPerFrame: largest.requestBytes,
    streams: 1,
    isSum: false,
    parts: [],
    takeSeconds: Math.max(
      takeSeconds,
      ...item.phases.map((phase) => (waits.length > 0 ? 0 : phase.stream!.forSeconds)),
      0.1,
    ),
    ...ONE_TAKE,
    bufferBytes: 0,
    formatText: `${bytesText(bytes)} in ${item.phases.length === 1 ? 'one phase' : `${item.phases.length} phases`}`,
  };
}

/** A game, tool or archive that is started and used. */
export const loadKind: ItemKind<LoadItem> = {
  kind: 'load',
  schema: loadItemSchema,
  demands: (item) => [demandOfLoad(item)],
  form: loadForm,
};
