import { array, number, object, string, type InferType } from 'yup';
import { eachLine } from '#core/1-ground/fields/kinds.ts';
import { badInput } from '#core/1-ground/problem.ts';
import { parseCount, parseDuration, parseNumber } from '#core/1-ground/units/quantity.ts';

/** How frames come to the screen: each read when it is shown, read ahead of it, or kept in memory. */
export const PREVIEW_WAYS = ['cold', 'ahead', 'memory'] as const;
export type PreviewWay = (typeof PREVIEW_WAYS)[number];
export const PREVIEW_WORDS: Record<PreviewWay, string> = {
  cold: 'cold',
  ahead: 'reading ahead',
  memory: 'from memory',
};

/** How quick frames of a series were seen to come from a drive. */
export const previewSchema = object({
  /** Of the drive, as its card has it where it has one. */
  label: string().required().max(60),
  framesPerSecond: number().positive().max(1e6).required(),
  way: string().oneOf(PREVIEW_WAYS).required(),
});
export type Preview = InferType<typeof previewSchema>;

const EXAMPLE =
  'Anchor 16T: 14 a second, or Anchor 16T: 240 frames in 17 s; with “reading ahead” or “from memory” at its end';

const PER_SECOND = /^([\d.,]+)\s*(?:fps|(?:frames\s+)?(?:a|per)\s+second|frames\/s|\/s)$/i;
const SPAN = /^([\d.,]+)\s+frames\s+in\s+(.+)$/i;
const WAYS: readonly (readonly [RegExp, PreviewWay])[] = [
  [/[,\s]+(?:read(?:ing)?[\s-]+ahead|ahead)$/i, 'ahead'],
  [/[,\s]+(?:from\s+memory|in\s+memory|warm)$/i, 'memory'],
  [/[,\s]+cold$/i, 'cold'],
];

/**
 * A preview seen on a drive: `Anchor 16T: 14 a second`, `Shuttle: 240 frames in 11.4 s, reading ahead`. Cold where
 * nothing is said of it.
 * @throws Problem `bad-input`
 */
export function parsePreview(line: string): Preview {
  const [label, rest] = line.split(/:(.*)/s) as [string, string | undefined];
  const said = (rest ?? '').trim();
  const [ending, way] = WAYS.find(([pattern]) => pattern.test(said)) ?? [null, 'cold' as const];
  const amount = ending ? said.replace(ending, '') : said;
  const [rate, span] = [PER_SECOND.exec(amount), SPAN.exec(amount)];
  const framesPerSecond = rate
    ? parseNumber(rate[1]!, 'previews')
    : span
      ? parseCount(span[1]!, 'previews') / parseDuration(span[2]!, 'previews')
      : NaN;
  if (label.trim() === '' || !Number.isFinite(framesPerSecond) || !(framesPerSecond > 0)) {
    throw badInput('previews', `previews: “${line.trim()}” is no preview. Type ${EXAMPLE}.`);
  }
  return { label: label.trim(), framesPerSecond, way };
}

const previewLine = ({ label, framesPerSecond, way }: Preview): string =>
  `${label}: ${Number(framesPerSecond.toPrecision(12))} a second${way === 'cold' ? '' : `, ${PREVIEW_WORDS[way]}`}`;

export const previewsSchema = array(previewSchema.required())
  .max(50)
  .optional()
  .default(undefined)
  .meta({ addedLater: true });

/** Previews seen on drives, one a line. */
export const PREVIEWS = eachLine(parsePreview, previewLine);
