import { object, type InferType } from 'yup';
import { depthSchema, secondsSchema } from '#core/3-jobs/recipes/option-fields.ts';
import type { Field } from '#core/1-ground/fields/field.ts';
import type { RecipeKind } from '#core/3-jobs/recipes/recipe-kind.ts';
import { frameStreamsSchema, streamsBytesPerSecond, STREAMS } from '#core/2-trade/media/frame-stream.ts';
import { formatDuration, rateText } from '#core/1-ground/units/format.ts';
import { COUNT, SECONDS } from '#core/1-ground/fields/kinds.ts';

/** Options of the recipe *Paced frames*, with its defaults. */
export const pacedFramesOptionsSchema = object({
  streams: frameStreamsSchema.default([
    {
      name: '3840x2160 vc3-444 at 25',
      action: 'record',
      frameBytes: 7_286_784,
      frameRate: { numerator: 25, denominator: 1 },
      files: 'container',
      count: 1,
    },
  ]),
  seconds: secondsSchema('seconds', 1, 86_400).default(60),
  /** What the recording or playing program holds, in seconds of its stream. */
  bufferSeconds: secondsSchema('buffer', 0, 600).default(1),
  /** Frames of one stream that are under way at the same time. */
  depth: depthSchema.default(1),
}).noUnknown('${unknown}: is no option of Paced frames.');
export type PacedFramesOptions = InferType<typeof pacedFramesOptionsSchema>;

const streamsField: Field = {
  option: 'streams',
  group: 'What runs',
  label: 'Streams, one a line',
  help: 'record or play, raster and layout (or bytes a frame), frame rate, ×N, files for image sequences.',
  flag: 'stream',
  kind: STREAMS,
};

export const pacedFramesKind: RecipeKind<PacedFramesOptions> = {
  id: 'paced-frames',
  label: 'Paced frames',
  purpose: 'Records and plays frame by frame at the real rate, each with its deadline: the proof by doing.',
  measures: 'frames',
  writesNames: true,
  readOnly: false,
  canBeHeld: false,
  hasTargets: false,
  options: pacedFramesOptionsSchema,
  fields: [
    streamsField,
    {
      option: 'seconds',
      group: 'How long',
      label: 'Time',
      help: 'As long as the take proves the take, such as 40 min.',
      flag: 'seconds',
      kind: SECONDS,
    },
    {
      option: 'bufferSeconds',
      group: 'How',
      label: 'Buffer of the program',
      help: 'In seconds of its stream; a frame that does not fit is dropped.',
      flag: 'buffer',
      kind: SECONDS,
    },
    {
      option: 'depth',
      group: 'How',
      label: 'Frames under way',
      help: 'Of one stream at the same time, 1 to 32.',
      flag: 'depth',
      kind: COUNT,
    },
  ],
  summary({ streams, seconds, bufferSeconds, depth }) {
    const count = streams.reduce((sum, stream) => sum + stream.count, 0);
    return `${count} ${count === 1 ? 'stream' : 'streams'}, ${rateText(streamsBytesPerSecond(streams))} together for ${formatDuration(seconds)}, buffer ${formatDuration(bufferSeconds)}, ${depth} under way`;
  },
  cost({ streams, seconds }, { writeBytesPerSecond }) {
    const recorded = streamsBytesPerSecond(streams, 'record') * seconds;
    const played = streamsBytesPerSecond(streams, 'play') * seconds;
    // What is played has to be laid out first.
    const layOut = writeBytesPerSecond === null ? 0 : played / writeBytesPerSecond;
    return {
      writtenBytes: recorded + played,
      readBytes: played,
      spaceBytes: recorded + played,
      seconds: seconds + layOut,
    };
  },
};
