import { randomBytes } from 'node:crypto';
import { resolve } from 'node:path';
import type { Command } from 'commander';
import { note, print, printJson, tableLines } from '#cli/output.ts';
import { measureThroughServer } from '#cli/through-server.ts';
import { Problem } from '#core/problem.ts';
import { DIRECTIONS, type RunDocument } from '#core/run/run-document.ts';
import { applyRunEvent, type RunProgress } from '#core/run/run-events.ts';
import { summaryOf, type RunSummary } from '#core/supply/run-summary.ts';
import { formatClock, formatDuration, rateText } from '#core/units/format.ts';
import { parseBytes, parseCount, parseDuration } from '#core/units/quantity.ts';
import { checkOptions, recipeById } from '#engine/recipes/registry.ts';
import { carryOutRun, checkRun, openRunDocument, type RunRequest } from '#engine/run/runner.ts';
import { cleanUpScratch } from '#engine/scratch/scratch.ts';
import { volumeForPath, type VolumesContext } from '#engine/volumes/registry.ts';
import { defaultDataFolder, journalFolderOf, readServerNote } from '#server/serve.ts';

interface MeasureFlags {
  recipe: string;
  size?: string;
  passes?: string;
  seconds?: string;
  block?: string;
  depth?: string;
  fast?: boolean;
  json?: boolean;
}

export function addMeasureCommand(program: Command): void {
  program
    .command('measure')
    .description('measures a folder on a real volume, or a stand-in by its name')
    .argument('<folder>', 'a folder, or a stand-in such as petrel-2t')
    .option('--recipe <id>', 'what the run does', 'short-passes')
    .option('--size <bytes>', 'bytes of a pass, such as 2GB; else sized by time')
    .option('--passes <n>', 'passes in each direction')
    .option('--seconds <n>', 'seconds of a pass in one direction')
    .option('--block <bytes>', 'block size, a power of two such as 8MiB')
    .option('--depth <n>', 'requests outstanding')
    .option('--fast', 'stand-ins as fast as the processor allows')
    .option('--json', 'print the run as JSON')
    .action(measure);
}

function optionsFrom(flags: MeasureFlags): Record<string, unknown> {
  return {
    ...(flags.size === undefined ? {} : { sizeBytes: parseBytes(flags.size, 'size') }),
    ...(flags.passes === undefined ? {} : { passes: parseCount(flags.passes, 'passes') }),
    ...(flags.seconds === undefined ? {} : { seconds: parseDuration(flags.seconds, 'seconds') }),
    ...(flags.block === undefined ? {} : { blockBytes: parseBytes(flags.block, 'block') }),
    ...(flags.depth === undefined ? {} : { depth: parseCount(flags.depth, 'depth') }),
  };
}

async function measure(path: string, flags: MeasureFlags): Promise<void> {
  const recipe = recipeById(flags.recipe);
  const options = checkOptions(recipe, optionsFrom(flags));
  const dataFolder = defaultDataFolder();
  const context: VolumesContext = {
    journalFolder: journalFolderOf(dataFolder),
    pace: { speed: flags.fast ? Infinity : 1, seed: 1 },
  };
  const volume = await volumeForPath(path, context);
  const folder = volume.info.kind === 'real' ? resolve(path) : '';
  const runId = randomBytes(6).toString('hex');
  await checkRun({ runId, volume, folder, recipe, options });

  const abort = new AbortController();
  const onInterrupt = () => {
    note('Stopping; what was measured is kept.');
    abort.abort();
  };
  process.once('SIGINT', onInterrupt).once('SIGTERM', onInterrupt);
  try {
    const server = flags.fast ? undefined : readServerNote(dataFolder);
    const request: RunRequest = { runId, volume, folder, recipe, options };
    const result = server
      ? await measureThroughServer(
          server,
          { volumeId: volume.info.id, folder, recipeId: recipe.id, options },
          showProgress,
          abort.signal,
        )
      : await measureHere(request, context.journalFolder, abort.signal);
    report(result, flags.json ?? false);
    if (result.failure) throw new Problem(result.failure.code, result.failure.detail, { status: 500 });
  } finally {
    process.off('SIGINT', onInterrupt).off('SIGTERM', onInterrupt);
  }
}

async function measureHere(
  request: RunRequest,
  journalFolder: string,
  signal: AbortSignal,
): Promise<RunDocument & RunSummary> {
  // Without a server nobody else cleans up after a crash of an earlier command.
  await cleanUpScratch(journalFolder, () => false);
  const { info } = request.volume;
  const drive = { id: 'unkept', label: info.driveLabel || info.label, medium: info.medium, identity: info.identity };
  const run = openRunDocument(
    request,
    drive,
    { restSeconds: null, writtenLastHourBytes: null },
    'running',
    new Date().toISOString(),
  );
  await carryOutRun(request, (event) => applyRunEvent(run, event), showProgress, signal);
  return { ...run, ...summaryOf(run) };
}

let shownSecond = -1;

function showProgress({ elapsedSeconds, remainingSeconds, text }: RunProgress): void {
  if (Math.floor(elapsedSeconds) === shownSecond) return;
  shownSecond = Math.floor(elapsedSeconds);
  const left = remainingSeconds === null ? '' : `, ${formatClock(remainingSeconds)} left`;
  note(`${formatClock(elapsedSeconds)}  ${text}${left}`);
}

function report(result: RunDocument & RunSummary, json: boolean): void {
  if (json) {
    printJson(result);
    return;
  }
  const latency = (seconds: number | null) => (seconds === null ? '–' : formatDuration(seconds));
  const rate = (value: number | null) => (value === null ? '–' : rateText(value));
  const rows = DIRECTIONS.flatMap((direction) => {
    const figures = result.figures[direction];
    if (!figures) return [];
    return [
      [
        direction,
        rate(figures.medianBytesPerSecond),
        `${rate(figures.lowestPassBytesPerSecond)} – ${rate(figures.highestPassBytesPerSecond)}`,
        rate(figures.worstSecondBytesPerSecond),
        latency(figures.latencyP50Seconds),
        latency(figures.latencyP99Seconds),
        String(figures.passes),
      ],
    ];
  });
  tableLines([['', 'median', 'passes from – to', 'worst second', 'p50', 'p99', 'passes'], ...rows]).forEach(print);
  for (const doubt of result.doubts) print(`${doubt.code}: ${doubt.evidence}`);
}
