import { object, string, type InferType } from 'yup';
import { mixedOrder, normalQuantile } from '#core/3-jobs/recipes/file-sizes.ts';
import { bytesSchema, countSchema, depthSchema, switchSchema } from '#core/3-jobs/recipes/option-fields.ts';
import { addSeconds, secondsFor, type RecipeKind } from '#core/3-jobs/recipes/recipe-kind.ts';
import { bytesText } from '#core/1-ground/units/format.ts';
import { BYTES, COUNT, SWITCH, choiceOf } from '#core/1-ground/fields/kinds.ts';

export const SIZE_DISTRIBUTIONS = ['even', 'photo', 'project', 'folder'] as const;
export type SizeDistribution = (typeof SIZE_DISTRIBUTIONS)[number];

/** Options of the recipe *File scatter*, with its defaults. */
export const fileScatterOptionsSchema = object({
  files: countSchema('files', 1, 200_000).default(2000),
  distribution: string().oneOf(SIZE_DISTRIBUTIONS, 'sizes: must be even, photo, project or folder.').default('project'),
  /** Size of every file when they are even; largest size otherwise. */
  fileBytes: bytesSchema('file-size').default(256e3),
  /** Files at work at the same time. */
  parallel: depthSchema.default(1),
  /** Flushes each file to the drive before the next, as careful copies do. */
  flushEach: switchSchema('flush-each').default(false),
}).noUnknown('${unknown}: is no option of File scatter.');
export type FileScatterOptions = InferType<typeof fileScatterOptionsSchema>;

/** Largest file of a distribution: one outlier must not be the whole run. */
const LARGEST_FILE_BYTES = 256e6;

const DISTRIBUTION_WORDS: Record<SizeDistribution, string> = {
  even: 'all of one size',
  photo: 'photo-like sizes',
  project: 'project-like sizes',
  folder: 'sizes of the folder chosen',
};

/**
 * Sizes of the files, bytes. Drawn as quantiles, so that they are the same in every run:
 * `even` all alike; `photo` log-normal around 12 MB with a small side file for each four; `project`
 * log-normal and broad around 40 kB, a few files holding most of the bytes; `folder` quantiles of
 * the sizes found there.
 */
export function scatterSizes(options: FileScatterOptions, found: readonly number[]): number[] {
  const { files, distribution, fileBytes } = options;
  const at = (index: number) => (index + 0.5) / files;
  const order = mixedOrder(files);
  const sizeAt = (index: number): number => {
    switch (distribution) {
      case 'even':
        return fileBytes;
      case 'photo':
        return index % 5 === 4 ? 6e3 : 12e6 * Math.exp(0.45 * normalQuantile(at(index)));
      case 'project':
        return 40e3 * Math.exp(1.9 * normalQuantile(at(index)));
      case 'folder':
        return found[Math.min(found.length - 1, Math.floor(at(index) * found.length))] ?? fileBytes;
    }
  };
  return order.map((index) => Math.max(1, Math.min(LARGEST_FILE_BYTES, Math.round(sizeAt(index)))));
}

export const fileScatterKind: RecipeKind<FileScatterOptions> = {
  id: 'file-scatter',
  label: 'File scatter',
  purpose: 'Creates, reads, lists and deletes thousands of files: what each file costs beside its bytes.',
  measures: 'files',
  writesNames: true,
  readOnly: false,
  canBeHeld: false,
  hasTargets: false,
  options: fileScatterOptionsSchema,
  fields: [
    {
      option: 'files',
      group: 'Files',
      label: 'Number of files',
      help: 'From a thousand on, folders and journals show.',
      flag: 'files',
      kind: COUNT,
    },
    {
      option: 'distribution',
      group: 'Files',
      label: 'Sizes',
      help: 'As in the folder chosen: its files’ sizes are read, not their contents.',
      flag: 'sizes',
      kind: choiceOf([
        ['even', 'Even'],
        ['photo', 'Photos'],
        ['project', 'Project'],
        ['folder', 'The folder’s'],
      ]),
    },
    {
      option: 'fileBytes',
      group: 'Files',
      label: 'Size of a file',
      help: 'Of each, when they are even.',
      flag: 'file-size',
      kind: BYTES,
    },
    {
      option: 'parallel',
      group: 'How',
      label: 'Files at a time',
      help: 'Copy programs take one or a few, 1 to 32.',
      flag: 'parallel',
      kind: COUNT,
    },
    {
      option: 'flushEach',
      group: 'How',
      label: 'Flush each file',
      help: 'As careful copies do; far slower.',
      flag: 'flush-each',
      kind: SWITCH,
    },
  ],
  summary({ files, distribution, fileBytes, parallel, flushEach }) {
    const sizes = distribution === 'even' ? `of ${bytesText(fileBytes)}` : `of ${DISTRIBUTION_WORDS[distribution]}`;
    return `${files.toLocaleString('en-US')} files ${sizes}, ${parallel} at a time${flushEach ? ', each flushed' : ''}`;
  },
  cost(options, { writeBytesPerSecond, readBytesPerSecond }) {
    const bytes = scatterSizes(options, []).reduce((sum, size) => sum + size, 0);
    return {
      writtenBytes: bytes,
      readBytes: bytes,
      spaceBytes: bytes,
      seconds: addSeconds(secondsFor(bytes, writeBytesPerSecond), secondsFor(bytes, readBytesPerSecond)),
      // What a file costs beside its bytes is what is to be found out.
      bound: 'least',
    };
  },
};
