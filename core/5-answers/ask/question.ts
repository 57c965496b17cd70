import { layoutById } from '#core/2-trade/media/data-rate.ts';
import { readFormatText } from '#core/2-trade/media/format-text.ts';
import { UNCOMPRESSED } from '#core/2-trade/media/pixel-layouts.ts';
import { badInput } from '#core/1-ground/problem.ts';
import { capitalized, countText } from '#core/1-ground/words.ts';
import type { FieldErrors, FieldTexts } from '#core/1-ground/fields/field.ts';
import { bytesText, formatDuration, rateText } from '#core/1-ground/units/format.ts';
import type { Essence } from '#core/3-jobs/demand/essences/registry.ts';
import { demandOf } from '#core/3-jobs/demand/footage/footage-demand.ts';
import { demandsOf, type Item } from '#core/3-jobs/demand/items.ts';
import { FROM_MATERIAL, NEW_FOOTAGE, readFootage } from '#core/3-jobs/demand/footage/footage-form.ts';
import type { FootageItem } from '#core/3-jobs/demand/footage/footage-item.ts';
import { loadQuestion, simulateQuestion, versionsText } from '#core/5-answers/ask/other-questions.ts';
import type { QuestionTexts } from '#core/5-answers/ask/question-texts.ts';
import { lengthInSeconds } from '#core/5-answers/ask/sorted-question.ts';
import type { Demand } from '#core/3-jobs/demand/demand.ts';
import { WORKLOAD_VERSION, type Workload } from '#core/3-jobs/demand/workload.ts';
import { jobOf, untilDecidedKind, untilDecidedOptionsSchema } from '#core/3-jobs/recipes/until-decided.ts';
import { typedRate } from '#core/3-jobs/demand/essences/own.ts';
import { roomBytes, type Space } from '#core/4-runs/supply/room.ts';
import type { JudgedItem } from '#core/5-answers/verdict/judge-workload.ts';
import { betweenText } from '#core/5-answers/verdict/sentences.ts';
import type { VerdictReason } from '#core/5-answers/verdict/verdict.ts';

/** Names of the fields of {@link QuestionTexts} by those of the form that reads them. */
const FIELD_OF: Record<string, keyof QuestionTexts> = {
  format: 'what',
  takeLength: 'length',
  takes: 'takes',
  between: 'between',
  gap: 'gap',
  buffer: 'buffer',
};

export interface ReadQuestion {
  /** Null while anything is at fault. */
  workload: Workload | null;
  errors: Partial<Record<keyof QuestionTexts, string>>;
  /** What was taken to be meant, each as a sentence. */
  assumed: string[];
  /** Where a format can be meant in two ways, both of them. */
  either: EitherWay | null;
}

/**
 * A question as the workload that it asks about; all faults at once.
 * @param material what was read from real material, where that is what is asked about
 */
export function readQuestion(question: QuestionTexts, material: Essence | null = null): ReadQuestion {
  if (question.action === 'simulate' || question.action === 'load') {
    const { item, errors } = (question.action === 'simulate' ? simulateQuestion : loadQuestion).read(question);
    if (item === null) return { workload: null, errors, assumed: [], either: null };
    return { workload: workloadOf(item), errors: {}, assumed: assumedOf(item, question), either: null };
  }
  const texts: FieldTexts = {
    ...NEW_FOOTAGE.texts,
    format: question.what,
    takeLength: lengthInSeconds(question.length, question.what),
    takes: question.takes,
    between: question.between,
    gap: question.gap,
    buffer: question.buffer,
  };
  const byRate = material ? null : typedRate(question.what);
  const essence = material ?? byRate?.essence ?? null;
  const form = essence ? FROM_MATERIAL : NEW_FOOTAGE.form;
  const streams = String(byRate?.streams ?? 1);
  const { item, errors } = readFootage(
    { action: question.action, form, texts: { ...texts, streams } },
    'asked',
    essence,
  );
  if (item === null) return { workload: null, errors: named(errors), assumed: [], either: null };
  const either = eitherWay(item, question.what);
  return { workload: workloadOf(item), errors: {}, assumed: assumptionsOf(either, question), either };
}

/** The same where nothing can be mended as it is typed. @throws Problem `bad-input` with the first fault */
export function askedWorkload(
  question: QuestionTexts,
  material: Essence | null = null,
): { workload: Workload; assumed: string[] } {
  const { workload, errors, assumed } = readQuestion(question, material);
  if (workload) return { workload, assumed };
  const [where, fault] = Object.entries(errors)[0] ?? ['what', 'what: cannot be read.'];
  throw badInput(where, fault);
}

const workloadOf = (item: Item): Workload => ({
  tavrox: WORKLOAD_VERSION,
  id: 'question',
  name: item.name.slice(0, 120),
  note: '',
  example: false,
  items: [item],
});

function assumedOf(item: Item, question: QuestionTexts): string[] {
  if (item.kind === 'series') return simulateQuestion.assumed(item, question);
  return item.kind === 'load' ? loadQuestion.assumed(item, question) : [];
}

function named(errors: FieldErrors): ReadQuestion['errors'] {
  return Object.fromEntries(Object.entries(errors).map(([option, fault]) => [FIELD_OF[option] ?? 'what', fault]));
}

/** A format that can be meant as it is or coded, with what each comes to. */
export interface EitherWay {
  plainText: string;
  codedText: string;
  /** What is typed for each. */
  plain: string;
  coded: string;
}

/** A rate at which a camera may code what is named by its samples: megabits a second of one stream. */
const USUAL_MEGABITS = 200;

/** What a typed format leaves open; null where it says which is meant. */
function eitherWay(item: FootageItem, what: string): EitherWay | null {
  const { essence } = item;
  if (essence.kind !== 'picture' || (essence.ratio ?? 1) > 1) return null;
  const { label } = layoutById(essence.layoutId);
  if (!label.endsWith(UNCOMPRESSED) || /\buncompressed\b|\bv210\b|\btiff?s?\b/i.test(what)) return null;
  const coded = (USUAL_MEGABITS * 1e6 * item.streams) / 8;
  return {
    plain: `${what.trim()} uncompressed`,
    coded: `${what.trim()} ${USUAL_MEGABITS} Mb/s`,
    plainText: `uncompressed, ${rateText(demandOf(item).bytesPerSecond)}`,
    codedText: `coded, at ${USUAL_MEGABITS} Mb/s ${rateText(coded)}`,
  };
}

/** What is taken where a format leaves it open: that which asks for more. */
function assumptionsOf(either: EitherWay | null, { what }: QuestionTexts): string[] {
  return [
    ...(either
      ? [
          `It is taken as ${either.plainText}: a camera that codes it writes far less. Name the codec, or its rate such as ${USUAL_MEGABITS} Mb/s.`,
        ]
      : []),
    ...readFormatText(what).assumed,
  ];
}

/** “Can Petrel 2T record three streams of … for 40 min, four takes, each taken off before the next?” */
export function questionText(drive: string, { items }: Workload): string {
  const [item] = items;
  if (items.length !== 1 || !item) return `Can ${drive} carry the whole workload?`;
  if (item.kind === 'series') return `Can ${drive} ${simulateQuestion.text(item)}?`;
  if (item.kind === 'load') return `Can ${drive} ${loadQuestion.text(item)}?`;
  const first = demandOf(item);
  const act = first.direction === 'write' ? 'record' : 'play';
  const streams = first.streams > 1 ? `${countText(first.streams)} streams of ` : '';
  const takes =
    first.direction === 'write' && first.takes > 1 ? `, ${countText(first.takes)} takes, ${betweenText(first)}` : '';
  return `Can ${drive} ${act} ${streams}${first.formatText} for ${formatDuration(first.takeSeconds)}${takes}?`;
}

/**
 * “Of this 43 min fit in the 1.43 TB that can be used; 29 GB more are free and stay so.” Where the verdict says already
 * that it becomes full, only what stays free. Null for what is not recorded, and where it has no one length.
 */
export function fitsText(
  { items }: Pick<Workload, 'items'>,
  judged: readonly JudgedItem[],
  space: Space | null,
): string | null {
  const [only, ...more] = judged;
  if (!only || items.length !== 1 || space === null) return null;
  const room = roomBytes(space);
  if (items[0]!.kind === 'series') return versionsText(items[0]!, room);
  if (more.length > 0) return null;
  const { direction, curve, bytesPerSecond } = only.demand;
  if (direction !== 'write' || curve !== null) return null;
  const stay = `${bytesText(space.freeBytes - room)} more are free and stay so.`;
  if (only.verdict.reason === 'full') return capitalized(stay);
  const seconds = room / bytesPerSecond;
  if (seconds < 1) return `None of it fits in the ${bytesText(room)} that can be used; ${stay}`;
  return `Of this ${formatDuration(seconds)} fit in the ${bytesText(room)} that can be used; ${stay}`;
}

/** Why a volume cannot be asked about what is to be written; null where it can. */
export function whyNotAsked(volume: { label: string; readOnly: boolean }, { items }: Workload): string | null {
  const isWritten = items.flatMap(demandsOf).some(({ direction }) => direction === 'write');
  if (!volume.readOnly || !isWritten) return null;
  return `${volume.label} is mounted read-only: nothing can be recorded on it. Mount it writable, choose another volume, or ask about playing.`;
}

/** What a run that decides demands takes at most, before it is started. @param roomBytes 0 where nothing may be written */
export function costOfDeciding(
  demands: readonly Demand[],
  roomBytes: number,
  { mostSeconds, mostBytes }: { mostSeconds: number; mostBytes: number | null },
): string {
  const options = untilDecidedOptionsSchema.cast({ jobs: demands.map(jobOf), mostSeconds, mostBytes });
  const knowledge = { writeBytesPerSecond: null, readBytesPerSecond: null, roomBytes };
  const writtenBytes = untilDecidedKind.cost(options, knowledge).writtenBytes ?? 0;
  const written = bytesText(writtenBytes);
  const time = `for ${formatDuration(mostSeconds)} at most`;
  const isPlayed = demands.every(({ direction }) => direction === 'read');
  if (isPlayed && writtenBytes === 0) return `reads material that lies there, ${time}`;
  return isPlayed
    ? `reads material that lies there, or writes ${written} first where there is too little, ${time}`
    : `writes ${written} at most, ${time}`;
}

/** The same on a volume: nothing is written where nothing may be, and all of it where nothing else is kept. */
export function costOfDecidingOn(
  volume: Space & { readOnly: boolean },
  demands: readonly Demand[],
  { mostSeconds, mostBytes }: { mostSeconds: number; mostBytes: number | null },
): string {
  const room = volume.readOnly ? 0 : roomBytes(volume);
  return costOfDeciding(demands, room, { mostSeconds, mostBytes: mostBytes ?? (volume.usesAll ? room : null) });
}

/** What is taken of a drive that is asked about as on its box. */
export const TAKEN_EMPTY = 'It is taken to be empty, and nothing is measured on it now.';

/** Reasons for *Not proven* that more writing or reading at full speed can settle. */
const SETTLED_BY_MORE: readonly VerdictReason[] = ['no-run', 'too-short', 'later-takes', 'doubtful', 'worst-moment'];

/** What of a judged workload a run until it is decided may decide. */
export const openDemands = (judged: readonly JudgedItem[]): Demand[] =>
  judged
    .filter(({ verdict }) => verdict.verdict === 'not-proven' && SETTLED_BY_MORE.includes(verdict.reason))
    .map(({ demand }) => demand);

/** A sentence that stands after the answer, for what it rests on. */
export const assumedText = (assumed: readonly string[]): string => assumed.map(capitalized).join(' ');
