import { greatest } from '#core/1-ground/numbers/statistics.ts';
import { bytesText, formatDuration, formatNumber, formatShare } from '#core/1-ground/units/format.ts';
import { healthFacts } from '#core/2-trade/drives/health.ts';
import { recipeKindById } from '#core/3-jobs/recipes/registry.ts';
import type { IoMode, Marker, RunDocument } from '#core/4-runs/run/run-document.ts';

const IO_MODE_LINES: Record<IoMode, string> = {
  direct: 'system cache bypassed',
  buffered: 'through the system’s cache',
  memory: 'memory: nothing reached a drive',
  simulated: 'simulated',
  unknown: 'how requests reached the drive is not known',
};

/** Markers that are reported in words and not drawn. */
const TOLD_MARKERS: readonly Marker['kind'][] = ['skipped', 'left-behind', 'clock-set'];

/** What a run was, by its recipe; a trace that others made was none of ours. */
export const runKindText = ({ recipe, conditions }: Pick<RunDocument, 'recipe' | 'conditions'>): string =>
  conditions.ioMode === 'unknown' ? 'Trace from a table' : recipeKindById(recipe).label;

/** What a run was asked to do, in a few words; nothing where it came from elsewhere without a word of that. */
export const askedOf = ({ recipe, options }: Pick<RunDocument, 'recipe' | 'options'>): string[] =>
  Object.keys(options).length === 0 ? [] : [recipeKindById(recipe).summary(options)];

/** What was so when a run was made, each in a few words. */
export function conditionLines(run: RunDocument): string[] {
  const { conditions, recipe, options, volume } = run;
  const { start, series, verification, ioMode } = conditions;
  // Of what others measured neither the volume nor its filling is known.
  const full = start.totalBytes > 0 ? `, ${formatShare(1 - start.freeBytes / start.totalBytes)} full` : '';
  const temperatures = series.temperatureCelsius.filter((value) => value !== null);
  const processor = series.processorShare.filter((value) => value !== null);
  return [
    ...(volume.kind === 'stand-in'
      ? [`stand-in${full}`]
      : volume.mountPoint === ''
        ? []
        : [`${volume.filesystem} at ${volume.mountPoint}${full}`]),
    ...askedOf({ recipe, options }),
    IO_MODE_LINES[ioMode],
    ...(verification.checkedBytes > 0 ? [`${bytesText(verification.checkedBytes)} verified on reading back`] : []),
    ...(temperatures.length > 0
      ? [`${formatNumber(temperatures[0]!)} to ${formatNumber(greatest(temperatures))} °C`]
      : []),
    ...toldLines(run),
    ...(processor.length > 0
      ? [`processor ${formatShare(processor.reduce((sum, share) => sum + share, 0) / processor.length)} busy`]
      : []),
    ...(start.restSeconds !== null ? [`rested ${formatDuration(start.restSeconds)} before`] : []),
    ...(start.writtenLastHourBytes !== null && start.writtenLastHourBytes > 0
      ? [`${bytesText(start.writtenLastHourBytes)} written to it in the hour before`]
      : []),
    ...(start.onBattery === true ? ['on battery'] : []),
    ...run.markers.filter(({ kind }) => TOLD_MARKERS.includes(kind)).map(({ note }) => note),
    ...(start.discardSupported === false ? ['no discard: deleted data stays with the drive'] : []),
  ];
}

/** What the drive said of itself, in one line; of two tellings the later, and its temperature where nothing else told it. */
function toldLines({ conditions: { told, series } }: RunDocument): string[] {
  const health = told?.end ?? told?.start ?? null;
  if (health === null) return [];
  const isWarmthTold = series.temperatureCelsius.some((celsius) => celsius !== null);
  const facts = healthFacts({ ...health, ...(isWarmthTold ? { celsius: null } : {}) });
  return facts.length === 0 ? [] : [`by its own count: ${facts.map(({ name, text }) => `${name} ${text}`).join(', ')}`];
}
