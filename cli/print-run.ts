import { print, printJson, tableLines } from '#cli/output.ts';
import { DIRECTIONS } from '#core/1-ground/curves/direction.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import type { RunSummary } from '#core/4-runs/supply/run-summary.ts';
import type { DirectionFigures, RunFigures } from '#core/4-runs/trace/figures.ts';
import {
  blockText,
  bytesText,
  formatDuration,
  formatNumber,
  formatShare,
  latenessText,
  orDash,
  rateText,
} from '#core/1-ground/units/format.ts';

/** Prints what a run says: as one JSON document, or as tables for people. */
export function printRun(result: RunDocument & RunSummary, json: boolean): void {
  if (json) {
    printJson(result);
    return;
  }
  for (const table of [
    directionTable,
    levelLines,
    ladderTable,
    framesTable,
    filesTable,
    phasesTable,
    copiesTable,
    recoveryLines,
  ]) {
    table(result.figures).forEach(print);
  }
  copyLines(result).forEach(print);
  for (const doubt of result.doubts) print(`${doubt.code}: ${doubt.evidence} ${doubt.advice}`);
}

function directionTable(figures: RunFigures): string[] {
  const rows = DIRECTIONS.flatMap((direction) => {
    const own = figures[direction];
    return own ? [[direction, ...directionCells(own)]] : [];
  });
  if (rows.length === 0) return [];
  return tableLines([['', 'median', 'passes from – to', 'worst second', 'p50', 'p99', 'passes'], ...rows]);
}

function directionCells(figures: DirectionFigures): string[] {
  return [
    rateText(figures.medianBytesPerSecond),
    `${rateText(figures.lowestPassBytesPerSecond)} – ${rateText(figures.highestPassBytesPerSecond)}`,
    orDash(figures.worstSecondBytesPerSecond, rateText),
    orDash(figures.latencyP50Seconds, formatDuration),
    orDash(figures.latencyP99Seconds, formatDuration),
    String(figures.passes),
  ];
}

function levelLines(figures: RunFigures): string[] {
  const reading = figures.write?.reading;
  if (!reading) return [];
  if (reading.slope) {
    const { startBytesPerSecond, endBytesPerSecond } = reading.slope;
    return [`slope ${rateText(startBytesPerSecond)} to ${rateText(endBytesPerSecond)}`];
  }
  if (reading.kneeBytes === null) return [];
  const swing = reading.sawtooth
    ? `, swinging between ${rateText(reading.sawtooth.lowBytesPerSecond)} and ${rateText(reading.sawtooth.highBytesPerSecond)}`
    : '';
  return [
    `opening ${orDash(reading.openingBytesPerSecond, rateText)}, knee at ${bytesText(reading.kneeBytes)}, floor ${orDash(reading.floorBytesPerSecond, rateText)}${swing}`,
  ];
}

function ladderTable({ ladder }: RunFigures): string[] {
  if (!ladder) return [];
  const rows = ladder.map((rung) => [
    `${rung.direction} ${rung.order}`,
    blockText(rung.blockBytes),
    String(rung.depth),
    rateText(rung.bytesPerSecond),
    formatNumber(rung.operationsPerSecond),
    orDash(rung.latencyP50Seconds, formatDuration),
    orDash(rung.latencyP99Seconds, formatDuration),
  ]);
  return tableLines([['', 'block', 'depth', 'rate', 'operations/s', 'p50', 'p99'], ...rows]);
}

function framesTable({ frames }: RunFigures): string[] {
  if (!frames) return [];
  const rows = frames.streams.map((stream) => [
    stream.name,
    formatNumber(stream.frames, 'full'),
    formatNumber(stream.late, 'full'),
    formatNumber(stream.dropped, 'full'),
    orDash(stream.firstDroppedSeconds, formatDuration),
    orDash(stream.latenessP99Seconds, latenessText),
    orDash(stream.latenessMaxSeconds, latenessText),
    `${stream.lowWaterFrames} of ${stream.bufferFrames}`,
  ]);
  return tableLines([['stream', 'frames', 'late', 'dropped', 'first at', 'p99', 'longest', 'buffer low'], ...rows]);
}

function filesTable({ files }: RunFigures): string[] {
  if (!files) return [];
  const rows = files.map((one) => [
    one.action,
    formatNumber(one.filesPerSecond),
    one.bytes > 0 ? rateText(one.bytesPerSecond) : '–',
    formatDuration(one.costSeconds),
    formatDuration(one.p99Seconds),
  ]);
  return tableLines([['', 'files/s', 'rate', 'cost of a file', 'p99'], ...rows]);
}

function phasesTable({ phases }: RunFigures): string[] {
  if (!phases) return [];
  const rows = phases.map((one) => [
    one.name,
    formatDuration(one.processorSeconds),
    formatDuration(one.dataSeconds),
    one.bytes > 0 ? rateText(one.bytesPerSecond) : '–',
    one.chunks > 0 ? `${one.lateChunks} of ${one.chunks} chunks` : '–',
    orDash(one.latencyP99Seconds, formatDuration),
  ]);
  return tableLines([['phase', 'computing', 'reading', 'rate', 'too late', 'p99'], ...rows]);
}

function copiesTable({ copies }: RunFigures): string[] {
  if (!copies) return [];
  const rows = copies.legs.map(({ leg, from, seconds, bytesPerSecond, earlySeconds, waits, outcome }) => [
    `${leg}, ${from === 0 ? 'there' : 'back'}`,
    formatDuration(seconds),
    rateText(bytesPerSecond),
    orDash(earlySeconds, formatDuration),
    waits.map(({ share }) => formatShare(share)).join(', '),
    outcome && outcome.verifySeconds > 0 ? formatDuration(outcome.verifySeconds) : '–',
    outcome ? `${outcome.wholeFiles} of ${outcome.files}` : '–',
    outcome ? String(outcome.differingFiles) : '–',
  ]);
  const heads = ['copy', 'took', 'rate', 'first estimate', 'source, targets waited', 'read back', 'whole', 'differ'];
  return tableLines([heads, ...rows]);
}

/** Where a copy stayed, and what it came upon. */
function copyLines({ copy }: RunDocument): string[] {
  if (!copy) return [];
  return [
    ...copy.legs.flatMap(({ keptFolders }) => keptFolders.map((folder) => `kept in ${folder}`)),
    ...copy.notes.map(({ kind, path, detail }) => `${kind}: ${path === '' ? '' : `${path}: `}${detail}`),
  ];
}

function recoveryLines({ recovery }: RunFigures): string[] {
  return (recovery ?? []).map(
    ({ restSeconds, regainedBytes, atLeast }) =>
      `after ${formatDuration(restSeconds)} of rest ${atLeast ? 'at least ' : ''}${bytesText(regainedBytes)} of cache regained`,
  );
}
