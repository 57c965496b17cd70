import type { QuestionTexts } from '#core/5-answers/ask/question-texts.ts';
import { readFormatText } from '#core/2-trade/media/format-text.ts';
import { framesPerSecond } from '#core/1-ground/units/frame-rate.ts';
import { parseNumber } from '#core/1-ground/units/quantity.ts';
import { NUMBER_WORDS, numberSaid, take } from '#core/1-ground/words.ts';

/**
 * People say a question in one go: “play four streams of ProRes Proxy 1080p25 for 3 h”. What of it belongs to another part
 * of the question is found here, so that it can stand there.
 */
export interface SortedWhat {
  /** What is left: the format, with its streams. */
  what: string;
  length: string | null;
  takes: string | null;
  action: 'record' | 'play' | null;
}

const SPAN = String.raw`\d+(?:[.,]\d+)?\s*(?:h(?:ours?|rs?)?|min(?:ute)?s?|s(?:ec(?:ond)?s?)?|days?)(?![\w/])(?:\s*(?:and\s+)?\d+\s*(?:m(?:in(?:ute)?s?)?|s(?:ec(?:ond)?s?)?)(?![\w/]))*`;
/** “1h20” and “1 h 20”, with nothing behind it that the minutes could belong to. */
const SHORT_SPAN = String.raw`\d+h\d{1,2}(?:m|min)?|\d+\s+h\s+[0-5]\d(?=\s*(?:$|[,;]|each|long|(?:a|per)\s+take))`;
/** Ratios such as 12:1 have one digit behind the colon, and sampling such as 4:2:2 too. */
const CLOCK = String.raw`\d{1,3}:[0-5]\d(?::[0-5]\d)?(?:\s*h(?:ours?)?)?`;
const FRAMES = String.raw`\d[\d,]*\s*frames?(?!\s*(?:a|per|\/)\b)`;
const LENGTH = new RegExp(
  String.raw`(?<=^|[\s,;])(?:(?:for|of|lasting|long)\s+)?(${SHORT_SPAN}|${SPAN}|${CLOCK}|${FRAMES})(?:\s+(?:each|long|(?:a|per)\s+take))?(?=$|[\s,;])`,
  'gi',
);
const TAKES = new RegExp(
  String.raw`(?<=^|[\s,;])(?:in\s+)?(\d{1,5}|${NUMBER_WORDS.slice(1).join('|')})\s+takes?(?:\s+of)?(?=$|[\s,;])`,
  'i',
);
const PLAY = /(?<=^|[\s,;])(?:play(?:s|ing|back)?(?:\s+(?:back|out))?|reading|reads?)(?=$|[\s,;])/i;
const RECORD = /(?<=^|[\s,;])(?:record(?:s|ing)?|captur(?:e|es|ing)|shoot(?:s|ing)?|writing|writes?)(?=$|[\s,;])/i;

/** What a typed format says beside the format. Two lengths are left where they stand, for nobody knows which is meant. */
export function sortedWhat(typed: string): SortedWhat {
  const text = { rest: typed };
  const takes = take(text, TAKES)?.[1];
  const lengths = [...text.rest.matchAll(LENGTH)];
  const length = lengths.length === 1 ? lengths[0]![1]! : null;
  if (length !== null) text.rest = text.rest.replace(LENGTH, ' ');
  const [plays, records] = [PLAY.test(text.rest), RECORD.test(text.rest)];
  const action = plays === records ? null : plays ? 'play' : 'record';
  if (action !== null) take(text, action === 'play' ? PLAY : RECORD);
  return {
    // A comma that parted what went elsewhere parts nothing any more.
    what: text.rest
      .replaceAll(/\s+/g, ' ')
      .replaceAll(/(?:\s*[,;])+\s*$|^\s*(?:[,;]\s*)+/g, '')
      .trim(),
    length,
    takes: takes === undefined ? null : String(numberSaid(takes)),
    action,
  };
}

/** Of a simulation: what is left is its frame. */
export interface SortedFrame {
  frame: string;
  frames: string | null;
  compute: string | null;
}

const RANGE = String.raw`\d[\d,]*(?:\s*[–-]\s*\d+)?`;
const FRAMES_OF = new RegExp(String.raw`^\s*(?:frames\s+(${RANGE})|(${RANGE})\s*frames?)\s*(?:of|at|[x×*,])?\s+`, 'i');
const THEN_FRAMES = new RegExp(
  String.raw`[\s,;]+(?:for\s+)?(?:frames\s+(${RANGE})|(${RANGE})\s*frames?)(?=\s*(?:$|[,;]))`,
  'i',
);
const COMPUTED = new RegExp(
  String.raw`[\s,;]+(?:each\s+)?(?:computed\s+in|computing|takes?)\s+(${SPAN})(?:\s+(?:each|a\s+frame|per\s+frame))?(?=\s*(?:$|[,;]))|[\s,;]+(${SPAN})\s+(?:each|a\s+frame|per\s+frame|computing|of\s+computing)(?=\s*(?:$|[,;]))`,
  'i',
);

/** What is typed of a simulation in one go: “240 frames of 1.03 GB, 11 s each”. */
export function sortedFrame(typed: string): SortedFrame {
  const text = { rest: typed };
  const said = (match: RegExpExecArray | null): string | null => match && (match[1] ?? match[2]!);
  const compute = said(take(text, COMPUTED));
  const frames = said(take(text, FRAMES_OF) ?? take(text, THEN_FRAMES));
  return { frame: text.rest.trim(), frames, compute };
}

/** A question with each of its parts where it belongs; what was typed last, in one go, counts. */
export function sortedQuestion(question: QuestionTexts): QuestionTexts {
  if (question.action === 'load') return question;
  if (question.action === 'simulate') {
    const { frame, frames, compute } = sortedFrame(question.frame);
    return { ...question, frame, frames: frames ?? question.frames, compute: compute ?? question.compute };
  }
  const { what, length, takes, action } = sortedWhat(question.what);
  return {
    ...question,
    what,
    length: length ?? question.length,
    takes: takes ?? question.takes,
    action: action ?? question.action,
  };
}

/** A length that was typed as frames in seconds, where the format says how many there are in one; else as it was typed. */
export function lengthInSeconds(length: string, what: string): string {
  const frames = /^(\d[\d,]*)\s*frames?$/i.exec(length.trim());
  const rate = frames && readFormatText(what).frameRate;
  return rate ? `${parseNumber(frames[1]!, 'length') / framesPerSecond(rate)} s` : length;
}
