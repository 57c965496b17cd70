import { describe, expect, it } from 'vitest';
import { parseTimeline, peaksOf, timelineDemand } from '#core/3-jobs/material/timeline.ts';

const time = (value: number, rate = 25) => ({ OTIO_SCHEMA: 'RationalTime.1', value, rate });
const range = (start: number, duration: number) => ({
  OTIO_SCHEMA: 'TimeRange.1',
  start_time: time(start),
  duration: time(duration),
});
const clip = (name: string, frames: number, more: object = {}) => ({
  OTIO_SCHEMA: 'Clip.2',
  name,
  source_range: range(0, frames),
  active_media_reference_key: 'DEFAULT_MEDIA',
  media_references: {
    DEFAULT_MEDIA: { OTIO_SCHEMA: 'ExternalReference.1', target_url: `file:///reel/${name}%20a.mov` },
  },
  ...more,
});
const gap = (frames: number) => ({ OTIO_SCHEMA: 'Gap.1', source_range: range(0, frames) });
const track = (name: string, children: object[], more: object = {}) => ({
  OTIO_SCHEMA: 'Track.1',
  name,
  kind: 'Video',
  children,
  ...more,
});
const timeline = (...tracks: object[]) =>
  JSON.stringify({ OTIO_SCHEMA: 'Timeline.1', name: 'Edit', tracks: { OTIO_SCHEMA: 'Stack.1', children: tracks } });

describe('an OpenTimelineIO document', () => {
  it('gives its clips where they lie, with the media they are cut from', () => {
    const { name, clips, durationSeconds } = parseTimeline(
      timeline(track('V1', [clip('one', 250), clip('two', 250)]), track('V2', [gap(125), clip('title', 250)])),
    );
    expect([name, durationSeconds]).toEqual(['Edit', 20]);
    expect(clips.map(({ name: one, track: on, fromSeconds, toSeconds }) => [one, on, fromSeconds, toSeconds])).toEqual([
      ['one', 'V1', 0, 10],
      ['two', 'V1', 10, 20],
      ['title', 'V2', 5, 15],
    ]);
    expect(clips[0]!.media).toBe('one a.mov');
  });

  it('adds up what is shown at the same time, and says where it peaks and from which layers', () => {
    const parsed = parseTimeline(
      timeline(track('V1', [clip('one', 250), clip('two', 250)]), track('V2', [gap(125), clip('title', 250)])),
    );
    const { curve, stretches } = timelineDemand(parsed, (one) => (one.name === 'title' ? 50 : 100));
    expect(curve).toEqual({ seconds: [0, 5, 10, 15, 20], bytes: [0, 500, 1250, 2000, 2500] });
    const [peak] = peaksOf(stretches, 1);
    expect(peak).toMatchObject({ fromSeconds: 5, toSeconds: 10, bytesPerSecond: 150 });
    expect(peak!.layers.map((one) => one.name)).toEqual(['one', 'title']);
  });

  it('follows nesting, trims, speed and transitions', () => {
    const nested = {
      OTIO_SCHEMA: 'Stack.1',
      source_range: range(50, 100),
      children: [track('inner', [clip('deep', 500)])],
    };
    const { clips } = parseTimeline(timeline(track('V1', [gap(25), nested])));
    expect(clips).toMatchObject([{ name: 'deep', fromSeconds: 1, toSeconds: 5 }]);

    const fast = clip('fast', 50, { effects: [{ OTIO_SCHEMA: 'LinearTimeWarp.1', time_scalar: 4 }] });
    const sped = parseTimeline(timeline(track('V1', [fast])));
    expect(timelineDemand(sped, () => 100).curve.bytes.at(-1)).toBe(800);

    const dissolve = { OTIO_SCHEMA: 'Transition.1', in_offset: time(25), out_offset: time(25) };
    const mixed = parseTimeline(timeline(track('V1', [clip('a', 250), dissolve, clip('b', 250)])));
    expect(mixed.clips.map((one) => [one.fromSeconds, one.toSeconds])).toEqual([
      [0, 11],
      [9, 20],
    ]);
  });

  it('takes the length of its media where a clip has no range', () => {
    const whole = clip('whole', 0, { source_range: null });
    whole.media_references.DEFAULT_MEDIA = {
      ...whole.media_references.DEFAULT_MEDIA,
      ...{ available_range: range(0, 75) },
    };
    expect(parseTimeline(timeline(track('V1', [whole]))).durationSeconds).toBe(3);
  });

  it.each([
    ['', /is not JSON/],
    ['{"a":1}', /no OTIO_SCHEMA/],
    ['{"OTIO_SCHEMA":"Timeline.1"}', /tracks: is missing/],
    [timeline(), /has no clips/],
    [
      timeline(track('V1', [clip('x', 0, { source_range: { duration: { value: 'ten', rate: 25 } } })])),
      /children\[0\]\.children\[0\]\.source_range\.duration: is no time/,
    ],
    [timeline(track('V1', [clip('x', 0, { source_range: null })])), /neither a source range nor media/],
  ])('says what is wrong and where: %#', (text, message) => {
    expect(() => parseTimeline(text)).toThrow(message);
  });
});
