import { curveEssence, type Material } from '#core/3-jobs/material/material.ts';
import { frameRateNear, type MaterialRates } from '#core/3-jobs/material/sample-rates.ts';
import { peaksOf, timelineDemand, type Timeline, type TimelineClip } from '#core/3-jobs/material/timeline.ts';
import { dataRate, soundBytesPerSecond } from '#core/2-trade/media/data-rate.ts';
import { parseFormatText } from '#core/2-trade/media/format-text.ts';
import { badInput } from '#core/1-ground/problem.ts';
import { rateText } from '#core/1-ground/units/format.ts';
import { frameRateText } from '#core/1-ground/units/frame-rate.ts';
import { parseRate } from '#core/1-ground/units/quantity.ts';

/** A timeline, with what was given of the media that it is cut from. */
export interface Edit {
  timeline: Timeline;
  /** By the name of the medium in the timeline. */
  given: Record<string, MaterialRates>;
  /** Names of what was given and no clip is cut from. */
  unused: string[];
}

/** What the media of an edit are that were not given. */
export interface EditChoices {
  /** A format or a rate, as it is typed, for all that have none of their own; null for none. */
  common: string | null;
  /** By the name of the medium; goes before what was given. */
  own: Record<string, string>;
}

/** A medium of an edit: how often it is used, and what it is taken to be. */
export interface EditMedium {
  media: string;
  kind: TimelineClip['kind'];
  clips: number;
}

/** Sound of which no file was given: two channels of 48 kHz and 24 bit. */
const SOUND_BYTES_PER_SECOND = soundBytesPerSecond({ tracks: 2, samplesPerSecond: 48_000, bytesPerSample: 3 });

/** A usual format of an edit's clips, at the frame rate of the edit. */
export const usualFormatOf = ({ framesPerSecond }: Timeline): string =>
  `3840×2160 RDD 36 high ${frameRateText(frameRateNear(framesPerSecond ?? 25))}p`;

/**
 * Bytes per second of a clip from a format or a rate as it is typed.
 * @param rateWhere what a rate at fault is called
 * @throws Problem `bad-input` on what is neither
 */
export function parseClipRate(text: string, rateWhere: string): number {
  return /\/\s*s$|bps$/.test(text.trim())
    ? parseRate(text, rateWhere)
    : dataRate(parseFormatText(text).format).bytesPerSecond;
}

/** Media that a timeline is cut from, most used first. */
export function mediaOf({ clips }: Timeline): EditMedium[] {
  const all = new Map<string, EditMedium>();
  for (const { media, kind } of clips) {
    const known = all.get(`${kind} ${media}`);
    if (known) known.clips += 1;
    else all.set(`${kind} ${media}`, { media, kind, clips: 1 });
  }
  return [...all.values()].sort((a, b) => b.clips - a.clips);
}

/**
 * What an edit asks for. What each medium was taken for stands in the notes: given, typed or assumed.
 * @throws Problem `bad-input` when a text is no format, when one is missing, or when nothing asks for anything
 */
export function materialOfEdit({ timeline, given, unused }: Edit, { common, own }: EditChoices): Material {
  const media = mediaOf(timeline);
  const pictures = new Set(media.filter(({ kind }) => kind === 'video').map((one) => one.media));
  const rates = new Map<string, number>();
  const by = { given: [] as string[], typed: [] as string[], assumed: [] as string[], sound: [] as string[] };
  for (const one of media) {
    const key = `${one.kind} ${one.media}`;
    const typed = own[one.media]?.trim();
    const read = given[one.media]?.bytesPerSecond;
    if (one.kind === 'audio') {
      // The sound of a clip lies in the file of its picture, which is read for that.
      const isOwnFile = read !== undefined && !pictures.has(one.media);
      rates.set(key, isOwnFile ? read : SOUND_BYTES_PER_SECOND);
      (isOwnFile ? by.given : by.sound).push(one.media);
    } else if (typed) {
      rates.set(key, parseClipRate(typed, one.media));
      by.typed.push(one.media);
    } else if (read !== undefined) {
      rates.set(key, read);
      by.given.push(one.media);
    } else {
      if (common === null)
        throw badInput('format', `format: is missing. A timeline does not tell what ${one.media} is: give --format.`);
      rates.set(key, parseClipRate(common, 'rate'));
      by.assumed.push(one.media);
    }
  }
  const { curve, stretches } = timelineDemand(timeline, ({ kind, media: name }) => rates.get(`${kind} ${name}`)!);
  if (curve.bytes.at(-1)! <= 0)
    throw badInput('timeline', 'timeline: none of its clips asks for anything. Give them a format.');
  const notes = [
    by.given.length > 0 && `As they were given: ${listText(by.given)}.`,
    by.typed.length > 0 && `As typed: ${listText(by.typed)}.`,
    by.assumed.length > 0 && `Not given, and taken to be ${common}: ${listText(by.assumed)}.`,
    by.sound.length > 0 &&
      `Sound that was not given by itself is taken to be two channels of 48 kHz and 24 bit, ${rateText(SOUND_BYTES_PER_SECOND)}: ${listText(by.sound)}.`,
    unused.length > 0 && `Left out, since no clip is cut from it: ${listText(unused)}.`,
  ].filter((note) => note !== false);
  return {
    kind: 'timeline',
    essence: curveEssence(timeline.name, curve),
    rates: null,
    frames: [],
    notes,
    peaks: peaksOf(stretches, 5),
  };
}

const MOST_NAMED = 4;

function listText(names: readonly string[]): string {
  const unique = [...new Set(names)];
  const rest = unique.length - MOST_NAMED;
  return rest > 0 ? `${unique.slice(0, MOST_NAMED).join(', ')} and ${rest} more` : unique.join(', ');
}
