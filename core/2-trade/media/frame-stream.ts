import { eachLine } from '#core/1-ground/fields/kinds.ts';
import { array, number, object, string, type InferType } from 'yup';
import { dataRate } from '#core/2-trade/media/data-rate.ts';
import { parseRaster } from '#core/2-trade/media/rasters.ts';
import { badInput } from '#core/1-ground/problem.ts';
import { frameRateText, framesPerSecond, parseFrameRate } from '#core/1-ground/units/frame-rate.ts';
import { bytesText } from '#core/1-ground/units/format.ts';
import { PAGE_BYTES } from '#core/1-ground/units/page.ts';
import { parseBytes, parseCount } from '#core/1-ground/units/quantity.ts';
import { wholeUp } from '#core/1-ground/units/whole.ts';

/** Equal streams of frames that are recorded or played at their real rate. */
export const frameStreamSchema = object({
  name: string().required().max(120),
  action: string()
    .oneOf(['record', 'play'] as const, 'streams: must record or play.')
    .required(),
  /** Bytes of one frame. */
  frameBytes: number().integer().min(1).max(4e9, 'streams: a frame is at most 4 GB.').required(),
  frameRate: object({
    numerator: number().integer().positive().required(),
    denominator: number().integer().positive().required(),
  }).required(),
  /** `container`: one growing file a stream. `sequence`: a file for every frame. */
  files: string()
    .oneOf(['container', 'sequence'] as const)
    .required(),
  count: number().integer().min(1).max(32).required(),
});
export type FrameStream = InferType<typeof frameStreamSchema>;

export const frameStreamsSchema = array(frameStreamSchema.required())
  .min(1, 'streams: name at least one, such as “record 3840x2160 vc3-444 25 x3”.')
  .max(32, 'streams: at most 32 lines.')
  .required('streams: name at least one.');

const EXAMPLE = 'record 3840x2160 vc3-444 25 x3';

/**
 * A stream from a line as people type it: `record|play`, then either a raster with a layout's id or
 * the bytes of a frame, then the frame rate, then in any order `xN` streams, `ratio R`, `mbps M` and
 * `files` for image sequences; a name may follow after `#`. `record 3840x2160 vc3-444 25 x3`,
 * `play 12MB 24 files # Reel 2`.
 * @throws Problem `bad-input` that says which part of the line is at fault
 */
export function parseStream(line: string): FrameStream {
  const fault = (what: string) => badInput('streams', `streams: “${line}”: ${what} Type a line such as “${EXAMPLE}”.`);
  const [spec = '', name = ''] = line.split('#').map((part) => part.trim());
  const words = spec.split(/\s+/);
  const action = words.shift();
  if (action !== 'record' && action !== 'play') throw fault('it must begin with record or play.');
  const size = words.shift() ?? '';
  const isRaster = /^\d+x\d+$/i.test(size);
  const layoutId = isRaster ? words.shift() : undefined;
  const rateText = words.shift();
  if (rateText === undefined) throw fault('the frame rate is missing.');
  const frameRate = parseFrameRate(rateText);
  let count = 1;
  let files: FrameStream['files'] = 'container';
  let ratio: number | undefined;
  let megabitsPerSecond: number | undefined;
  while (words.length > 0) {
    const word = words.shift()!;
    if (/^x\d+$/.test(word)) count = parseCount(word.slice(1), 'streams');
    else if (word === 'files') files = 'sequence';
    else if (word === 'ratio') ratio = Number(words.shift());
    else if (word === 'mbps') megabitsPerSecond = Number(words.shift());
    else throw fault(`“${word}” is not known.`);
  }
  let frameBytes: number;
  if (isRaster) {
    const format = {
      layoutId: layoutId ?? '',
      raster: parseRaster(size),
      frameRate,
      ...(ratio === undefined ? {} : { ratio }),
      ...(megabitsPerSecond === undefined ? {} : { megabitsPerSecond }),
    };
    frameBytes = wholeUp(dataRate(format).bytesPerFrame);
  } else {
    frameBytes = parseBytes(size, 'streams');
  }
  const stream: FrameStream = {
    name:
      name !== ''
        ? name
        : `${isRaster ? `${size} ${layoutId}` : `${bytesText(frameBytes)} a frame`} at ${frameRateText(frameRate)}`,
    action,
    frameBytes,
    frameRate,
    files,
    count,
  };
  return frameStreamSchema.validateSync(stream, { strict: true });
}

/** The line that {@link parseStream} reads as this stream, in bytes a frame. */
export function streamLine({ name, action, frameBytes, frameRate, files, count }: FrameStream): string {
  const rate =
    frameRate.denominator === 1 ? `${frameRate.numerator}` : `${frameRate.numerator}/${frameRate.denominator}`;
  return [
    action,
    `${frameBytes}B`,
    rate,
    ...(count > 1 ? [`x${count}`] : []),
    ...(files === 'sequence' ? ['files'] : []),
    `# ${name.replaceAll('#', '')}`,
  ].join(' ');
}

/** Direct I/O moves whole pages: what a frame takes on the drive. */
export function paddedFrameBytes(frameBytes: number): number {
  return Math.ceil(frameBytes / PAGE_BYTES) * PAGE_BYTES;
}

/** Bytes per second of streams on the drive, padding included. */
export function streamsBytesPerSecond(streams: readonly FrameStream[], action?: FrameStream['action']): number {
  return streams
    .filter((stream) => action === undefined || stream.action === action)
    .reduce(
      (sum, { frameBytes, frameRate, count }) =>
        sum + paddedFrameBytes(frameBytes) * framesPerSecond(frameRate) * count,
      0,
    );
}

/** Streams of frames, one a line. */
export const STREAMS = eachLine(parseStream, streamLine);
