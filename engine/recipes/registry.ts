import { recipeKindById } from '#core/3-jobs/recipes/registry.ts';
import { blockLadder } from '#engine/recipes/block-ladder.ts';
import { copy } from '#engine/recipes/copy.ts';
import { existingMaterial } from '#engine/recipes/existing-material.ts';
import { fileScatter } from '#engine/recipes/file-scatter.ts';
import { longFill } from '#engine/recipes/long-fill.ts';
import { pacedFrames } from '#engine/recipes/paced-frames.ts';
import { replay } from '#engine/recipes/replay.ts';
import type { Recipe } from '#engine/recipes/recipe.ts';
import { shortPasses } from '#engine/recipes/short-passes.ts';
import { untilDecided } from '#engine/recipes/until-decided.ts';

/** A recipe whose options were checked by its kind. */
export type AnyRecipe = Recipe<object>;
const anyRecipe = <Options extends object>(recipe: Recipe<Options>) => recipe as unknown as AnyRecipe;

/** What carries out each recipe of core/3-jobs/recipes; a new one is a file and a line here. */
export const RECIPES: readonly AnyRecipe[] = [
  anyRecipe(shortPasses),
  anyRecipe(longFill),
  anyRecipe(pacedFrames),
  anyRecipe(blockLadder),
  anyRecipe(fileScatter),
  anyRecipe(existingMaterial),
  anyRecipe(replay),
  anyRecipe(copy),
  anyRecipe(untilDecided),
];

/** @throws Problem `bad-input` that lists what there is. */
export function recipeById(id: string): AnyRecipe {
  const kind = recipeKindById(id);
  return RECIPES.find((recipe) => recipe.kind.id === kind.id)!;
}
