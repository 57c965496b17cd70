import { linearSpan } from '#core/1-ground/axis-span.ts';
import { DIRECTIONS } from '#core/1-ground/curves/direction.ts';
import { greatest, least } from '#core/1-ground/numbers/statistics.ts';
import { placeLabels } from '#core/1-ground/place-labels.ts';
import { formatNumber } from '#core/1-ground/units/format.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import type { RunSummary } from '#core/4-runs/supply/run-summary.ts';
import { decimate } from '#core/4-runs/trace/decimate.ts';
import { endOf, gathered, originsOf, traceSpan } from '#core/4-runs/trace/drawn-trace.ts';
import { countedPasses, isMeasuring, longestPass, passesOf, type Pass } from '#core/4-runs/trace/passes.ts';
import { VERDICT_INK, type VerdictWord } from '#core/5-answers/verdict/verdict.ts';
import { chart, type PlottedChart } from '#core/6-exchange/report/drawings/chart.ts';
import { label, stroke, type Drawing, type Mark } from '#core/6-exchange/report/drawings/drawing.ts';

/** A demand drawn across a trace. */
export interface DrawnNeed {
  name: string;
  bytesPerSecond: number;
  verdict: VerdictWord;
}

const HEIGHT = 190;
/** More columns are finer than print. */
const COLUMNS = 240;
const LABELS_WIDTH = 96;

/** The trace of a run over bytes moved, with knee and floor, and need lines across it; null where nothing moved. */
export function traceDrawing(run: RunDocument, { figures }: RunSummary, needs: readonly DrawnNeed[]): Drawing | null {
  const passes = gathered(passesOf(run).filter(isMeasuring));
  if (passes.length === 0) return null;
  const [lowest, highest] = [
    least(passes.map(({ bytesPerSecond }) => bytesPerSecond)),
    greatest(passes.map(({ bytesPerSecond }) => bytesPerSecond)),
  ];
  const ways = DIRECTIONS.filter((way) => passes.some(({ direction }) => direction === way));
  return {
    height: HEIGHT,
    says: `Rate over bytes moved, ${ways.map((way) => (way === 'write' ? 'writing' : 'reading')).join(' and ')}: ${passes.length} transfers between ${formatNumber(lowest / 1e6)} and ${formatNumber(highest / 1e6)} MB/s.`,
    draw(width) {
      const origins = originsOf(passes, 'bytes');
      const extent = greatest(
        passes.map((pass) => endOf(pass, 'bytes') - origins[pass.direction]),
        1e-9,
      );
      const unit = extent > 2e9 ? { bytes: 1e9, name: 'GB' } : { bytes: 1e6, name: 'MB' };
      const plot = chart(
        width,
        HEIGHT,
        {
          span: linearSpan(0, extent / unit.bytes, 7, false),
          name: `${unit.name} moved${ways.length > 1 ? ' each way' : ''}`,
        },
        { span: traceSpan(passes, needs, null), name: 'MB/s' },
        LABELS_WIDTH,
      );
      const toX = (pass: Pass, bytes: number) => plot.x((bytes - origins[pass.direction]) / unit.bytes);
      const traces = passes.flatMap((pass) => {
        const from = origins[pass.direction];
        const columns = decimate(pass.intervals, 'bytes', from, from + extent, COLUMNS);
        return traceMarks(pass, columns, plot, toX);
      });
      return [...plot.marks, ...needMarks(needs, plot, width), ...traces, ...levelMarks(passes, figures, plot, toX)];
    },
  };
}

function traceMarks(
  pass: Pass,
  columns: readonly { at: number; low: number; high: number; mean: number }[],
  { y }: PlottedChart,
  toX: (pass: Pass, bytes: number) => number,
): Mark[] {
  const ink = pass.direction === 'write' ? 'writing' : 'reading';
  if (columns.length === 0) return [];
  // The first and the last column stand for all they cover, to the very ends of the transfer.
  const [first, last] = [pass.intervals[0]!.fromBytes, pass.intervals.at(-1)!.toBytes];
  const all = [{ ...columns[0]!, at: first }, ...columns, { ...columns.at(-1)!, at: last }];
  const line = all.flatMap(({ at, mean }) => [toX(pass, at), y(mean / 1e6)]);
  const top = all.flatMap(({ at, high }) => [toX(pass, at), y(high / 1e6)]);
  const foot = [...all].reverse().flatMap(({ at, low }) => [toX(pass, at), y(low / 1e6)]);
  return [
    { kind: 'area', points: [...top, ...foot], ink, opacity: 0.22 },
    stroke(line, ink, 1.1, pass.direction === 'write' ? undefined : [5, 2.5]),
  ];
}

/** Knee and floor of the longest transfer that shows them. */
function levelMarks(
  passes: readonly Pass[],
  figures: RunSummary['figures'],
  { y, right, top }: PlottedChart,
  toX: (pass: Pass, bytes: number) => number,
): Mark[] {
  const reading = figures.write?.reading;
  if (!reading || reading.kneeBytes === null || reading.floorBytesPerSecond === null) return [];
  const { counted } = countedPasses(passes, 'write');
  if (counted.length === 0) return [];
  const pass = longestPass(counted);
  const begin = pass.intervals[0]!.fromBytes;
  const knee = toX(pass, begin + reading.kneeBytes);
  const end = toX(pass, pass.intervals.at(-1)!.toBytes);
  const floor = y(reading.floorBytesPerSecond / 1e6);
  const isLeft = knee > right - 110;
  const kneeY =
    reading.openingBytesPerSecond === null ? top + 8 : Math.max(top + 8, y(reading.openingBytesPerSecond / 1e6));
  return [
    stroke([knee, kneeY - 2, knee, floor], 'text', 0.6, [1, 2.5]),
    label(isLeft ? knee - 5 : knee + 5, kneeY + 12, `knee at ${formatNumber(reading.kneeBytes / 1e9)} GB`, {
      ink: 'text',
      isBold: true,
      anchor: isLeft ? 'end' : 'start',
    }),
    stroke([knee, floor, end, floor], 'text', 0.6, [4, 2.5]),
    label(end, floor - 5, `floor ${formatNumber(reading.floorBytesPerSecond / 1e6)}`, { ink: 'text', anchor: 'end' }),
  ];
}

function needMarks(needs: readonly DrawnNeed[], { y, left, right, top, bottom }: PlottedChart, width: number): Mark[] {
  const within = (rate: number) => Math.min(y.invert(top), Math.max(y.invert(bottom), rate / 1e6));
  const places = needs.map(({ bytesPerSecond }) => y(within(bytesPerSecond)));
  const middles = placeLabels(
    places.map((wanted) => ({ wanted, size: 10 })),
    top - 4,
    bottom + 4,
  );
  return needs.flatMap(({ name, bytesPerSecond, verdict }, index): Mark[] => {
    const ink = VERDICT_INK[verdict];
    const [at, middle] = [places[index]!, middles[index]!];
    const isOff = Math.abs(within(bytesPerSecond) - bytesPerSecond / 1e6) > 1e-3 * (bytesPerSecond / 1e6);
    const text = `${isOff ? 'off the scale, ' : ''}${formatNumber(bytesPerSecond / 1e6)} ${name}`;
    return [
      ...(isOff
        ? []
        : [stroke([left, at - 0.9, right, at - 0.9], ink, 0.5), stroke([left, at + 0.9, right, at + 0.9], ink, 0.5)]),
      stroke([right, at, right + 5, middle], ink, 0.5),
      label(right + 7, middle + 2.8, shortened(text, width - right - 8), { ink }),
    ];
  });
}

/** Cut at about the width there is; letters of this size are half of it wide. */
const shortened = (text: string, width: number): string => {
  const most = Math.max(6, Math.floor(width / 4.1));
  return text.length <= most ? text : `${text.slice(0, most - 1).trimEnd()}…`;
};
