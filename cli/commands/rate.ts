import type { Command } from 'commander';
import { print, printJson, tableLines } from '#cli/output.ts';
import { badInput } from '#core/1-ground/problem.ts';
import { dataRate, layoutById, searchLayouts, type Format } from '#core/2-trade/media/data-rate.ts';
import { LAYOUTS } from '#core/2-trade/media/pixel-layouts.ts';
import { parseRaster } from '#core/2-trade/media/rasters.ts';
import { bytesText, formatBitRate, figureText, rateText } from '#core/1-ground/units/format.ts';
import { parseFrameRate } from '#core/1-ground/units/frame-rate.ts';
import { parseBytes, parseCount, parseNumber, parseRatio } from '#core/1-ground/units/quantity.ts';

interface RateFlags {
  raster?: string;
  fps?: string;
  layout?: string;
  ratio?: string;
  mbps?: string;
  peak?: string;
  channels?: string;
  depth?: string;
  header?: string;
  streams: string;
  list?: boolean | string;
  json?: boolean;
}

export function addRateCommand(program: Command): void {
  program
    .command('rate')
    .description('bytes a frame and bytes a second of a format')
    .option('--raster <WxH>', 'picture size in pixels, such as 3840x2160')
    .option('--fps <rate>', 'frames per second, such as 25, 23.976 or 24000/1001')
    .option('--layout <id>', 'layout or codec; --list shows all')
    .option('--ratio <R>', 'uncompressed : compressed, 8 means 8:1')
    .option('--mbps <n>', 'megabits per second, for codecs whose rate you give')
    .option('--peak <factor>', 'peak over one second : average')
    .option('--channels <n>', 'channels of an exr frame')
    .option('--depth <half|float>', 'sample of an exr channel')
    .option('--header <bytes>', 'header of an exr frame')
    .option('--streams <n>', 'number of equal streams', '1')
    .option('--list [words]', 'list all layouts, or those that match')
    .option('--json', 'print JSON')
    .action((flags: RateFlags) => {
      if (flags.list !== undefined && flags.list !== false) listLayouts(flags);
      else showRate(flags);
    });
}

function listLayouts({ list, json }: RateFlags): void {
  const layouts = typeof list === 'string' ? searchLayouts(list) : LAYOUTS;
  const rows = layouts.map(({ id, label, source }) => ({ id, label, source }));
  if (json) printJson(rows);
  else
    tableLines([['id', 'layout', 'source'], ...rows.map(({ id, label, source }) => [id, label, source])]).forEach(
      print,
    );
}

function positive(text: string | undefined, where: string): number | undefined {
  if (text === undefined) return undefined;
  const value = /^\s*[+-]?[\d.,]+\s*$/.test(text) ? parseNumber(text, where) : NaN;
  if (!Number.isFinite(value) || value <= 0) {
    throw badInput(where, `${where}: “${text}” is not a number greater than 0.`);
  }
  return value;
}

function showRate(flags: RateFlags): void {
  for (const name of ['raster', 'fps', 'layout'] as const) {
    if (flags[name] === undefined)
      throw badInput(name, `${name}: is missing. Give --${name}, or --list to see the layouts.`);
  }
  const { depth } = flags;
  if (depth !== undefined && depth !== 'half' && depth !== 'float') {
    throw badInput('depth', `depth: “${depth}” is not known. Type half or float.`);
  }
  const optional = {
    ratio: flags.ratio === undefined ? undefined : parseRatio(flags.ratio),
    megabitsPerSecond: positive(flags.mbps, 'mbps'),
    peakFactor: positive(flags.peak, 'peak'),
  };
  const format: Format = {
    layoutId: layoutById(flags.layout!).id,
    raster: parseRaster(flags.raster!),
    frameRate: parseFrameRate(flags.fps!),
    layoutOptions: {
      ...(flags.channels === undefined ? {} : { channels: parseCount(flags.channels, 'channels') }),
      ...(depth === undefined ? {} : { bytesPerChannel: depth === 'half' ? 2 : 4 }),
      ...(flags.header === undefined ? {} : { headerBytes: parseBytes(flags.header, 'header') }),
    },
    ...Object.fromEntries(Object.entries(optional).filter(([, value]) => value !== undefined)),
  };
  const rate = dataRate(format, parseCount(flags.streams, 'streams'));
  if (flags.json) {
    printJson(rate);
    return;
  }
  const row = (label: string, value: string) => [label, value];
  tableLines([
    row('a frame', `${bytesText(rate.bytesPerFrame)} (${bytesText(rate.bytesPerFrame, 'full')})`),
    row('a second', `${rateText(rate.bytesPerSecond)} (${figureText(formatBitRate(rate.bytesPerSecond))})`),
    row('peak second', rateText(rate.peakBytesPerSecond)),
    row('an hour', bytesText(rate.bytesPerSecond * 3600)),
  ]).forEach(print);
}
