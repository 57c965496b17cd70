import { withColon } from '#core/1-ground/words.ts';

/**
 * Lines of a plan as people say them become the lines that are read: “2 TB per day for 18 days” is “2 TB a day, days 1–18”.
 * Nothing is taken away or guessed here: words are only put in their place, and what cannot be read is still refused.
 */

const TIME = String.raw`\d+(?:[.,]\d+)?\s*(?:h(?:ours?|rs?)?|min(?:ute)?s?|s(?:ec(?:ond)?s?)?)(?:\s*\d+\s*(?:min(?:ute)?s?|m|s))?`;
const DAY_RANGE = String.raw`(?:days?|weeks?)\s+\d+(?:\s*(?:–|-|to)\s*(?:day\s+|week\s+)?\d+)?`;

/** Days said in other words. */
const withDays = (text: string): string =>
  text
    .replaceAll(/\bfrom\s+(day|week)\s+(\d+)\s*(?:–|-|to|until)\s*(?:day\s+|week\s+)?(\d+)/gi, '$1s $2–$3')
    .replaceAll(/\b(days?|weeks?)\s+(\d+)\s*(?:–|-|to)\s*(?:day|week)\s+(\d+)/gi, '$1 $2–$3')
    .replaceAll(/\b(?:until|up\s+to|through)\s+day\s+(\d+)/gi, 'days 1–$1')
    .replaceAll(/\bon\s+(?=day\s+\d)/gi, '');

/** A material: its name, its amount, and when it comes. */
export function materialAsSaid(line: string): string {
  const text = withDays(withColon(line, String.raw`\d`));
  const colon = text.indexOf(':') + 1;
  const rest = text
    .slice(colon)
    // So many days a week.
    .replace(/\s+once\s+a\s+week\b/i, ' a day, 1 day a week')
    .replace(/\s+twice\s+a\s+week\b/i, ' a day, 2 days a week')
    .replace(/\s+(\d)\s+times\s+a\s+week\b/i, ' a day, $1 days a week')
    // “…, 6 hours a day” belongs to the format before it.
    .replace(
      new RegExp(
        String.raw`^([^,×*]*[^,×*\s])\s*,\s*(${TIME})(?=\s+(?:a|per|each|every)\s|\s*\/\s*day|\s+daily|\s*(?:,|$))`,
        'i',
      ),
      '$1 × $2',
    )
    // “for 18 days” and “18 days” begin on the first.
    .replace(
      /(^|[\s,])(?:for\s+)?(\d+)\s+(days?|weeks?)(?=\s*(?:,|$))/gi,
      (all, before: string, count: string, unit: string, at: number, whole: string) =>
        /(?:keep|kept|away|second copy)(?:\s+for)?\s*$/i.test(whole.slice(0, at + before.length))
          ? all
          : `${before}, ${unit.toLowerCase().startsWith('w') ? 'weeks' : 'days'} 1–${count}`,
    )
    // What stands behind an amount without a comma.
    .replaceAll(new RegExp(String.raw`(?<=[^\s,])\s+(?=(?:${DAY_RANGE}|during\s)\b)`, 'gi'), ', ')
    .replaceAll(/(?:\s*,)+/g, ',');
  return text.slice(0, colon) + rest;
}

/** A part of a project: its name and its days. */
export const partAsSaid = (line: string): string =>
  withDays(withColon(line, String.raw`(?:days?|weeks?)\s+\d|\d+\s+(?:days?|weeks?)\b`)).replace(
    /\bmon(?:day)?\s*(?:–|-|to)\s*(fri|sat|sun)(?:day|urday)?\b/i,
    (_all, last: string) => `${{ fri: 5, sat: 6, sun: 7 }[last.toLowerCase()]!} days a week`,
  );

/** An amount whose time stands behind its format without a sign between: “UHD ProRes 422 25p 6 h”. */
export const amountAsSaid = (text: string): string =>
  text.replace(
    new RegExp(String.raw`^(.*[a-z\d/]{2})\s+(?:for\s+)?(${TIME})\s*$`, 'i'),
    (all, head: string, time: string) =>
      /[×*]\s*\S*$|\sx\s*$/.test(head) || /^\d+(?:[.,]\d+)?$/.test(head.trim()) ? all : `${head} × ${time}`,
  );
