import { bytesText, formatDuration, formatNumber, formatShare, orDash } from '#core/1-ground/units/format.ts';
import { takeBytesOf } from '#core/3-jobs/demand/demand.ts';
import { missingParts } from '#core/4-runs/supply/profile.ts';
import { IN_TURN_ID } from '#core/5-answers/verdict/in-turn.ts';
import { answerOf } from '#core/5-answers/verdict/answer.ts';
import { provingWords } from '#core/5-answers/verdict/proving-words.ts';
import { betweenText } from '#core/5-answers/verdict/sentences.ts';
import { VERDICT_INK, verdictName } from '#core/5-answers/verdict/verdict.ts';
import { plain, type PartContent, type ReportFigure, type Words } from '#core/6-exchange/report/blocks.ts';
import type { JudgedQuestion, ReportBasis } from '#core/6-exchange/report/basis.ts';
import type { PartOf } from '#core/6-exchange/report/report.ts';

/** What is taken as given where a question is answered: it belongs into the sentence. */
function assumedText({ headroomShare, roomBytes }: JudgedQuestion): string {
  const room =
    roomBytes === null
      ? 'whether there is room for it was not looked at, for the drive was not attached'
      : `${bytesText(roomBytes)} of room were counted`;
  return `Holds asks for ${formatShare(headroomShare)} of headroom; ${room}.`;
}

/** The question, and its answer in one sentence. */
export function answerPart({ askedId }: PartOf<'answer'>, basis: ReportBasis): PartContent {
  const asked = basis.question(askedId);
  const of = `${asked.workload.name} on ${asked.profile.drive.label}`;
  if (asked.judged.length === 0) {
    const text = `The workload ${asked.workload.name} has no items: there is nothing to answer.`;
    return {
      title: 'Question and answer',
      blocks: [
        { kind: 'question', text: asked.question },
        { kind: 'words', words: plain(text) },
      ],
      figures: [],
    };
  }
  const answer = answerOf(asked.judged);
  return {
    title: 'Question and answer',
    blocks: [
      { kind: 'question', text: asked.question },
      {
        kind: 'lead',
        words: [{ text: answer.lead, isBold: true, ink: VERDICT_INK[answer.verdict] }, { text: ` ${answer.text}` }],
      },
      { kind: 'words', words: [{ text: assumedText(asked), ink: 'second' }] },
    ],
    figures: [
      { of, name: 'answer', value: answer.lead, unit: '' },
      { of, name: 'headroom', value: asked.headroomShare, unit: 'share' },
      { of, name: 'room', value: asked.roomBytes, unit: 'B' },
    ],
  };
}

/** What is left open, each with the run that would prove it, and what is not known of the drive at all. */
export function notProvenPart({ askedId }: PartOf<'not-proven'>, basis: ReportBasis): PartContent {
  const { judged, supply, profile } = basis.question(askedId);
  const open = judged.filter(({ verdict }) => verdict.verdict === 'not-proven');
  const continued = judged.filter(({ verdict }) => verdict.verdict !== 'not-proven' && verdict.continued);
  const items = [
    ...open.map(({ demand, verdict, sentence }) => {
      const proving = verdict.wouldProve ? ` Would prove it: ${provingWords(verdict.wouldProve)}` : '';
      return `${demand.name}: ${sentence}${proving}`;
    }),
    ...continued.map(
      ({ demand, verdict }) =>
        `${demand.name}: the runs show ${bytesText(verdict.provenBytes ?? 0)} themselves; what follows is taken to go on as it ended.`,
    ),
    ...missingParts(supply),
  ];
  return {
    title: 'Not proven, and what would prove it',
    blocks: [
      { kind: 'heading', text: 'What is not proven' },
      items.length === 0
        ? { kind: 'words', words: plain(`Nothing that was asked of ${profile.drive.label} is left open by its runs.`) }
        : { kind: 'list', items },
    ],
    figures: [],
  };
}

/** The verdict on every item. */
export function verdictsPart({ askedId }: PartOf<'verdicts'>, basis: ReportBasis): PartContent {
  const { judged, profile, workload } = basis.question(askedId);
  const rows = judged.map(({ demand, verdict, short }): Words[] => {
    const hasRate = demand.itemId !== IN_TURN_ID;
    const take =
      demand.direction === 'read' || demand.takes === 1
        ? formatDuration(demand.takeSeconds)
        : `${demand.takes} × ${formatDuration(demand.takeSeconds)}`;
    return [
      { text: demand.name },
      { text: hasRate ? formatNumber(demand.bytesPerSecond / 1e6) : '–' },
      { text: short === null ? take : '–' },
      { text: short === null ? bytesText(takeBytesOf(demand)) : '–' },
      { text: orDash(verdict.guaranteedBytesPerSecond, (rate) => formatNumber(rate / 1e6)) },
      { text: verdictName(verdict), isBold: true, ink: VERDICT_INK[verdict.verdict] },
    ];
  });
  const number = judged.length;
  return {
    title: `Verdicts on ${number} ${number === 1 ? 'item' : 'items'}`,
    blocks: [
      { kind: 'heading', text: `${workload.name} on ${profile.drive.label}` },
      {
        kind: 'table',
        columns: [
          { name: 'Item', weight: 2.4 },
          { name: 'needs, MB/s', isNumber: true },
          { name: 'length', isNumber: true, weight: 1.2 },
          { name: 'a take', isNumber: true },
          { name: 'carries, MB/s', isNumber: true, weight: 1.15 },
          { name: 'verdict', isNumber: true },
        ],
        rows,
      },
      { kind: 'list', items: judged.map(({ demand, sentence }) => `${demand.name}: ${sentence}`) },
    ],
    figures: judged.flatMap(({ demand, verdict }): ReportFigure[] => {
      const of = `${demand.name} on ${profile.drive.label}`;
      return [
        { of, name: 'verdict', value: verdictName(verdict), unit: '' },
        { of, name: 'needs', value: demand.bytesPerSecond, unit: 'B/s' },
        { of, name: 'takes', value: demand.takes, unit: '' },
        { of, name: 'one take', value: demand.takeSeconds, unit: 's' },
        { of, name: 'bytes of one take', value: takeBytesOf(demand), unit: 'B' },
        ...(demand.direction === 'write' && demand.takes > 1
          ? [{ of, name: 'between takes', value: betweenText(demand), unit: '' }]
          : []),
        { of, name: 'buffer', value: demand.bufferBytes, unit: 'B' },
        { of, name: 'carries', value: verdict.guaranteedBytesPerSecond, unit: 'B/s' },
        { of, name: 'breaks after', value: verdict.breaksAtSeconds, unit: 's' },
        { of, name: 'breaks in take', value: verdict.breaksInTake, unit: '' },
        { of, name: 'breaks at', value: verdict.breaksAtBytes, unit: 'B' },
        { of, name: 'least buffer', value: verdict.leastBufferBytes, unit: 'B' },
        { of, name: 'proven', value: verdict.provenBytes, unit: 'B' },
      ];
    }),
  };
}
