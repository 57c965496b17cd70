import { DIRECTIONS, type Direction } from '#core/1-ground/curves/direction.ts';
import { bytesText, formatDuration, formatNumber, orDash } from '#core/1-ground/units/format.ts';
import type { LoadItem } from '#core/3-jobs/demand/loads/load-item.ts';
import type { SeriesItem } from '#core/3-jobs/demand/series/series-item.ts';
import { readRequests, type Profile } from '#core/4-runs/supply/profile.ts';
import { compareSides, sideOf, unequalConditions, type ComparedSide } from '#core/5-answers/compare/compare-drives.ts';
import { differenceText } from '#core/5-answers/compare/difference-words.ts';
import { judgeItem, type JudgedItem } from '#core/5-answers/verdict/judge-workload.ts';
import { loadTimes } from '#core/5-answers/verdict/loads/phase-times.ts';
import { shareRange } from '#core/5-answers/verdict/series/judge-series.ts';
import { seriesOnDrive } from '#core/5-answers/verdict/series/series-on-drive.ts';
import { beyondSentence, largestSaving, savingSentence } from '#core/5-answers/verdict/series/series-words.ts';
import { VERDICT_INK, verdictName } from '#core/5-answers/verdict/verdict.ts';
import type { ReportBasis } from '#core/6-exchange/report/basis.ts';
import { plain, type Block, type PartContent, type ReportFigure, type Words } from '#core/6-exchange/report/blocks.ts';
import { rowsDrawing, type DrawnRow } from '#core/6-exchange/report/drawings/rows-drawing.ts';
import type { PartOf } from '#core/6-exchange/report/report.ts';

const mega = (rate: number): string => formatNumber(rate / 1e6);
const numbers = (...names: string[]) => names.map((name) => ({ name, isNumber: true }));

/** Drives beside each other, each way: from the worst second to the opening, with the floor as a notch. */
export function comparisonPart({ driveIds }: PartOf<'comparison'>, basis: ReportBasis): PartContent {
  const profiles = driveIds.map(basis.profile);
  const [first] = profiles as [Profile, ...Profile[]];
  const blocks: Block[] = [{ kind: 'heading', text: 'Drives compared' }];
  const figures: ReportFigure[] = [];
  const rows: DrawnRow[] = [];
  const sides = (way: Direction) => profiles.map((profile) => ({ profile, side: sideOf(profile, way) }));
  for (const way of DIRECTIONS) {
    const name = way === 'write' ? 'writing' : 'reading';
    for (const { profile, side } of sides(way)) {
      if (!side) continue;
      const of = `${profile.drive.label}, ${name}`;
      rows.push(rowOf(of, side, way));
      figures.push(
        { of, name: 'opening', value: side.openingBytesPerSecond, unit: 'B/s' },
        { of, name: 'floor', value: side.floorBytesPerSecond, unit: 'B/s' },
        { of, name: 'worst second', value: side.worstSecondBytesPerSecond, unit: 'B/s' },
      );
    }
  }
  if (rows.length > 0) {
    blocks.push({
      kind: 'drawing',
      drawing: rowsDrawing(
        rows,
        'MB/s',
        `From the worst second to the opening rate, the floor as a stroke, of ${profiles.length} drives.`,
      ),
    });
  }
  for (const way of DIRECTIONS) {
    const known = sides(way);
    if (known.every(({ side }) => side === null)) continue;
    const reference = sideOf(first, way);
    blocks.push({
      kind: 'table',
      columns: [
        { name: way === 'write' ? 'Writing, MB/s' : 'Reading, MB/s', weight: 1.6 },
        ...numbers('opening', 'floor', 'worst second'),
        { name: `against ${first.drive.label}`, isNumber: true, weight: 2.2 },
      ],
      rows: known.map(({ profile, side }): Words[] => {
        const difference = profile === first ? null : compareSides(side, reference);
        return [
          { text: profile.drive.label },
          { text: orDash(side, ({ openingBytesPerSecond }) => mega(openingBytesPerSecond)) },
          { text: orDash(side, ({ floorBytesPerSecond }) => mega(floorBytesPerSecond)) },
          { text: orDash(side, ({ worstSecondBytesPerSecond }) => mega(worstSecondBytesPerSecond)) },
          { text: side === null ? 'not measured' : profile === first ? '–' : orDash(difference, differenceText) },
        ];
      }),
    });
    const over = known.flatMap(({ profile, side }) => {
      const difference = profile === first ? null : compareSides(side, reference);
      if (!difference) return [];
      const what = difference.overBytes === null ? 'pass by pass' : `over the first ${bytesText(difference.overBytes)}`;
      return [`${profile.drive.label} against ${first.drive.label}: ${what}, with the 95 % interval.`];
    });
    if (over.length > 0) blocks.push({ kind: 'list', items: over });
  }
  const unequal = profiles.slice(1).flatMap((profile) => {
    const found = unequalConditions(profile, first);
    return found.length > 0 ? [`${profile.drive.label} was not measured alike: ${found.join('; ')}.`] : [];
  });
  if (unequal.length > 0) blocks.push({ kind: 'list', items: unequal });
  return { title: `${profiles.length} drives compared`, blocks, figures };
}

function rowOf(name: string, side: ComparedSide, way: Direction): DrawnRow {
  return {
    name,
    from: side.worstSecondBytesPerSecond / 1e6,
    to: side.openingBytesPerSecond / 1e6,
    notch: side.floorBytesPerSecond / 1e6,
    words: `${mega(side.worstSecondBytesPerSecond)} – ${mega(side.openingBytesPerSecond)}`,
    ink: way === 'write' ? 'writing' : 'reading',
    ...(way === 'read' ? { isOpen: true } : {}),
  };
}

/** Verdicts on an item, one for each drive, with what they rest on. */
function verdictBlocks(judged: readonly { label: string; first: JudgedItem }[]): Block[] {
  return [
    {
      kind: 'list',
      items: judged.map(({ label, first }) => `${label}: ${verdictName(first.verdict)}. ${first.sentence}`),
    },
  ];
}

/** A cache series on some drives: what the drive takes of the whole, and what a faster one would save. */
export function seriesPart(part: PartOf<'series'>, basis: ReportBasis): PartContent {
  const item = basis.item(part.workloadId, part.itemId) as SeriesItem;
  const known = part.drives.map(({ driveId, roomBytes }) => {
    const supply = basis.supply(driveId);
    const [first] = judgeItem(item, supply, { headroomShare: part.headroomShare }, roomBytes) as [JudgedItem];
    return { label: basis.profile(driveId).drive.label, on: seriesOnDrive(item, supply), first };
  });
  const saving = largestSaving(known);
  const rows = known.flatMap(({ label, on }): DrawnRow[] =>
    on === null
      ? []
      : [
          {
            name: label,
            from: 0,
            to: on.neverEmptied.totalSeconds / 60,
            notch: on.neverEmptied.computeSeconds / 60,
            words: formatDuration(on.neverEmptied.totalSeconds),
            ink: 'writing',
          },
        ],
  );
  return {
    title: `Cache series ${item.name}`,
    blocks: [
      { kind: 'heading', text: `Cache series: ${item.name}` },
      { kind: 'words', words: plain([...(saving ? [savingSentence(saving)] : []), beyondSentence(item)].join(' ')) },
      ...(rows.length > 0
        ? [
            {
              kind: 'drawing' as const,
              drawing: rowsDrawing(
                rows,
                'minutes for one version; the stroke is what computing alone takes',
                `Time of one version on ${rows.length} drives.`,
              ),
            },
          ]
        : []),
      {
        kind: 'table',
        columns: [
          { name: 'Drive', weight: 1.6 },
          ...numbers('one version', 'computing', 'drive takes', 'written at, MB/s', 'verdict'),
        ],
        rows: known.map(({ label, on, first }): Words[] => [
          { text: label },
          { text: orDash(on, ({ neverEmptied }) => formatDuration(neverEmptied.totalSeconds)) },
          { text: orDash(on, ({ neverEmptied }) => formatDuration(neverEmptied.computeSeconds)) },
          { text: orDash(on, shareRange) },
          { text: orDash(on, ({ bytesPerSecond }) => mega(bytesPerSecond)) },
          { text: verdictName(first.verdict), isBold: true, ink: VERDICT_INK[first.verdict.verdict] },
        ]),
      },
      ...verdictBlocks(known),
    ],
    figures: known.flatMap(({ label, on, first }): ReportFigure[] => {
      const of = `${item.name} on ${label}`;
      return [
        { of, name: 'verdict', value: verdictName(first.verdict), unit: '' },
        { of, name: 'one version', value: on?.neverEmptied.totalSeconds ?? null, unit: 's' },
        { of, name: 'computing', value: on?.neverEmptied.computeSeconds ?? null, unit: 's' },
        { of, name: 'share of the drive, at most', value: on?.neverEmptied.driveShare ?? null, unit: 'share' },
        { of, name: 'share of the drive, at least', value: on?.alwaysEmptied.driveShare ?? null, unit: 'share' },
        { of, name: 'bytes of one version', value: on?.bytes ?? null, unit: 'B' },
        { of, name: 'written at', value: on?.bytesPerSecond ?? null, unit: 'B/s' },
      ];
    }),
  };
}

/** A load on some drives: what its phases take, and where it waits. */
export function loadPart(part: PartOf<'load'>, basis: ReportBasis): PartContent {
  const item = basis.item(part.workloadId, part.itemId) as LoadItem;
  const known = part.drives.map(({ driveId, roomBytes }) => {
    const supply = basis.supply(driveId);
    const [first] = judgeItem(item, supply, { headroomShare: part.headroomShare }, roomBytes) as [JudgedItem];
    return { label: basis.profile(driveId).drive.label, times: loadTimes(item, readRequests(supply)), first };
  });
  const rows = known.flatMap(({ label, times }): DrawnRow[] =>
    times === null
      ? []
      : [
          {
            name: label,
            from: 0,
            to: times.totalSeconds,
            notch: times.processorSeconds,
            words: formatDuration(times.totalSeconds),
            ink: 'reading',
          },
        ],
  );
  return {
    title: `Load ${item.name}`,
    blocks: [
      { kind: 'heading', text: `Load: ${item.name}` },
      ...(rows.length > 0
        ? [
            {
              kind: 'drawing' as const,
              drawing: rowsDrawing(
                rows,
                'seconds until it is loaded; the stroke is what computing alone takes',
                `Time of the load on ${rows.length} drives.`,
              ),
            },
          ]
        : []),
      {
        kind: 'table',
        columns: [{ name: 'Drive', weight: 1.6 }, ...numbers('loads in', 'computing', 'waits for data', 'verdict')],
        rows: known.map(({ label, times, first }): Words[] => [
          { text: label },
          { text: orDash(times, ({ totalSeconds }) => formatDuration(totalSeconds)) },
          { text: orDash(times, ({ processorSeconds }) => formatDuration(processorSeconds)) },
          { text: orDash(times, ({ waitingSeconds }) => formatDuration(waitingSeconds)) },
          { text: verdictName(first.verdict), isBold: true, ink: VERDICT_INK[first.verdict.verdict] },
        ]),
      },
      ...known.flatMap(({ label, times }): Block[] =>
        times === null
          ? []
          : [
              {
                kind: 'table',
                columns: [
                  { name: `Phases on ${label}`, weight: 1.8 },
                  ...numbers('takes', 'waits', 'may take', 'stutters a minute'),
                ],
                rows: times.phases.map(({ name, totalSeconds, waitingSeconds, limitSeconds, stream }): Words[] => [
                  { text: name },
                  { text: stream ? `${formatDuration(stream.usualSeconds)} a chunk` : formatDuration(totalSeconds) },
                  { text: formatDuration(waitingSeconds) },
                  { text: orDash(stream?.deadlineSeconds ?? limitSeconds, formatDuration) },
                  { text: orDash(stream && stream.stuttersPerMinute, (value) => formatNumber(value)) },
                ]),
              },
            ],
      ),
      ...verdictBlocks(known),
    ],
    figures: known.flatMap(({ label, times, first }): ReportFigure[] => {
      const of = `${item.name} on ${label}`;
      return [
        { of, name: 'verdict', value: verdictName(first.verdict), unit: '' },
        { of, name: 'loads in', value: times?.totalSeconds ?? null, unit: 's' },
        { of, name: 'computing', value: times?.processorSeconds ?? null, unit: 's' },
        { of, name: 'waits for data', value: times?.waitingSeconds ?? null, unit: 's' },
        ...(times?.phases ?? []).flatMap((phase): ReportFigure[] => [
          { of, name: `${phase.name}: takes`, value: phase.totalSeconds, unit: 's' },
          ...(phase.stream
            ? [{ of, name: `${phase.name}: stutters`, value: phase.stream.stuttersPerMinute, unit: '1/min' }]
            : []),
        ]),
      ];
    }),
  };
}
