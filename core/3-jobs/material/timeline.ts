import { badInput } from '#core/1-ground/problem.ts';
import { readJson } from '#core/1-ground/schema/json-text.ts';
import type { Progress } from '#core/1-ground/curves/progress.ts';

/** A clip where it lies on a timeline. */
export interface TimelineClip {
  name: string;
  /** What it is cut from: the last part of its media's address, else its own name. */
  media: string;
  track: string;
  kind: 'video' | 'audio';
  fromSeconds: number;
  toSeconds: number;
  /** Material seconds for each second shown: 2 is double speed. */
  speed: number;
  /** Frames per second of the medium, where it is a sequence that tells. */
  mediaFramesPerSecond: number | null;
}

export interface Timeline {
  name: string;
  clips: TimelineClip[];
  durationSeconds: number;
  /** Of the edit: the rate of its first clip's times. */
  framesPerSecond: number | null;
}

/** A timeline of more is no edit. */
const MOST_CLIPS = 50_000;
const MOST_DEPTH = 16;

type Json = Record<string, unknown>;
const isObject = (value: unknown): value is Json =>
  typeof value === 'object' && value !== null && !Array.isArray(value);
const textOf = (value: unknown, otherwise = ''): string =>
  typeof value === 'string' && value !== '' ? value : otherwise;
const schemaOf = (value: Json): string => textOf(value['OTIO_SCHEMA']).split('.')[0]!;

/**
 * The clips of an OpenTimelineIO document (JSON, any version of its schemas that is in use).
 * Gaps, nested stacks and tracks, transitions and steady changes of speed are followed; effects are not.
 * @throws Problem `bad-input` that names the place of the fault
 */
export function parseTimeline(text: string, where = 'timeline'): Timeline {
  const document = readJson(text, where);
  if (!isObject(document) || document['OTIO_SCHEMA'] === undefined) {
    throw badInput(where, `${where}: is no OpenTimelineIO document: it has no OTIO_SCHEMA.`);
  }
  const clips: TimelineClip[] = [];
  let ownRate: number | null = null;
  const fault = (path: string, what: string) => badInput(where, `${where}: ${path}: ${what}`);
  let root: unknown = document;
  let path = schemaOf(document);
  if (schemaOf(document) === 'Timeline') {
    root = document['tracks'];
    path = 'tracks';
  } else if (schemaOf(document) === 'SerializableCollection') {
    const found = asList(document['children']).find((child) => isObject(child) && schemaOf(child) === 'Timeline');
    root = isObject(found) ? found['tracks'] : undefined;
    path = 'children.tracks';
  }
  if (!isObject(root)) throw fault(path, 'is missing; a timeline has a stack of tracks there.');
  const durationSeconds = walk(root, path, { from: 0, track: '', kind: 'video', depth: 0 });
  if (clips.length === 0) throw badInput(where, `${where}: has no clips.`);
  const name = textOf(document['name'], 'Timeline');
  return {
    name,
    clips,
    durationSeconds: clips.reduce((end, clip) => Math.max(end, clip.toSeconds), durationSeconds),
    framesPerSecond: ownRate,
  };

  /** Puts the clips of an object onto the list and returns how long it lasts. */
  function walk(
    object: Json,
    at: string,
    place: { from: number; track: string; kind: TimelineClip['kind']; depth: number },
  ): number {
    if (place.depth > MOST_DEPTH) throw fault(at, `is nested more than ${MOST_DEPTH} deep.`);
    const schema = schemaOf(object);
    const own = durationOf(object, at);
    if (schema === 'Stack') {
      const before = clips.length;
      const lengths = asList(object['children']).map((child, index) =>
        isObject(child) ? walk(child, `${at}.children[${index}]`, { ...place, depth: place.depth + 1 }) : 0,
      );
      return trim(object, before, own ?? Math.max(0, ...lengths), place.from, at);
    }
    if (schema === 'Track') {
      const kind = /audio/i.test(textOf(object['kind'], 'Video')) ? 'audio' : 'video';
      const track = textOf(object['name'], kind);
      const before = clips.length;
      const length = walkTrack(asList(object['children']), at, { ...place, track, kind });
      return trim(object, before, own ?? length, place.from, at);
    }
    if (schema === 'Gap') return own ?? 0;
    if (schema === 'Clip') {
      const length = own ?? availableOf(object, at);
      if (length === null) throw fault(at, 'has neither a source range nor media whose length is known.');
      addClip(object, at, place, length);
      return length;
    }
    return own ?? 0;
  }

  function walkTrack(
    children: readonly unknown[],
    at: string,
    place: { from: number; track: string; kind: TimelineClip['kind']; depth: number },
  ): number {
    let clock = place.from;
    let leadIn = 0;
    children.forEach((child, index) => {
      if (!isObject(child)) return;
      const here = `${at}.children[${index}]`;
      if (schemaOf(child) === 'Transition') {
        // Both clips are shown at once: the one before runs on, the next begins early.
        const out = timeOf(child['out_offset'], `${here}.out_offset`) ?? 0;
        leadIn = timeOf(child['in_offset'], `${here}.in_offset`) ?? 0;
        const last = clips.at(-1);
        if (last && Math.abs(last.toSeconds - clock) < 1e-6) last.toSeconds += out;
        return;
      }
      const before = clips.length;
      const length = walk(child, here, { ...place, from: clock, depth: place.depth + 1 });
      const added = clips[before];
      if (added && leadIn > 0) added.fromSeconds = Math.max(0, added.fromSeconds - leadIn);
      leadIn = 0;
      clock += length;
    });
    return clock - place.from;
  }

  /** A range on a track or stack shows that part of it only. */
  function trim(object: Json, before: number, length: number, from: number, at: string): number {
    const range = object['source_range'];
    if (!isObject(range)) return length;
    const start = timeOf(range['start_time'], `${at}.source_range.start_time`) ?? 0;
    const inside = clips.splice(before).flatMap((clip) => {
      const fromSeconds = Math.max(from, clip.fromSeconds - start);
      const toSeconds = Math.min(from + length, clip.toSeconds - start);
      return toSeconds > fromSeconds ? [{ ...clip, fromSeconds, toSeconds }] : [];
    });
    clips.push(...inside);
    return length;
  }

  function addClip(
    object: Json,
    at: string,
    place: { from: number; track: string; kind: TimelineClip['kind'] },
    length: number,
  ): void {
    if (length <= 0) return;
    if (clips.length >= MOST_CLIPS) throw fault(at, `more than ${MOST_CLIPS} clips are not read.`);
    const name = textOf(object['name'], 'clip');
    clips.push({
      name,
      media: mediaName(object) ?? name,
      track: place.track,
      kind: place.kind,
      fromSeconds: place.from,
      toSeconds: place.from + length,
      speed: speedOf(object),
      mediaFramesPerSecond: sequenceRateOf(object),
    });
  }

  function durationOf(object: Json, at: string): number | null {
    const range = object['source_range'];
    if (!isObject(range)) return null;
    const seconds = timeOf(range['duration'], `${at}.source_range.duration`);
    if (ownRate === null && seconds !== null) ownRate = (range['duration'] as { rate: number }).rate;
    return seconds;
  }

  function availableOf(object: Json, at: string): number | null {
    const range = mediaOf(object)?.['available_range'];
    return isObject(range) ? timeOf(range['duration'], `${at}.media_reference.available_range.duration`) : null;
  }

  function timeOf(value: unknown, at: string): number | null {
    if (value === undefined || value === null) return null;
    const { value: amount, rate } = isObject(value) ? value : {};
    if (typeof amount !== 'number' || typeof rate !== 'number' || !(rate > 0) || !Number.isFinite(amount)) {
      throw fault(at, 'is no time: it needs a value and a rate above 0.');
    }
    return amount / rate;
  }
}

const asList = (value: unknown): unknown[] => (Array.isArray(value) ? (value as unknown[]) : []);

function mediaOf(clip: Json): Json | undefined {
  if (isObject(clip['media_reference'])) return clip['media_reference'];
  const all = clip['media_references'];
  if (!isObject(all)) return undefined;
  const active = all[textOf(clip['active_media_reference_key'], 'DEFAULT_MEDIA')] ?? Object.values(all)[0];
  return isObject(active) ? active : undefined;
}

function mediaName(clip: Json): string | null {
  const media = mediaOf(clip);
  if (media === undefined) return null;
  const prefix = media['name_prefix'];
  if (typeof prefix === 'string' && schemaOf(media) === 'ImageSequenceReference') {
    const digits = media['frame_zero_padding'];
    const places = typeof digits === 'number' && digits >= 1 && digits <= 12 ? Math.round(digits) : 1;
    return `${prefix}${'#'.repeat(places)}${textOf(media['name_suffix'])}`;
  }
  const address = media['target_url'] ?? media['name'];
  if (typeof address !== 'string' || address === '') return null;
  const last = address.split(/[\\/]/).at(-1)!;
  try {
    return decodeURIComponent(last) || null;
  } catch {
    return last;
  }
}

function sequenceRateOf(clip: Json): number | null {
  const media = mediaOf(clip);
  if (media === undefined || schemaOf(media) !== 'ImageSequenceReference') return null;
  const rate = media['rate'];
  return typeof rate === 'number' && rate > 0 && Number.isFinite(rate) ? rate : null;
}

/** Numbers of a sequence's frames as they are written in names: `####`, `%04d`, `[1-100]`, `$F4`. */
const FRAME_NUMBERS = /#+|%0?\d*d|\[\d+-\d+\]|\$F\d*/;

/** What a medium's name has in common with that of its files, whatever way its frame numbers are written. */
export const mediaKey = (name: string): string => name.replace(FRAME_NUMBERS, '#').toLowerCase();

function speedOf(clip: Json): number {
  const warps = asList(clip['effects']).filter(isObject);
  const speed = warps.reduce((product, effect) => {
    const scalar = effect['time_scalar'];
    return typeof scalar === 'number' && Number.isFinite(scalar) ? product * Math.abs(scalar) : product;
  }, 1);
  return speed;
}

/** A stretch of a timeline in which the same clips are shown. */
export interface TimelineStretch {
  fromSeconds: number;
  toSeconds: number;
  bytesPerSecond: number;
  layers: TimelineClip[];
}

/** What a timeline asks for, stretch by stretch, and added up. */
export function timelineDemand(
  { clips, durationSeconds }: Timeline,
  bytesPerSecondOf: (clip: TimelineClip) => number,
): { curve: Progress; stretches: TimelineStretch[] } {
  const edges = new Set([0, durationSeconds]);
  for (const { fromSeconds, toSeconds } of clips) edges.add(fromSeconds).add(toSeconds);
  const times = [...edges].filter((edge) => edge <= durationSeconds).sort((a, b) => a - b);
  const starting = [...clips].sort((a, b) => a.fromSeconds - b.fromSeconds);
  const curve: Progress = { seconds: [0], bytes: [0] };
  const stretches: TimelineStretch[] = [];
  let shown: TimelineClip[] = [];
  let next = 0;
  for (let index = 1; index < times.length; index += 1) {
    const [fromSeconds, toSeconds] = [times[index - 1]!, times[index]!];
    if (toSeconds - fromSeconds < 1e-9) continue;
    while (next < starting.length && starting[next]!.fromSeconds <= fromSeconds + 1e-9) shown.push(starting[next++]!);
    shown = shown.filter((clip) => clip.toSeconds > fromSeconds + 1e-9);
    const bytesPerSecond = shown.reduce((sum, clip) => sum + bytesPerSecondOf(clip) * clip.speed, 0);
    stretches.push({ fromSeconds, toSeconds, bytesPerSecond, layers: [...shown] });
    curve.seconds.push(toSeconds);
    curve.bytes.push(curve.bytes.at(-1)! + bytesPerSecond * (toSeconds - fromSeconds));
  }
  return { curve, stretches };
}

/** The stretches that ask for most, the highest first. */
export function peaksOf(stretches: readonly TimelineStretch[], most: number): TimelineStretch[] {
  return [...stretches].sort((a, b) => b.bytesPerSecond - a.bytesPerSecond).slice(0, most);
}
