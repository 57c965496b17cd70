import type { ItemForm } from '#core/3-jobs/demand/item-kind.ts';
import type { Observation } from '#core/3-jobs/demand/observed/observation.ts';
import { gridFrameBytes } from '#core/3-jobs/demand/series/frame-bytes.ts';
import {
  seriesItemSchema,
  type Channel,
  type HeldWriting,
  type SeriesItem,
} from '#core/3-jobs/demand/series/series-item.ts';
import type { Voxels } from '#core/3-jobs/demand/series/channels.ts';
import { schemaFault } from '#core/1-ground/schema/fault-words.ts';
import { rateTyped } from '#core/1-ground/units/typable.ts';
import type { Field, FieldKind } from '#core/1-ground/fields/field.ts';
import { fieldTexts, readFields } from '#core/1-ground/fields/read-fields.ts';
import { Problem } from '#core/1-ground/problem.ts';
import type { FrameRate } from '#core/1-ground/units/frame-rate.ts';
import {
  BYTES,
  COUNT,
  DURATIONS,
  FRAME_COUNT,
  FRAME_RATE,
  RATE,
  RATIO,
  SECONDS,
  SHARE,
  TEXT,
  countFrom,
} from '#core/1-ground/fields/kinds.ts';
import { OBSERVATIONS } from '#core/3-jobs/demand/observed/observation.ts';
import { PREVIEWS, type Preview } from '#core/3-jobs/demand/observed/preview.ts';
import { PROCESSOR, type FasterProcessor } from '#core/3-jobs/demand/series/processor.ts';
import { CHANNELS, VOXELS } from '#core/3-jobs/demand/series/channels.ts';

/** Whether times hold the writing: a rate, “yes”, or nothing. */
const HELD_WRITING: FieldKind = {
  read: (text, where): HeldWriting | null => {
    if (/^no(?:ne)?$/i.test(text)) return null;
    return { bytesPerSecond: /^yes$/i.test(text) ? null : (RATE.read(text, where) as number) };
  },
  show: (value) => {
    const { bytesPerSecond } = value as HeldWriting;
    return bytesPerSecond === null ? 'yes' : rateTyped(bytesPerSecond);
  },
};

const FRAME = 'One frame';
const SERIES = 'The series';
const LOOKING = 'Looking at it';

/** What tells the size of a frame where no folder does: its bytes, or its grid. */
export const GRID_FIELDS: readonly Field[] = [
  {
    option: 'size',
    group: FRAME,
    label: 'Size of a frame',
    help: 'Such as 1.03 GB, where you know it. Empty to work it out from the grid below.',
    flag: 'frame',
    kind: BYTES,
    empty: 'from the grid',
  },
  {
    option: 'grid',
    group: FRAME,
    label: 'Grid',
    help: 'Voxels along each side, such as 512x512x1024.',
    flag: 'grid',
    kind: VOXELS,
  },
  {
    option: 'occupancy',
    group: FRAME,
    label: 'Occupied',
    help: 'Share of the voxels that are kept: all of a dense grid, a few per cent of a sparse one.',
    flag: 'occupancy',
    kind: SHARE,
  },
  {
    option: 'channels',
    group: FRAME,
    label: 'Channels, one a line',
    help: 'Name, components and bits of each: velocity 3 x 32.',
    flag: 'channels',
    kind: CHANNELS,
  },
  {
    option: 'ratio',
    group: FRAME,
    label: 'Compression',
    help: 'Uncompressed to compressed, such as 2.5:1; 1 for none.',
    flag: 'ratio',
    kind: RATIO,
  },
  {
    option: 'header',
    group: FRAME,
    label: 'Beside the channels',
    help: 'Headers and topology of a frame. Empty for none.',
    flag: 'header',
    kind: BYTES,
    empty: 'none',
  },
  {
    option: 'frames',
    group: SERIES,
    label: 'Frames',
    help: 'Of one version: 240, or the first and the last: 1001–1240.',
    flag: 'frames',
    kind: FRAME_COUNT,
  },
];

const SERIES_FIELDS: readonly Field[] = [
  {
    option: 'versions',
    group: SERIES,
    label: 'Versions kept',
    help: 'All of them have to fit.',
    flag: 'versions',
    kind: COUNT,
  },
  {
    option: 'compute',
    group: SERIES,
    label: 'Computing a frame',
    help: 'Such as 12 s; or one time for each frame, with commas, of which the last goes on.',
    flag: 'compute',
    kind: DURATIONS,
  },
  {
    option: 'held',
    group: SERIES,
    label: 'Those times hold the writing',
    help: 'As the times of files do: the rate of the drive that they were written to, such as 250 MB/s, or yes where you do not know it. Empty where they are computing alone.',
    flag: 'held',
    kind: HELD_WRITING,
    empty: 'no',
  },
  {
    option: 'queue',
    group: SERIES,
    label: 'Frames written in the background',
    help: '0 when the program waits until each is written; more when it goes on computing meanwhile.',
    flag: 'queue',
    kind: countFrom(0),
  },
  {
    option: 'share',
    group: SERIES,
    label: 'Most that the drive may cost',
    help: 'Share of the whole time; the verdict is drawn at it.',
    flag: 'share',
    kind: SHARE,
  },
  {
    option: 'processor',
    group: SERIES,
    label: 'A faster processor',
    help: 'To hold against a faster drive: how many times as fast, and its price, such as 1.5 times, 600 EUR.',
    flag: 'processor',
    kind: PROCESSOR,
    empty: 'none in mind',
  },
  {
    option: 'playback',
    group: LOOKING,
    label: 'Frames per second',
    help: 'At which the cache is looked at. Empty when it is not.',
    flag: 'playback',
    kind: FRAME_RATE,
    empty: 'not played',
  },
  {
    option: 'show',
    group: LOOKING,
    label: 'Processor time to show a frame',
    help: 'Beside reading it. Empty for none.',
    flag: 'show',
    kind: SECONDS,
    empty: 'none',
  },
  {
    option: 'previews',
    group: LOOKING,
    label: 'Previews you have seen',
    help: 'One a line, by the name of the drive’s card: Anchor 16T: 14 a second, or 240 frames in 17 s. Cold, unless “reading ahead” or “from memory” stands at its end.',
    flag: 'previews',
    kind: PREVIEWS,
    empty: 'none',
  },
  {
    option: 'observed',
    group: 'Times you have seen',
    label: 'One drive a line',
    help: 'Name, its rate, then the times of whole simulations: Anchor 16T, 190 MB/s: 88 min, 89 min. End with “warm” for later passes.',
    flag: 'observed',
    kind: OBSERVATIONS,
    empty: 'none',
  },
  {
    option: 'name',
    group: 'Times you have seen',
    label: 'Name',
    help: 'Of the series.',
    flag: 'name',
    kind: TEXT,
    empty: 'Cache series',
  },
];

interface Values {
  size: number | null;
  grid: Voxels;
  occupancy: number;
  channels: Channel[];
  ratio: number;
  header: number | null;
  frames: number;
  versions: number;
  compute: number[];
  held: HeldWriting | null;
  queue: number;
  share: number;
  processor: FasterProcessor | null;
  playback: FrameRate | null;
  show: number | null;
  previews: Preview[] | null;
  observed: Observation[] | null;
  name: string | null;
}

/** Fields of an item: where a folder told the sizes, nothing is asked about its frames. */
export const seriesFields = (base: SeriesItem | null): readonly Field[] =>
  base?.frames.kind === 'files' ? SERIES_FIELDS : [...GRID_FIELDS, ...SERIES_FIELDS];

export const seriesForm: ItemForm<SeriesItem> = {
  fields: [...GRID_FIELDS, ...SERIES_FIELDS],
  start: {
    size: '',
    grid: '512x512x512',
    occupancy: '20%',
    channels: 'density 1 x 32\nvelocity 3 x 32',
    ratio: '1',
    header: '',
    frames: '240',
    versions: '1',
    compute: '10 s',
    held: '',
    queue: '0',
    share: '10%',
    processor: '',
    playback: '24',
    show: '',
    previews: '',
    observed: '',
    name: '',
  },
  texts(item) {
    const { frames, playback } = item;
    return {
      ...seriesForm.start,
      ...(frames.kind === 'grid'
        ? fieldTexts(GRID_FIELDS, {
            grid: frames.voxels,
            occupancy: frames.occupancyShare,
            channels: frames.channels,
            ratio: frames.ratio,
            header: frames.headerBytes || null,
            frames: item.frameCount,
          })
        : {}),
      ...(frames.kind === 'size'
        ? fieldTexts(
            GRID_FIELDS.filter(({ option }) => option === 'size' || option === 'frames'),
            { size: frames.frameBytes, frames: item.frameCount },
          )
        : {}),
      ...fieldTexts(SERIES_FIELDS, {
        versions: item.versions,
        compute: item.computeSeconds,
        held: item.heldWriting ?? null,
        queue: item.queueFrames,
        share: item.mostDriveShare,
        processor: item.processor ?? null,
        playback: playback?.frameRate ?? null,
        show: playback?.showSeconds || null,
        previews: item.previews ?? null,
        observed: item.observed,
        name: item.name,
      }),
    };
  },
  read(texts, id, base) {
    const fields = seriesFields(base);
    const isSized = (texts['size'] ?? '').trim() !== '' && base?.frames.kind !== 'files';
    // Whose size is known needs no grid.
    const asked = isSized ? fields.filter(({ group, option }) => group !== FRAME || option === 'size') : fields;
    const { values, errors } = readFields(asked, texts);
    if (Object.keys(errors).length > 0) return { item: null, errors };
    const typed = values as unknown as Values;
    const files = base?.frames.kind === 'files' ? base.frames : null;
    const item: SeriesItem = {
      kind: 'series',
      id,
      name: typed.name ?? 'Cache series',
      frames: files ?? framesOf(typed),
      frameCount: files ? files.bytes.length : typed.frames,
      versions: typed.versions,
      computeSeconds: typed.compute,
      ...(typed.held ? { heldWriting: typed.held } : {}),
      queueFrames: typed.queue,
      mostDriveShare: typed.share,
      playback: typed.playback && { frameRate: typed.playback, showSeconds: typed.show ?? 0 },
      observed: typed.observed ?? [],
      ...(typed.processor ? { processor: typed.processor } : {}),
      ...(typed.previews && typed.previews.length > 0 ? { previews: typed.previews } : {}),
    };
    return checked(item);
  },
};

const framesOf = ({ size, grid, occupancy, channels, ratio, header }: Values): SeriesItem['frames'] =>
  size !== null && size !== undefined
    ? { kind: 'size', frameBytes: size }
    : { kind: 'grid', voxels: grid, occupancyShare: occupancy, channels, ratio, headerBytes: header ?? 0 };

/** Faults that only show in the whole, each at the field that can mend it. */
function checked(item: SeriesItem): { item: SeriesItem | null; errors: Record<string, string> } {
  const fault = (field: string, sentence: string) => ({ item: null, errors: { [field]: sentence } });
  if (item.computeSeconds.length === 0) return fault('compute', 'compute: type at least one time, such as 12 s.');
  if (item.frames.kind === 'grid') {
    if (item.frames.channels.length === 0)
      return fault('channels', 'channels: a frame without any has nothing to keep.');
    const { occupancyShare } = item.frames;
    if (!(occupancyShare > 0 && occupancyShare <= 1))
      return fault('occupancy', 'occupancy: type a share above 0 and up to 100%.');
    try {
      gridFrameBytes(item.frames);
    } catch (error) {
      return fault('grid', (error as Problem).detail);
    }
  }
  if (!(item.mostDriveShare > 0 && item.mostDriveShare <= 0.95))
    return fault('share', 'share: type a share above 0 and up to 95%.');
  try {
    seriesItemSchema.validateSync(item, { strict: true });
  } catch (error) {
    const { part, sentence } = schemaFault(error);
    return fault(FIELD_OF_PART[part] ?? 'name', sentence);
  }
  return { item, errors: {} };
}

const FIELD_OF_PART: Record<string, string> = {
  frames: 'size',
  frameCount: 'frames',
  computeSeconds: 'compute',
  queueFrames: 'queue',
  versions: 'versions',
  playback: 'show',
  observed: 'observed',
  previews: 'previews',
};
