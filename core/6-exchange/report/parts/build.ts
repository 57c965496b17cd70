import { bytesText, formatNumber } from '#core/1-ground/units/format.ts';
import { parseBuildCode } from '#core/5-answers/sizing/builds.ts';
import { dayText } from '#core/5-answers/sizing/calendar.ts';
import { explainBuild, type ExplainedBuild } from '#core/5-answers/sizing/explain.ts';
import { fillTimeline, materialLine, materialsOn } from '#core/5-answers/sizing/material.ts';
import type { Sizing } from '#core/5-answers/sizing/project.ts';
import { searchBasis } from '#core/5-answers/sizing/search-basis.ts';
import { shoppingList, type ShoppingLine } from '#core/5-answers/sizing/shopping.ts';
import { STORE_WORDS, type StoreId } from '#core/5-answers/sizing/stores.ts';
import type { ReportBasis } from '#core/6-exchange/report/basis.ts';
import { plain, type PartContent, type ReportFigure, type Words } from '#core/6-exchange/report/blocks.ts';
import { curveDrawing } from '#core/6-exchange/report/drawings/curve-drawing.ts';
import type { Drawing } from '#core/6-exchange/report/drawings/drawing.ts';
import type { PartOf } from '#core/6-exchange/report/report.ts';

interface SeenBuild {
  explained: ExplainedBuild;
  shopping: ShoppingLine[];
}

/** What was worked out of a project: whoever moves parts of a report does not wait for it again. */
const seen = new WeakMap<Sizing, Map<string, SeenBuild>>();

function seenBuild(sizing: Sizing, store: StoreId, code: string): SeenBuild {
  const known = seen.get(sizing) ?? new Map<string, SeenBuild>();
  seen.set(sizing, known);
  const key = `${store} ${code}`;
  const found = known.get(key);
  if (found) return found;
  const basis = searchBasis(sizing, store);
  const build = parseBuildCode(code, basis.sizing);
  const made = { explained: explainBuild(basis, build), shopping: shoppingList(basis.sizing, build) };
  known.set(key, made);
  return made;
}

/** A build of a project: what it is and does, how full it becomes, and what has to be bought. */
export function buildPart({ projectId, store, code }: PartOf<'build'>, basis: ReportBasis): PartContent {
  const sizing = basis.sizing(projectId);
  const { explained, shopping } = seenBuild(sizing, store, code);
  const { currency } = sizing;
  const whole = (value: number) => formatNumber(value, 'full');
  const title = `${store === 'working' ? 'What to buy' : `What to buy, ${STORE_WORDS[store].toLowerCase()}`}: ${explained.drivesText}`;
  const of = `${sizing.name}, ${STORE_WORDS[store].toLowerCase()}: ${explained.name}`;
  return {
    title,
    blocks: [
      { kind: 'heading', text: `${sizing.name}: ${explained.name}` },
      ...explained.sentences.map((sentence) => ({ kind: 'words' as const, words: plain(sentence) })),
      { kind: 'drawing', drawing: fillDrawing(sizing, store, explained) },
      {
        kind: 'table',
        columns: [
          { name: 'To buy', weight: 3 },
          ...['needed', 'there', 'to buy', 'each', `in all, ${currency}`].map((name) => ({ name, isNumber: true })),
        ],
        rows: [
          ...shopping.map(({ what, count, there, price, sum }): Words[] => [
            { text: what },
            { text: whole(count) },
            { text: there > 0 ? whole(there) : '–' },
            { text: whole(count - there) },
            { text: whole(price) },
            { text: whole(sum) },
          ]),
          [
            { text: 'Together', isBold: true },
            ...['', '', '', ''].map((text) => ({ text })),
            { text: whole(explained.cost), isBold: true },
          ],
        ],
      },
      {
        kind: 'words',
        words: [{ text: 'The plan: ', isBold: true }, { text: `${sizing.materials.map(materialLine).join('; ')}.` }],
      },
    ],
    figures: [
      { of, name: 'cost', value: explained.cost, unit: currency },
      { of, name: 'usable', value: explained.usableBytes, unit: 'B' },
      { of, name: 'margin', value: explained.margin, unit: 'share' },
      { of, name: 'failed drives it survives', value: explained.mayFail, unit: '' },
      { of, name: 'full on day', value: explained.fullOnDay, unit: '' },
      { of, name: 'writes on at', value: explained.writeBytesPerSecond, unit: 'B/s' },
      { of, name: 'reads on at', value: explained.readBytesPerSecond, unit: 'B/s' },
      { of, name: 'writes on with a drive gone', value: explained.degradedBytesPerSecond, unit: 'B/s' },
      ...shopping.flatMap(({ what, count, there, price, sum }): ReportFigure[] => [
        { of, name: `${what}: to buy`, value: count - there, unit: '' },
        { of, name: `${what}: each`, value: price, unit: currency },
        { of, name: `${what}: in all`, value: sum, unit: currency },
      ]),
    ],
  };
}

function fillDrawing(sizing: Sizing, store: StoreId, { usableBytes, drivesText, fullOnDay }: ExplainedBuild): Drawing {
  const { total, peakDay, peakBytes } = fillTimeline(
    materialsOn(store, sizing.materials),
    sizing.days,
    sizing.policy.growthShare,
  );
  const unit = sizing.units === 'binary' ? { bytes: 1024 ** 4, name: 'TiB' } : { bytes: 1e12, name: 'TB' };
  return curveDrawing(
    [
      {
        x: [...total.keys(), total.length],
        y: [...total, total.at(-1) ?? 0].map((bytes) => bytes / unit.bytes),
        ink: 'second',
        isStepped: true,
        isFilled: true,
      },
    ],
    [
      {
        at: usableBytes / unit.bytes,
        name: `${bytesText(usableBytes, 'picture', sizing.units)} usable`,
        ink: fullOnDay === null ? 'holds' : 'breaks',
      },
    ],
    { across: 'days of the project', up: unit.name },
    `What lies there over ${sizing.days} days: ${bytesText(peakBytes, 'picture', sizing.units)} on ${dayText(peakDay, sizing.startsOn)}; ${drivesText} hold ${bytesText(usableBytes, 'picture', sizing.units)}.`,
  );
}
