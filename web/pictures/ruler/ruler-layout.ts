import type { Direction } from '#core/1-ground/curves/direction.ts';
import type { RateSpan } from '#core/4-runs/supply/evidence.ts';
import type { VerdictWord } from '#core/5-answers/verdict/verdict.ts';
import { LABEL_SIZE, textWidth } from '../kit/labels.ts';
import { logSpan, pixelScale, type PictureScale } from '#core/1-ground/axis-span.ts';
import { MEGABYTE } from '../kit/units.ts';

/** A drive on the ruler with the spans of its runs. */
export interface RulerLane {
  driveId: string;
  label: string;
  /** Nothing of it was measured. */
  isPromise: boolean;
  /** Null until the drive's runs have been read. */
  spans: Record<Direction, RateSpan | null> | null;
  /** What counts of it where no trace shows a rate; null where nothing does. */
  otherRuns?: string | null;
}

/** An item of the workload on the ruler. */
export interface RulerPin {
  itemId: string;
  name: string;
  direction: Direction;
  bytesPerSecond: number;
  /** Verdict on each lane, by drive id. */
  verdicts: Record<string, VerdictWord>;
}

export interface RateRulerProps {
  lanes: readonly RulerLane[];
  pins: readonly RulerPin[];
  selected: string | null;
  onSelect: (itemId: string, driveId?: string) => void;
  /** The drive whose sentences are shown, and choosing another. */
  currentDrive: string | null;
  onDrive: (driveId: string) => void;
  headroomShare: number;
  onHeadroom: (share: number) => void;
}

/** Pixels for the drives' names, beside the right edge, and for labels and axis. */
export const NAMES = 168;
export const RIGHT = 30;
export const LABEL_ROW = 19;
const MOST_LABEL_ROWS = 4;
export const LABELS_TO_LANES = 28;
export const AXIS = 40;
/** Pins closer than this are drawn as one that opens on hover. */
const GROUP_PIXELS = 14;
export const MOST_HEADROOM = 2;

export interface RulerLayout {
  x: PictureScale;
  groups: PinGroup[];
  labels: { row: number; middle: number }[];
  /** Where the lanes begin, under the rows of labels. */
  top: number;
}

/** Where everything on the ruler stands, for a width. */
export function layoutOf(props: RateRulerProps, width: number): RulerLayout {
  const x = rulerScale(props, width);
  const groups = groupPins(props.pins, x);
  const labels = labelRows(
    groups.map((group) => ({ x: group.x, width: textWidth(groupText(group), LABEL_SIZE, true) + 14 })),
    width,
  );
  const rows = Math.max(1, ...labels.map((label) => label.row + 1));
  return { x, groups, labels, top: rows * LABEL_ROW + LABELS_TO_LANES };
}

/** What a pin is called: an item's name, or how many there are. */
export const groupText = ({ pins }: PinGroup): string => (pins.length === 1 ? pins[0]!.name : `${pins.length} items`);

/** Pins drawn as one. */
export interface PinGroup {
  x: number;
  pins: RulerPin[];
}

function groupPins(pins: readonly RulerPin[], x: PictureScale): PinGroup[] {
  const groups: PinGroup[] = [];
  for (const pin of [...pins].sort((a, b) => a.bytesPerSecond - b.bytesPerSecond)) {
    const at = x(pin.bytesPerSecond / MEGABYTE);
    const last = groups.at(-1);
    if (last && at - last.x < GROUP_PIXELS) last.pins.push(pin);
    else groups.push({ x: at, pins: [pin] });
  }
  return groups;
}

function rulerScale({ lanes, pins }: RateRulerProps, width: number): PictureScale {
  const rates = [
    ...pins.flatMap((pin) => [pin.bytesPerSecond, pin.bytesPerSecond * 1.3]),
    ...lanes.flatMap((lane) =>
      Object.values(lane.spans ?? {}).flatMap((span) =>
        span ? [span.worstSecondBytesPerSecond, span.openingBytesPerSecond] : [],
      ),
    ),
  ].filter((rate) => rate > 0);
  const [low, high] = rates.length > 0 ? [Math.min(...rates), Math.max(...rates)] : [10 * MEGABYTE, 10_000 * MEGABYTE];
  return pixelScale(logSpan(low / MEGABYTE, high / MEGABYTE, width > 700 ? 12 : 7), [NAMES, width - RIGHT]);
}

/** Where a direction's bar lies within a lane of a height. */
export function barOf(direction: Direction, height: number): { y: number; height: number } {
  return direction === 'write'
    ? { y: height * 0.2, height: height * 0.3 }
    : { y: height * 0.64, height: height * 0.17 };
}

/** Row and middle of each pin's label: the lowest row in which it meets no other. */
function labelRows(labels: readonly { x: number; width: number }[], width: number): { row: number; middle: number }[] {
  const ends = new Array<number>(MOST_LABEL_ROWS).fill(-Infinity);
  return labels.map(({ x, width: labelWidth }) => {
    const middle = Math.min(width - labelWidth / 2, Math.max(NAMES + labelWidth / 2 - 60, x));
    const free = ends.findIndex((end) => end <= middle - labelWidth / 2);
    const row = free < 0 ? ends.indexOf(Math.min(...ends)) : free;
    ends[row] = middle + labelWidth / 2;
    return { row, middle };
  });
}
