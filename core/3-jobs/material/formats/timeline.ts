import { isClip, isSound } from '#core/3-jobs/material/formats/clip.ts';
import { extensionOf, type MaterialFile, type MaterialFormat } from '#core/3-jobs/material/formats/material-format.ts';
import { frameRateNear, type MaterialRates } from '#core/3-jobs/material/sample-rates.ts';
import { sequenceRates, sequencesOf } from '#core/3-jobs/material/sequence.ts';
import { mediaKey, parseTimeline } from '#core/3-jobs/material/timeline.ts';
import type { FrameRate } from '#core/1-ground/units/frame-rate.ts';

const isTimeline = ({ path }: MaterialFile): boolean => extensionOf(path) === 'otio';

/** OpenTimelineIO, with or without the clips, sequences and sound that it is cut from. */
export const timelineFormat: MaterialFormat = {
  words: 'an OpenTimelineIO file with or without its media',
  accepts: (files) => files.some(isTimeline),
  async read(files, otherFrameRate) {
    const file = files.find(isTimeline)!;
    const timeline = parseTimeline(await file.text(), file.name);
    // Media by what their names have in common with their files; a sequence has the rate that the timeline tells.
    const wanted = new Map<string, { media: string; frameRate: FrameRate }>();
    for (const { media, mediaFramesPerSecond } of timeline.clips) {
      const perSecond = mediaFramesPerSecond ?? timeline.framesPerSecond;
      const frameRate = perSecond === null ? otherFrameRate : frameRateNear(perSecond);
      if (!wanted.has(mediaKey(media))) wanted.set(mediaKey(media), { media, frameRate });
    }
    const given: Record<string, MaterialRates> = {};
    const unused: string[] = [];
    const others = files.filter((one) => one !== file);
    const containers = others.filter((one) => isClip(one) || isSound(one));
    for (const one of containers) {
      const use = wanted.get(mediaKey(one.name));
      if (use) given[use.media] = (await one.clip()).rates;
      else unused.push(one.name);
    }
    const rest = others.filter((one) => !containers.includes(one));
    const sequences = sequencesOf(rest.map(({ path, bytes }) => ({ name: path, bytes })));
    for (const sequence of sequences) {
      const use = wanted.get(mediaKey(sequence.pattern));
      if (use) given[use.media] = sequenceRates(sequence, use.frameRate);
      else unused.push(sequence.pattern);
    }
    const numbered = sequences.reduce((sum, sequence) => sum + sequence.files.length, 0);
    if (rest.length > numbered)
      unused.push(rest.length - numbered === 1 ? 'one other file' : `${rest.length - numbered} other files`);
    return { kind: 'timeline', edit: { timeline, given, unused } };
  },
};
