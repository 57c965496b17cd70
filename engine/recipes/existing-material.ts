import { existingMaterialKind, type ExistingMaterialOptions } from '#core/3-jobs/recipes/existing-material.ts';
import { Problem } from '#core/1-ground/problem.ts';
import { transferStep, type Recipe } from '#engine/recipes/recipe.ts';
import type { Plan } from '#engine/volumes/volume.ts';

/** *Existing material*: read what is there and change nothing. */
export const existingMaterial: Recipe<ExistingMaterialOptions> = {
  kind: existingMaterialKind,
  stepCount: ({ passes }) => passes,
  stepText: ({ passes }, { pass }) => (passes === 1 ? 'reading' : `pass ${pass} of ${passes}, reading`),
  check: () => undefined,
  plan: composePlan,
};

function* composePlan({ amountBytes, passes, blockBytes, depth }: ExistingMaterialOptions): Plan {
  const found = yield { kind: 'use-existing', mostBytes: amountBytes, leastBytes: 0 };
  if (found.bytes === 0) {
    throw new Problem(
      'nothing-to-read',
      'There is nothing to read in this folder: no file of at least 4 KiB whose blocks are all there. Choose a folder with material in it.',
      { where: 'folder' },
    );
  }
  for (let pass = 1; pass <= passes; pass += 1) {
    yield transferStep({ direction: 'read', phase: 'reading', pass, bytes: found.bytes, blockBytes, depth });
  }
}
