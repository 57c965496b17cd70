import { median } from '#core/1-ground/numbers/statistics.ts';
import { formatDuration, formatNumber } from '#core/1-ground/units/format.ts';
import { PREVIEW_WORDS, type Preview, type PreviewWay } from '#core/3-jobs/demand/observed/preview.ts';
import type { SeriesItem } from '#core/3-jobs/demand/series/series-item.ts';
import type { Supply } from '#core/4-runs/supply/profile.ts';
import { playbackRates, type PlaybackRates } from '#core/5-answers/verdict/series/series-on-drive.ts';

/** Previews that were seen on drives, beside what is computed for them, and what they say of the time of showing. */

export interface SeenPreview extends Preview {
  /** Frames a second; null where no drive of that name is known, or nothing was read on it. */
  computed: number | null;
}

export interface SeenPreviews {
  previews: SeenPreview[];
  /** Showing of a frame as the previews have it, seconds, where what is typed clashes with it; else null. */
  showSeconds: number | null;
  clash: string | null;
}

/** Seen and computed times of a frame that differ by less than this agree. */
const AGREES_SHARE = 0.1;

const RATE_OF: Record<PreviewWay, (rates: PlaybackRates) => number | null> = {
  cold: ({ plain }) => plain,
  ahead: ({ readAhead }) => readAhead,
  memory: ({ fromMemory }) => fromMemory,
};

interface NamedDrive {
  label: string;
  supply: Supply;
}

/**
 * What a preview took beside reading is showing: cold a frame is read and shown one after the other; from memory it is
 * shown alone. Reading ahead tells it only where showing binds, which nobody knows, so it counts for nothing here.
 */
function showingOf(item: SeriesItem, { framesPerSecond, way }: Preview, drive: NamedDrive | undefined): number | null {
  if (way === 'memory') return 1 / framesPerSecond;
  if (way === 'ahead' || !drive || item.playback === null) return null;
  const reading = playbackRates({ ...item, playback: { ...item.playback, showSeconds: 0 } }, drive.supply);
  return reading && Math.max(0, 1 / framesPerSecond - 1 / reading.plain);
}

/** Null where no preview was seen. */
export function seenPreviews(item: SeriesItem, drives: readonly NamedDrive[]): SeenPreviews | null {
  const { previews = [], playback } = item;
  if (previews.length === 0) return null;
  const named = (label: string) => drives.find((one) => one.label.toLowerCase() === label.toLowerCase());
  const shown = previews.flatMap((one) => showingOf(item, one, named(one.label)) ?? []);
  const typed = playback?.showSeconds ?? 0;
  const seen = shown.length > 0 ? median(shown) : null;
  // Measured by a whole frame: of a short time a large share may be nothing.
  const frame = 1 / Math.min(...previews.map(({ framesPerSecond }) => framesPerSecond));
  const isClash = seen !== null && Math.abs(seen - typed) > AGREES_SHARE * frame;
  return {
    previews: previews.map((one) => {
      const drive = named(one.label);
      const rates = drive ? playbackRates(item, drive.supply) : null;
      return { ...one, computed: rates && RATE_OF[one.way](rates) };
    }),
    showSeconds: isClash ? Number(seen.toPrecision(4)) : null,
    clash: isClash
      ? `Typed ${typed > 0 ? `are ${formatDuration(typed)}` : 'is nothing'} for showing a frame, and by what you have seen it takes ${formatDuration(seen)}.`
      : null,
  };
}

/** “14 a second seen cold, 14.8 computed”. */
export function previewText({ framesPerSecond, way, computed }: SeenPreview): string {
  const seen = `${formatNumber(framesPerSecond)} a second seen ${PREVIEW_WORDS[way]}`;
  return computed === null ? `${seen}, none computed` : `${seen}, ${formatNumber(computed)} computed`;
}
