import { isClip } from '#core/material/formats/clip.ts';
import { extensionOf, type MaterialFile, type MaterialFormat } from '#core/material/formats/material-format.ts';
import type { MaterialRates } from '#core/material/sample-rates.ts';
import { parseTimeline } from '#core/material/timeline.ts';

const isTimeline = ({ path }: MaterialFile): boolean => extensionOf(path) === 'otio';

/** OpenTimelineIO, with or without the clips that it is cut from. */
export const timelineFormat: MaterialFormat = {
  words: 'an OpenTimelineIO file with or without its clips',
  accepts: (files) => files.some(isTimeline),
  async read(files) {
    const file = files.find(isTimeline)!;
    const clips: Record<string, MaterialRates> = {};
    for (const one of files.filter(isClip)) clips[one.name] = (await one.clip()).rates;
    return { kind: 'timeline', timeline: parseTimeline(await file.text(), file.name), clips };
  },
};
