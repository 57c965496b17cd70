import { footageItemSchema, type Essence, type FootageItem } from '#core/demand/workload.ts';
import { formatTextOf, parseFormatText } from '#core/media/format-text.ts';
import { badInput, Problem } from '#core/problem.ts';
import { frameRateText, parseFrameRate } from '#core/units/frame-rate.ts';
import { parseBuffer, parseCount, parseDuration, parseRate } from '#core/units/quantity.ts';
import { bytesTyped, rateTyped, secondsTyped } from '#core/units/typable.ts';

/** What kinds of format an item can be given by in the form. */
export type ItemKind = 'picture' | 'sound' | 'own' | 'material';

/** An item of footage as typed. `material` keeps what was read from real material as it is. */
export interface ItemTexts {
  name: string;
  action: FootageItem['action'];
  kind: ItemKind;
  /** `picture`: raster, layout and frame rate in one line. */
  format: string;
  /** `picture`: tracks of sound in each stream, 48 kHz and 24 bit; empty for none. */
  soundTracks: string;
  /** `sound` */
  tracks: string;
  kilohertz: string;
  bits: string;
  /** `own` */
  label: string;
  rate: string;
  frameRate: string;
  peak: string;
  streams: string;
  takes: string;
  takeLength: string;
  gap: string;
  /** Seconds or bytes, as typed. */
  buffer: string;
  together: 'yes' | 'no';
}

export const NEW_ITEM_TEXTS: ItemTexts = {
  name: '',
  action: 'record',
  kind: 'picture',
  format: '3840×2160 4:2:2 10-bit 25p',
  soundTracks: '',
  tracks: '8',
  kilohertz: '48',
  bits: '24',
  label: '',
  rate: '',
  frameRate: '25',
  peak: '',
  streams: '1',
  takes: '1',
  takeLength: '40 min',
  gap: '20 min',
  buffer: '1 s',
  together: 'no',
};

const STUDIO_SOUND = { samplesPerSecond: 48_000, bytesPerSample: 3 };

export function itemTexts(item: FootageItem): ItemTexts {
  const { essence, takes, buffer } = item;
  const own = essence.kind === 'own' ? essence : null;
  const sound = essence.kind === 'sound' ? essence.sound : null;
  return {
    ...NEW_ITEM_TEXTS,
    name: item.name,
    action: item.action,
    kind: essence.kind === 'measured' || essence.kind === 'curve' ? 'material' : essence.kind,
    ...(essence.kind === 'picture'
      ? { format: formatTextOf(essence), soundTracks: essence.sound ? String(essence.sound.tracks) : '' }
      : {}),
    ...(sound
      ? {
          tracks: String(sound.tracks),
          kilohertz: String(sound.samplesPerSecond / 1000),
          bits: String(sound.bytesPerSample * 8),
        }
      : {}),
    ...(own
      ? {
          label: own.label,
          rate: rateTyped(own.bytesPerSecond),
          frameRate: own.frameRate ? frameRateText(own.frameRate) : '',
          peak: own.peakFactor === undefined ? '' : String(own.peakFactor),
        }
      : {}),
    streams: String(item.streams),
    takes: String(takes.count),
    takeLength: secondsTyped(takes.seconds),
    gap: secondsTyped(takes.gapSeconds),
    buffer: buffer.unit === 'seconds' ? secondsTyped(buffer.amount) : bytesTyped(buffer.amount),
    together: item.together ? 'yes' : 'no',
  };
}

export interface ReadItem {
  /** Null while anything is at fault. */
  item: FootageItem | null;
  /** A sentence for each text at fault. */
  errors: Partial<Record<keyof ItemTexts, string>>;
}

/**
 * The item that texts describe; all faults at once.
 * @param material what was read from real material, for the kind `material`
 */
export function readItem(texts: ItemTexts, id: string, material: Essence | null = null): ReadItem {
  const errors: ReadItem['errors'] = {};
  const read = <T>(field: keyof ItemTexts, reader: () => T): T | undefined => {
    try {
      return reader();
    } catch (error) {
      errors[field] = error instanceof Problem ? error.detail : (error as Error).message;
      return undefined;
    }
  };
  let typedStreams: number | null = null;
  const essence = readEssence(texts, read, material, (streams) => (typedStreams = streams));
  const streams = read('streams', () => parseCount(texts.streams, 'streams'));
  const count = read('takes', () => parseCount(texts.takes, 'takes'));
  const seconds = read('takeLength', () => positive(parseDuration(texts.takeLength, 'length'), 'length'));
  const gapSeconds = read('gap', () => parseDuration(texts.gap.trim() === '' ? '0' : texts.gap, 'gap'));
  const buffer = read('buffer', () => readBuffer(texts.buffer));
  const whole = essence && streams && count && seconds !== undefined && gapSeconds !== undefined && buffer;
  if (!whole || Object.keys(errors).length > 0) return { item: null, errors };
  const item: FootageItem = {
    kind: 'footage',
    id,
    name: texts.name.trim() || nameFor(texts, essence),
    action: texts.action,
    essence,
    // “×3” in the line of the format says it too; the field that was changed from one counts.
    streams: typedStreams !== null && streams === 1 ? typedStreams : streams,
    takes: { count, seconds, gapSeconds },
    buffer,
    ...(texts.together === 'yes' ? { together: true } : {}),
  };
  try {
    footageItemSchema.validateSync(item, { strict: true });
  } catch (error) {
    errors.name = (error as Error).message;
    return { item: null, errors };
  }
  return { item, errors };
}

type Read = <T>(field: keyof ItemTexts, reader: () => T) => T | undefined;

function readEssence(
  texts: ItemTexts,
  read: Read,
  material: Essence | null,
  onStreams: (streams: number | null) => void,
): Essence | undefined {
  switch (texts.kind) {
    case 'material':
      return read('format', () => {
        if (material) return material;
        throw badInput('format', 'format: nothing has been read from a file yet. Drop one above.');
      });
    case 'sound': {
      const tracks = read('tracks', () => parseCount(texts.tracks, 'tracks'));
      const kilohertz = read('kilohertz', () => number(texts.kilohertz, 'rate', '48'));
      const bits = read('bits', () => parseCount(texts.bits, 'bits'));
      if (!tracks || !kilohertz || !bits) return undefined;
      return { kind: 'sound', sound: { tracks, samplesPerSecond: kilohertz * 1000, bytesPerSample: bits / 8 } };
    }
    case 'own': {
      const bytesPerSecond = read('rate', () => positive(parseRate(texts.rate, 'rate'), 'rate'));
      const frameRate = read('frameRate', () =>
        texts.frameRate.trim() === '' ? null : parseFrameRate(texts.frameRate, 'frame rate'),
      );
      const peakFactor = read('peak', () => (texts.peak.trim() === '' ? null : number(texts.peak, 'peak', '1.5', 1)));
      if (bytesPerSecond === undefined || frameRate === undefined || peakFactor === undefined) return undefined;
      return {
        kind: 'own',
        label: texts.label.trim() || `Own format, ${texts.rate.trim()}`,
        bytesPerSecond,
        frameRate: frameRate ?? undefined,
        ...(peakFactor === null ? {} : { peakFactor }),
      };
    }
    case 'picture': {
      const parsed = read('format', () => parseFormatText(texts.format));
      const tracks = read('soundTracks', () =>
        texts.soundTracks.trim() === '' ? 0 : parseCount(texts.soundTracks, 'sound', 0),
      );
      if (!parsed || tracks === undefined) return undefined;
      onStreams(parsed.streams);
      const { layoutId, raster, frameRate, ratio, megabitsPerSecond } = parsed.format;
      return {
        kind: 'picture',
        layoutId,
        raster,
        frameRate,
        ...(ratio === undefined ? {} : { ratio }),
        ...(megabitsPerSecond === undefined ? {} : { megabitsPerSecond }),
        sound: tracks > 0 ? { tracks, ...STUDIO_SOUND } : undefined,
      };
    }
  }
}

/** A buffer in seconds of the demand or in bytes; it stays in what it was given. @throws Problem `bad-input` */
export function readBuffer(text: string): FootageItem['buffer'] {
  const typed = text.trim();
  if (/^[\d.]+$/.test(typed)) {
    throw badInput('buffer', `buffer: “${typed}” of what? Type seconds, such as 1 s, or bytes, such as 512 MB.`);
  }
  return parseBuffer(typed);
}

function positive(value: number, where: string): number {
  if (value > 0) return value;
  throw badInput(where, `${where}: must be more than nothing.`);
}

function number(text: string, where: string, example: string, least = 0): number {
  const value = Number(text.trim());
  if (text.trim() === '' || !Number.isFinite(value) || value <= 0 || value < least) {
    throw badInput(
      where,
      `${where}: “${text}” is not a number${least > 0 ? ` of at least ${least}` : ''}. Type one such as ${example}.`,
    );
  }
  return value;
}

/** A name for an item that was given none. */
function nameFor({ tracks }: ItemTexts, essence: Essence): string {
  switch (essence.kind) {
    case 'sound':
      return `Sound, ${tracks.trim()} track${tracks.trim() === '1' ? '' : 's'}`;
    case 'picture':
      return formatTextOf(essence).slice(0, 120);
    default:
      return essence.label;
  }
}
