import { Problem } from '#core/1-ground/problem.ts';
import { fileScatterKind, scatterSizes, type FileScatterOptions } from '#core/3-jobs/recipes/file-scatter.ts';
import { FILE_ACTIONS } from '#core/4-runs/run/run-document.ts';
import { bytesText } from '#core/1-ground/units/format.ts';
import { SAMPLE_SECONDS, type PlanFacts, type Recipe } from '#engine/recipes/recipe.ts';
import { requireRoom } from '#engine/recipes/room.ts';
import type { Plan } from '#engine/volumes/volume.ts';

/** As many as a photographer's day or a project keeps together. */
const FILES_PER_FOLDER = 200;

/** *File scatter*: create, read, list and delete thousands of files. */
export const fileScatter: Recipe<FileScatterOptions> = {
  kind: fileScatterKind,
  needsFileSizes: ({ distribution }) => distribution === 'folder',
  stepCount: () => FILE_ACTIONS.length,
  stepText: (_options, { pass }) => {
    const words = { create: 'creating files', read: 'reading them', list: 'listing them', delete: 'deleting them' };
    return words[FILE_ACTIONS[pass - 1] ?? 'create'];
  },
  check(options, facts) {
    const bytes = sizesFor(options, facts).reduce((sum, size) => sum + size, 0);
    requireRoom(`The files take ${bytesText(bytes)}`, bytes, facts.room, 'Type fewer files', 'files');
  },
  plan: composePlan,
};

function sizesFor(options: FileScatterOptions, { fileSizes }: PlanFacts): number[] {
  if (options.distribution === 'folder' && fileSizes.length === 0) {
    throw new Problem(
      'nothing-to-read',
      'The folder chosen holds no files whose sizes could be taken. Choose another folder or other sizes.',
      { where: 'sizes' },
    );
  }
  return scatterSizes(options, fileSizes);
}

function* composePlan(options: FileScatterOptions, facts: PlanFacts): Plan {
  const sizes = sizesFor(options, facts);
  for (const [index, action] of FILE_ACTIONS.entries()) {
    yield {
      kind: 'scatter',
      action,
      pass: index + 1,
      sizes,
      filesPerFolder: FILES_PER_FOLDER,
      parallel: options.parallel,
      flushEach: options.flushEach,
      sampleSeconds: SAMPLE_SECONDS,
    };
  }
}
