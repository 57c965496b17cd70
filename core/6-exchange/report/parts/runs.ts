import { DIRECTIONS, type Direction } from '#core/1-ground/curves/direction.ts';
import {
  blockText,
  bytesText,
  formatDuration,
  formatNumber,
  formatShare,
  latenessText,
  longDay,
  orDash,
} from '#core/1-ground/units/format.ts';
import { askedOf, conditionLines, runKindText } from '#core/4-runs/supply/condition-words.ts';
import { heardIn, heardWords } from '#core/4-runs/run/loudness.ts';
import { movedSecondsOf, type RunDocument } from '#core/4-runs/run/run-document.ts';
import { runWords } from '#core/4-runs/supply/run-words.ts';
import type { DirectionFigures, RunFigures } from '#core/4-runs/trace/figures.ts';
import { connectionText, methodText, type ReportBasis, type ReportedRun } from '#core/6-exchange/report/basis.ts';
import { plain, type Block, type PartContent, type ReportFigure, type Words } from '#core/6-exchange/report/blocks.ts';
import { traceDrawing, type DrawnNeed } from '#core/6-exchange/report/drawings/trace-drawing.ts';
import type { PartOf } from '#core/6-exchange/report/report.ts';

const WAYS: Record<Direction, string> = { write: 'Writing', read: 'Reading' };

/** “Long fill of 2 March 2026 on Petrel 2T”. */
export const runName = ({ run }: ReportedRun): string =>
  `${runKindText(run)} of ${longDay(run.startedAt)} on ${run.drive.label}`;

/** What was measured and how, in a sentence. */
function howText({ run, summary }: ReportedRun): string {
  const { start, verification } = run.conditions;
  const full = start.totalBytes > 0 ? `, ${formatShare(1 - start.freeBytes / start.totalBytes)} full` : '';
  const link = connectionText(run);
  const warm = summary.startCelsius === null ? '' : `, ${formatNumber(summary.startCelsius)} °C at the start`;
  const checked =
    verification.checkedBytes > 0 ? `; ${bytesText(verification.checkedBytes)} were compared on reading back` : '';
  const asked = askedOf(run).map((words) => `${words}. `);
  return `${asked.join('')}${run.drive.label}${link === '' ? '' : `, ${link}`}${full}${warm}, ${methodText(run)}${checked}.`;
}

/** One run: what was measured and how, its picture, what it says. */
export function runPart({ runId }: PartOf<'run'>, basis: ReportBasis): PartContent {
  const reported = basis.run(runId);
  const { run, summary } = reported;
  const words = runWords(summary.figures);
  const needs = needsOn(basis, run.drive.id);
  const drawing = summary.figures.write || summary.figures.read ? traceDrawing(run, summary, needs) : null;
  return {
    title: runName(reported),
    blocks: [
      { kind: 'heading', text: `What was measured: ${runName(reported)}` },
      { kind: 'words', words: plain(howText(reported)) },
      ...(words
        ? [{ kind: 'words' as const, words: [{ text: words.lead, isBold: true }, { text: ` ${words.text}` }] }]
        : []),
      ...(drawing ? [{ kind: 'drawing' as const, drawing }] : []),
      ...measureBlocks(summary.figures),
      ...(run.note === '' ? [] : [{ kind: 'remark' as const, text: run.note }]),
    ],
    figures: runFigures(reported),
  };
}

/** Need lines of what was asked of a drive. */
function needsOn(basis: ReportBasis, driveId: string): DrawnNeed[] {
  const asked = basis.report.asked.filter((one) => one.driveId === driveId).map(({ id }) => basis.question(id));
  return asked.flatMap(({ judged }) =>
    judged
      .filter(({ demand, short }) => short === null && demand.bytesPerSecond > 0 && !demand.isSum)
      .map(({ demand, verdict }) => ({
        name: demand.name,
        bytesPerSecond: demand.bytesPerSecond,
        verdict: verdict.verdict,
      })),
  );
}

const cells = (...texts: string[]): Words[] => texts.map((text) => ({ text }));
const numbers = (...names: string[]) => names.map((name) => ({ name, isNumber: true }));

/** The figures of a run as tables, by what its recipe measures. */
function measureBlocks({ write, read, ladder, frames, files, phases, recovery }: RunFigures): Block[] {
  const blocks: Block[] = [];
  const levels = [['Writing', write] as const, ['Reading', read] as const].flatMap(([name, own]) =>
    own ? [levelCells(name, own)] : [],
  );
  if (levels.length > 0) {
    blocks.push({
      kind: 'table',
      columns: [
        { name: 'MB/s', weight: 0.9 },
        ...numbers('opening', 'knee', 'floor', 'median', 'worst second', 'transfers'),
      ],
      rows: levels,
    });
  }
  if (ladder && ladder.length > 0) {
    blocks.push({
      kind: 'table',
      columns: [{ name: 'Requests', weight: 1.4 }, ...numbers('size', 'at a time', 'MB/s', 'a second', 'p50', 'p99')],
      rows: ladder.map((rung) =>
        cells(
          `${rung.direction === 'write' ? 'writing' : 'reading'}, ${rung.order}`,
          blockText(rung.blockBytes),
          String(rung.depth),
          formatNumber(rung.bytesPerSecond / 1e6),
          formatNumber(rung.operationsPerSecond),
          orDash(rung.latencyP50Seconds, formatDuration),
          orDash(rung.latencyP99Seconds, formatDuration),
        ),
      ),
    });
  }
  if (frames) {
    blocks.push({
      kind: 'table',
      columns: [{ name: 'Stream', weight: 1.6 }, ...numbers('frames', 'late', 'dropped', 'first dropped', 'latest')],
      rows: frames.streams.map((one) =>
        cells(
          one.name,
          formatNumber(one.frames, 'full'),
          formatNumber(one.late, 'full'),
          formatNumber(one.dropped, 'full'),
          orDash(one.firstDroppedSeconds, formatDuration),
          orDash(one.latenessMaxSeconds, latenessText),
        ),
      ),
    });
  }
  if (files && files.length > 0) {
    blocks.push({
      kind: 'table',
      columns: [{ name: 'Files' }, ...numbers('a second', 'MB/s', 'cost of a file', 'p99')],
      rows: files.map((one) =>
        cells(
          one.action,
          formatNumber(one.filesPerSecond),
          one.bytes > 0 ? formatNumber(one.bytesPerSecond / 1e6) : '–',
          formatDuration(one.costSeconds),
          formatDuration(one.p99Seconds),
        ),
      ),
    });
  }
  if (phases && phases.length > 0) {
    blocks.push({
      kind: 'table',
      columns: [{ name: 'Phase', weight: 1.6 }, ...numbers('computing', 'reading', 'MB/s', 'too late')],
      rows: phases.map((one) =>
        cells(
          one.name,
          formatDuration(one.processorSeconds),
          formatDuration(one.dataSeconds),
          one.bytes > 0 ? formatNumber(one.bytesPerSecond / 1e6) : '–',
          one.chunks > 0 ? `${one.lateChunks} of ${one.chunks}` : '–',
        ),
      ),
    });
  }
  if (recovery && recovery.length > 0) {
    blocks.push({
      kind: 'list',
      items: recovery.map(
        ({ restSeconds, regainedBytes, atLeast }) =>
          `After ${formatDuration(restSeconds)} of rest ${atLeast ? 'at least ' : ''}${bytesText(regainedBytes)} of fast cache were back.`,
      ),
    });
  }
  return blocks;
}

function levelCells(name: string, own: DirectionFigures): Words[] {
  const mega = (rate: number) => formatNumber(rate / 1e6);
  return cells(
    name,
    orDash(own.reading?.openingBytesPerSecond ?? null, mega),
    orDash(own.reading?.kneeBytes ?? null, (bytes) => bytesText(bytes)),
    orDash(own.reading?.floorBytesPerSecond ?? null, mega),
    mega(own.medianBytesPerSecond),
    orDash(own.worstSecondBytesPerSecond, mega),
    String(own.passes),
  );
}

function runFigures(reported: ReportedRun): ReportFigure[] {
  const { run, summary } = reported;
  const of = runName(reported);
  const { figures } = summary;
  return [
    { of, name: 'run', value: run.id, unit: '' },
    { of, name: 'began', value: run.startedAt, unit: '' },
    ...DIRECTIONS.flatMap((way): ReportFigure[] => {
      const own = figures[way];
      if (!own) return [];
      const name = (what: string) => `${WAYS[way].toLowerCase()}: ${what}`;
      return [
        { of, name: name('opening'), value: own.reading?.openingBytesPerSecond ?? null, unit: 'B/s' },
        { of, name: name('knee'), value: own.reading?.kneeBytes ?? null, unit: 'B' },
        { of, name: name('floor'), value: own.reading?.floorBytesPerSecond ?? null, unit: 'B/s' },
        { of, name: name('median'), value: own.medianBytesPerSecond, unit: 'B/s' },
        { of, name: name('slowest transfer'), value: own.lowestPassBytesPerSecond, unit: 'B/s' },
        { of, name: name('fastest transfer'), value: own.highestPassBytesPerSecond, unit: 'B/s' },
        { of, name: name('worst second'), value: own.worstSecondBytesPerSecond, unit: 'B/s' },
        { of, name: name('transfers'), value: own.passes, unit: '' },
        { of, name: name('bytes'), value: own.bytes, unit: 'B' },
        { of, name: name('latency p50'), value: own.latencyP50Seconds, unit: 's' },
        { of, name: name('latency p99'), value: own.latencyP99Seconds, unit: 's' },
        { of, name: name('longest request'), value: own.latencyMaxSeconds, unit: 's' },
      ];
    }),
    ...(figures.ladder ?? []).flatMap(
      ({ direction, order, blockBytes, depth, bytesPerSecond, operationsPerSecond }) => {
        const name = `${direction === 'write' ? 'writing' : 'reading'} ${order} ${blockText(blockBytes)} ×${depth}`;
        return [
          { of, name, value: bytesPerSecond, unit: 'B/s' },
          { of, name, value: operationsPerSecond, unit: '1/s' },
        ];
      },
    ),
    ...(figures.frames?.streams ?? []).flatMap((one) => [
      { of, name: `${one.name}: frames`, value: one.frames, unit: '' },
      { of, name: `${one.name}: late`, value: one.late, unit: '' },
      { of, name: `${one.name}: dropped`, value: one.dropped, unit: '' },
      { of, name: `${one.name}: first dropped after`, value: one.firstDroppedSeconds, unit: 's' },
    ]),
    ...(figures.files ?? []).flatMap((one) => [
      { of, name: `${one.action}: files a second`, value: one.filesPerSecond, unit: '1/s' },
      { of, name: `${one.action}: cost of a file`, value: one.costSeconds, unit: 's' },
    ]),
    ...(figures.phases ?? []).flatMap((one) => [
      { of, name: `${one.name}: computing`, value: one.processorSeconds, unit: 's' },
      { of, name: `${one.name}: reading`, value: one.dataSeconds, unit: 's' },
    ]),
    ...(figures.recovery ?? []).map((one) => ({
      of,
      name: `cache back after ${formatDuration(one.restSeconds)}`,
      value: one.regainedBytes,
      unit: 'B',
    })),
  ];
}

/** How loud it was, where a microphone heard it. */
function loudnessWords(run: RunDocument): string {
  const heard = run.loudness && heardIn(run.loudness, movedSecondsOf(run));
  return heard ? ` How loud it was: ${heardWords(heard, run.loudness!.offsetDecibels)}` : '';
}

/** Conditions and doubts of every run that the report shows. */
export function conditionsPart(_part: PartOf<'conditions'>, basis: ReportBasis): PartContent {
  const ids = new Set(basis.shown.flatMap((part) => ('runId' in part ? [part.runId] : [])));
  const runs = [...ids].map(basis.run);
  const blocks: Block[] = [{ kind: 'heading', text: 'Conditions and doubts' }];
  if (runs.length === 0) blocks.push({ kind: 'words', words: plain('No run is shown in this report.') });
  for (const reported of runs) {
    const { run, summary } = reported;
    const doubts = summary.doubts.map(({ evidence, advice }) => `${evidence} ${advice}`);
    blocks.push({
      kind: 'words',
      words: [
        { text: `${runName(reported)}. `, isBold: true },
        { text: `${conditionLines(run).join('; ')}.${loudnessWords(run)}` },
      ],
    });
    blocks.push(
      doubts.length === 0
        ? { kind: 'words', words: plain('No reason was found to doubt this run.') }
        : { kind: 'list', items: doubts },
    );
  }
  return {
    title: 'Conditions and doubts',
    blocks,
    figures: runs.flatMap((reported): ReportFigure[] => {
      const of = runName(reported);
      const { start, verification } = reported.run.conditions;
      return [
        { of, name: 'free at the start', value: start.freeBytes, unit: 'B' },
        { of, name: 'size of the volume', value: start.totalBytes, unit: 'B' },
        { of, name: 'temperature at the start', value: reported.summary.startCelsius, unit: '°C' },
        { of, name: 'compared on reading back', value: verification.checkedBytes, unit: 'B' },
        { of, name: 'read back otherwise', value: verification.mismatches.length, unit: '' },
        ...reported.summary.doubts.map(({ evidence }) => ({ of, name: 'doubt', value: evidence, unit: '' })),
      ];
    }),
  };
}

/** A copy that was carried out, from one drive to others. */
export function copyPart({ runId }: PartOf<'copy'>, basis: ReportBasis): PartContent {
  const { run, summary } = basis.run(runId);
  const copy = run.copy!;
  const [source, ...targets] = copy.ends;
  const title = `Copy of ${longDay(run.startedAt)}: ${source!.drive.label} to ${targets.map(({ drive }) => drive.label).join(' and ')}`;
  const words = runWords(summary.figures);
  const legs = summary.figures.copies?.legs ?? [];
  const notes = copy.notes.filter(({ kind }) => kind !== 'hash-list');
  const hasHashList = copy.notes.some(({ kind }) => kind === 'hash-list');
  const kept = copy.legs.flatMap(({ keptFolders }) => keptFolders);
  return {
    title,
    blocks: [
      { kind: 'heading', text: title },
      ...(words
        ? [{ kind: 'words' as const, words: [{ text: words.lead, isBold: true }, { text: ` ${words.text}` }] }]
        : []),
      {
        kind: 'table',
        columns: [
          { name: 'Copy', weight: 1.2 },
          ...numbers('took', 'MB/s', 'first estimate', 'read back in'),
          { name: 'files whole', isNumber: true, weight: 1.6 },
          ...numbers('differ'),
        ],
        rows: legs.map(({ leg, from, seconds, bytesPerSecond, earlySeconds, outcome }) =>
          cells(
            `${leg}, ${from === 0 ? 'there' : 'back'}`,
            formatDuration(seconds),
            formatNumber(bytesPerSecond / 1e6),
            orDash(earlySeconds, formatDuration),
            outcome && outcome.verifySeconds > 0 ? formatDuration(outcome.verifySeconds) : 'not asked for',
            outcome ? `${formatNumber(outcome.wholeFiles, 'full')} of ${formatNumber(outcome.files, 'full')}` : '–',
            outcome ? (outcome.verifySeconds > 0 ? String(outcome.differingFiles) : 'not known') : '–',
          ),
        ),
      },
      {
        kind: 'list',
        items: [
          ...(kept.length === 0
            ? ['Nothing of it was kept: it was only measured.']
            : [`Kept in ${kept.join(' and ')}.`]),
          ...(hasHashList ? ['A hash list was written beside what was kept.'] : []),
          ...notes.slice(0, MOST_NOTES).map(({ path, detail }) => (path === '' ? detail : `${path}: ${detail}`)),
          ...(notes.length > MOST_NOTES
            ? [`${formatNumber(notes.length - MOST_NOTES, 'full')} more notes are in the document.`]
            : []),
        ],
      },
    ],
    figures: legs.flatMap(({ leg, seconds, bytesPerSecond, copiedBytes, outcome }): ReportFigure[] => {
      const of = `${title}, ${leg}`;
      return [
        { of, name: 'took', value: seconds, unit: 's' },
        { of, name: 'rate', value: bytesPerSecond, unit: 'B/s' },
        { of, name: 'copied', value: copiedBytes, unit: 'B' },
        { of, name: 'files', value: outcome?.files ?? null, unit: '' },
        { of, name: 'whole files', value: outcome?.wholeFiles ?? null, unit: '' },
        {
          of,
          name: 'differing files',
          value: outcome && outcome.verifySeconds > 0 ? outcome.differingFiles : null,
          unit: '',
        },
      ];
    }),
  };
}

/** More notes of single files are for the document and not for a page. */
const MOST_NOTES = 12;
