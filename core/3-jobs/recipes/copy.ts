import { object, string, type InferType } from 'yup';
import { MADE_SIZES, type MadeSizes } from '#core/3-jobs/recipes/file-sizes.ts';
import {
  DEFAULT_BLOCK_BYTES,
  blockBytesSchema,
  blockField,
  bytesSchema,
  countSchema,
  secondsSchema,
  switchSchema,
} from '#core/3-jobs/recipes/option-fields.ts';
import { addSeconds, secondsFor, type RecipeKind } from '#core/3-jobs/recipes/recipe-kind.ts';
import { blockText, bytesText } from '#core/1-ground/units/format.ts';
import { BYTES, COUNT, SECONDS, SWITCH, choiceOf } from '#core/1-ground/fields/kinds.ts';

/** What is copied: the files of a folder, or files that are made for it. */
export const COPY_PAYLOADS = ['folder', 'made'] as const;
/** Nothing, checksums of what was read, or these and reading every copy back. */
export const VERIFY_WAYS = ['none', 'checksums', 'read-back'] as const;
export type VerifyWay = (typeof VERIFY_WAYS)[number];

/** Threads that read, and that write to each target: as many as one machine has use for. */
export const MOST_COPY_THREADS = 32;
/** Volumes that one copy goes to. */
export const MOST_TARGETS = 4;

/** Options of the recipe *Copy*, with its defaults. */
export const copyOptionsSchema = object({
  payload: string().oneOf(COPY_PAYLOADS, 'what: must be folder or made.').default('made'),
  /** Bytes, number and spread of made files. */
  bytes: bytesSchema('size').default(16e9),
  files: countSchema('files', 1, 200_000).default(24),
  spread: string<MadeSizes>().oneOf(MADE_SIZES, 'sizes: must be even, photo or project.').default('even'),
  blockBytes: blockBytesSchema.default(DEFAULT_BLOCK_BYTES),
  /** Blocks of a file under way at each end at the same time. */
  depth: countSchema('depth', 1, 16).default(4),
  /** Files between their opening at the source and their closing at the last target. */
  parallelFiles: countSchema('at-a-time', 1, 16).default(2),
  verify: string<VerifyWay>().oneOf(VERIFY_WAYS, 'verify: must be none, checksums or read-back.').default('read-back'),
  /** Flushes each file to the drive before it counts as copied. */
  flushEach: switchSchema('flush-each').default(false),
  /** The first copy is copied back to the source’s volume as well. */
  back: switchSchema('back').default(false),
  repeats: countSchema('repeats', 1, 20).default(1),
  restSeconds: secondsSchema('rest', 0, 86_400).default(0),
  /** Made files are only measured with: they are removed all the same. */
  keep: switchSchema('keep').default(true),
})
  .noUnknown('${unknown}: is no option of Copy.')
  .test('threads', function ({ depth, parallelFiles }) {
    // What is no number is told by its own field, which is looked at after this.
    if (!Number.isFinite(depth * parallelFiles) || depth * parallelFiles <= MOST_COPY_THREADS) return true;
    return this.createError({
      path: 'depth',
      message: `depth: ${depth} blocks of ${parallelFiles} files at a time are ${depth * parallelFiles} requests at each end, and ${MOST_COPY_THREADS} are the most. Type a smaller depth or fewer files.`,
    });
  });
export type CopyOptions = InferType<typeof copyOptionsSchema>;

const VERIFY_WORDS: Record<VerifyWay, string> = {
  none: 'not verified',
  checksums: 'with checksums',
  'read-back': 'read back and compared',
};

/** Copies that are made one after the other, and how many of them go back. */
export const legsOf = ({ repeats, back }: Pick<CopyOptions, 'repeats' | 'back'>): number => repeats * (back ? 2 : 1);

const WHAT = 'What is copied';
const HOW = 'How';
const AFTER = 'How often, and after';

/** Whether anything of a copy stays: what is made for it does not. */
export const keepsCopy = ({ payload, keep }: Pick<CopyOptions, 'payload' | 'keep'>): boolean =>
  payload === 'folder' && keep;

/** What makes a copy one that is only measured. */
export const MEASURED_ONLY = { keep: false, verify: 'none' } as const;

export const copyKind: RecipeKind<CopyOptions> = {
  id: 'copy',
  label: 'Copy',
  purpose: 'Copies a folder to one or several volumes, really, and shows which side waits for which.',
  measures: 'copies',
  writesNames: true,
  readOnly: false,
  canBeHeld: false,
  hasTargets: true,
  options: copyOptionsSchema,
  fields: [
    {
      option: 'payload',
      group: WHAT,
      label: 'What',
      help: 'The files of the source folder, which are only read; or files that are made beside them and removed.',
      flag: 'what',
      kind: choiceOf([
        ['folder', 'The folder’s files'],
        ['made', 'Made files'],
      ]),
    },
    {
      option: 'bytes',
      group: WHAT,
      label: 'Size of made files',
      help: 'Of all of them together, such as 64 GB.',
      flag: 'size',
      kind: BYTES,
    },
    {
      option: 'files',
      group: WHAT,
      label: 'Number of made files',
      help: 'Each costs time beside its bytes.',
      flag: 'files',
      kind: COUNT,
    },
    {
      option: 'spread',
      group: WHAT,
      label: 'Sizes of made files',
      help: 'All alike, as photographs, or as a project folder with a few large among many small.',
      flag: 'sizes',
      kind: choiceOf([
        ['even', 'Even'],
        ['photo', 'Photos'],
        ['project', 'Project'],
      ]),
    },
    { ...blockField, group: HOW },
    {
      option: 'depth',
      group: HOW,
      label: 'Blocks at a time',
      help: 'Of a file, under way at each end, 1 to 16.',
      flag: 'depth',
      kind: COUNT,
    },
    {
      option: 'parallelFiles',
      group: HOW,
      label: 'Files at a time',
      help: 'Ordinary copy programs take one.',
      flag: 'at-a-time',
      kind: COUNT,
    },
    {
      option: 'verify',
      group: HOW,
      label: 'Verify',
      help: 'Checksums of what was read cost little; reading back takes about as long again, and proves the copy.',
      flag: 'verify',
      kind: choiceOf([
        ['none', 'Nothing'],
        ['checksums', 'Checksums'],
        ['read-back', 'Read back'],
      ]),
    },
    {
      option: 'flushEach',
      group: HOW,
      label: 'Flush each file',
      help: 'As careful copies do; slower with many small files.',
      flag: 'flush-each',
      kind: SWITCH,
    },
    {
      option: 'back',
      group: AFTER,
      label: 'There and back again',
      help: 'The first copy is copied back beside the source, and removed there.',
      flag: 'back',
      kind: SWITCH,
    },
    {
      option: 'repeats',
      group: AFTER,
      label: 'Times',
      help: 'Three times with rests show whether it slows down.',
      flag: 'repeats',
      kind: COUNT,
    },
    {
      option: 'restSeconds',
      group: AFTER,
      label: 'Rest between them',
      help: 'To cool, and for caches to empty themselves.',
      flag: 'rest',
      kind: SECONDS,
    },
    {
      option: 'keep',
      group: AFTER,
      label: 'Keep the copy',
      help: 'Yes: what is whole stays in a folder of its own, with its hash list; nothing is ever overwritten. No only measures: the copy is removed again, as made files always are.',
      flag: 'keep',
      kind: SWITCH,
    },
  ],
  summary({ payload, bytes, files, blockBytes, depth, parallelFiles, verify, back, repeats, keep }) {
    const what =
      payload === 'folder'
        ? 'The folder’s files'
        : `${bytesText(bytes)} in ${files === 1 ? 'one file' : `${files.toLocaleString('en-US')} files`}`;
    const times = repeats === 1 ? '' : `, ${repeats} times`;
    const stays = keepsCopy({ payload, keep }) ? 'kept' : 'only measured, not kept';
    return `${what}, ${stays}${back ? ', there and back' : ''}${times}, ${parallelFiles} at a time, ${blockText(blockBytes)} blocks at depth ${depth}, ${VERIFY_WORDS[verify]}`;
  },
  cost({ payload, bytes, repeats, back }, { writeBytesPerSecond, readBytesPerSecond }) {
    // What a folder holds is known when it is looked at.
    const once = payload === 'made' ? bytes : null;
    const moved = once === null ? null : once * legsOf({ repeats, back });
    const seconds =
      moved === null ? null : addSeconds(secondsFor(moved, readBytesPerSecond), secondsFor(bytes, writeBytesPerSecond));
    return {
      writtenBytes: payload === 'made' ? bytes : 0,
      readBytes: moved,
      spaceBytes: (payload === 'made' ? bytes : 0) + (back ? (once ?? 0) : 0),
      seconds,
    };
  },
};
