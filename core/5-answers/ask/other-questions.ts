import { Problem } from '#core/1-ground/problem.ts';
import { capitalized } from '#core/1-ground/words.ts';
import type { FieldErrors } from '#core/1-ground/fields/field.ts';
import type { Item } from '#core/3-jobs/demand/items.ts';
import { loadForm } from '#core/3-jobs/demand/loads/load-form.ts';
import { frameSizes, sumOf } from '#core/3-jobs/demand/series/frame-bytes.ts';
import { seriesForm } from '#core/3-jobs/demand/series/series-form.ts';
import { gridText, readTypedGrid, type TypedGrid } from '#core/3-jobs/demand/series/typed-grid.ts';
import type { LoadItem } from '#core/3-jobs/demand/loads/load-item.ts';
import type { SeriesItem } from '#core/3-jobs/demand/series/series-item.ts';
import { phaseBytes, type Phase } from '#core/3-jobs/demand/loads/load-item.ts';
import { blockText, bytesText, count, formatDuration, formatShare, rateText } from '#core/1-ground/units/format.ts';
import type { QuestionTexts } from '#core/5-answers/ask/question-texts.ts';

/** Questions about simulations and loads, which are asked about in words of their own. */
interface OtherQuestion<Kind extends Item> {
  read(question: QuestionTexts): { item: Kind | null; errors: Partial<Record<keyof QuestionTexts, string>> };
  /** What is taken where the question does not say it, each as a sentence. */
  assumed(item: Kind, question: QuestionTexts): string[];
  /** What follows “Can Petrel 2T”. */
  text(item: Kind): string;
}

const ID = 'asked';

/** Faults at the fields of the question by the fields of the form that found them. */
function at<Part extends keyof QuestionTexts>(errors: FieldErrors, fieldOf: Record<string, Part>, other: Part) {
  return Object.fromEntries(Object.entries(errors).map(([option, fault]) => [fieldOf[option] ?? other, fault]));
}

/** “240 frames” and “240” are the same. */
const withoutFrames = (text: string): string => text.trim().replace(/\s*frames?$/i, '');

/** A frame by its grid, or what is wrong with it; null for what is none. */
function gridOf(text: string): TypedGrid | Problem | null {
  try {
    return readTypedGrid(text);
  } catch (error) {
    if (error instanceof Problem) return error;
    throw error;
  }
}

/** A cache series whose frames are of one size, told by its bytes or by its grid; it is not played. */
export const simulateQuestion: OtherQuestion<SeriesItem> = {
  read({ frame, frames, compute }) {
    const size = frame.trim().replace(/\s*(?:a|per) frame$/i, '');
    if (size === '')
      return {
        item: null,
        errors: { frame: 'frame: say how large a frame is, such as 1.03 GB, or its grid, such as 480*360*280.' },
      };
    const grid = gridOf(size);
    if (grid instanceof Problem) return { item: null, errors: { frame: grid.detail } };
    const sized = grid ? { size: '', ...grid.texts } : { size };
    const texts = { ...seriesForm.start, ...sized, frames: withoutFrames(frames), compute, playback: '' };
    const { item, errors } = seriesForm.read(texts, ID, null);
    return { item, errors: at(errors, { size: 'frame', frames: 'frames', compute: 'compute' }, 'frame') };
  },
  assumed({ frames, mostDriveShare, queueFrames, versions }, { frame }) {
    const waits =
      queueFrames === 0 ? 'the program waits until each frame is written' : 'frames are written in the background';
    const taken = readTypedGrid(frame)?.isAssumed ?? false;
    return [
      ...(frames.kind === 'grid'
        ? [
            taken
              ? `It is taken that ${gridText(frames)}. Type what it keeps, such as 480*360*280, density, 16 bit, 20 %.`
              : `${capitalized(gridText(frames))}.`,
          ]
        : []),
      `It is taken that ${waits}, that the drive may cost ${formatShare(mostDriveShare)} of the whole time, and that ${versions === 1 ? 'one version is' : `${versions} versions are`} kept.`,
    ];
  },
  text(item) {
    const { frameCount, computeSeconds } = item;
    const size = bytesText(frameSizes(item)[0]!);
    return `simulate ${frameCount} frames of ${size}, each computed in ${formatDuration(computeSeconds[0]!)}`;
  },
};

/** What streams in has its limit from its own pace, unless it is given one that is shorter. */
const ownPace = (item: LoadItem): LoadItem => ({
  ...item,
  phases: item.phases.map((phase) =>
    phase.stream && (phase.limitSeconds ?? 0) > phase.stream.everySeconds ? { ...phase, limitSeconds: null } : phase,
  ),
});

const streamRate = ({ bytes, stream }: Phase): string => rateText(bytes / stream!.everySeconds);

/** One phase of loading, with what it may take. */
export const loadQuestion: OtherQuestion<LoadItem> = {
  read({ load, limit }) {
    const named = load.includes(':') ? load : `Load: ${load}`;
    const within = limit.trim() === '' || /\bwithin\b/.test(named) ? '' : `, within ${limit.trim()}`;
    const { item, errors } = loadForm.read({ ...loadForm.start, phases: `${named}${within}`, name: '' }, ID, null);
    const fault = errors['phases'];
    const isLimit =
      fault !== undefined && loadForm.read({ ...loadForm.start, phases: named, name: '' }, ID, null).item !== null;
    return { item: item && ownPace(item), errors: at(errors, { phases: isLimit ? 'limit' : 'load' }, 'load') };
  },
  assumed({ phases }) {
    const [{ processorSeconds, stream, bytes, limitSeconds }] = phases as [Phase];
    if (stream !== null) {
      const each = formatDuration(limitSeconds ?? stream.everySeconds);
      return [
        `It is taken that it comes in chunks of ${bytesText(bytes)}, each within ${each}, for ${formatDuration(stream.forSeconds)}.`,
      ];
    }
    return processorSeconds === 0
      ? ['It is taken that all of that time is for reading: type what is computed beside it, such as 4 s processor.']
      : [];
  },
  text({ phases }) {
    const [phase] = phases as [Phase];
    const { limitSeconds, requestBytes, parallel, operations, stream } = phase;
    const atOnce = parallel === 1 ? 'one after the other' : `${parallel} at a time`;
    // How it is read decides as much as how much it is, and is seldom typed.
    const requests = `in requests of ${blockText(requestBytes)}, ${atOnce}`;
    if (stream && phases.length === 1) return `stream in ${streamRate(phase)} all the time, ${requests}`;
    const limit = limitSeconds === null ? '' : ` within ${formatDuration(limitSeconds)}`;
    const bytes = bytesText(phases.reduce((sum, one) => sum + phaseBytes(one), 0));
    if (phases.length > 1) return `load ${bytes}${limit}`;
    const files = operations === 0 ? '' : ` of ${count(operations, 'file', 'files')}`;
    return `load ${bytes}${files} ${requests},${limit}`.replace(/,$/, '');
  },
};

/** “41 versions of it fit in …”: what a series comes to is known by its frames. */
export function versionsText(item: SeriesItem, roomBytes: number): string {
  const once = sumOf(frameSizes(item));
  const versions = Math.floor(roomBytes / once);
  const room = `in the ${bytesText(roomBytes)} that can be used`;
  if (versions === 0) return `It comes to ${bytesText(once)}: not one version fits ${room}.`;
  return `It comes to ${bytesText(once)}: ${versions === 1 ? 'one version fits' : `${versions} versions fit`} ${room}.`;
}
