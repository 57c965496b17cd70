import { ValidationError, string } from 'yup';
import { Problem, badInput } from '#core/1-ground/problem.ts';
import { blockLadderKind } from '#core/3-jobs/recipes/block-ladder.ts';
import { copyKind } from '#core/3-jobs/recipes/copy.ts';
import { existingMaterialKind } from '#core/3-jobs/recipes/existing-material.ts';
import { fileScatterKind } from '#core/3-jobs/recipes/file-scatter.ts';
import { longFillKind } from '#core/3-jobs/recipes/long-fill.ts';
import { pacedFramesKind } from '#core/3-jobs/recipes/paced-frames.ts';
import { replayKind } from '#core/3-jobs/recipes/replay.ts';
import type { RecipeKind } from '#core/3-jobs/recipes/recipe-kind.ts';
import { shortPassesKind } from '#core/3-jobs/recipes/short-passes.ts';
import { untilDecidedKind } from '#core/3-jobs/recipes/until-decided.ts';
import { schemaFault } from '#core/1-ground/schema/fault-words.ts';

/** A recipe of which nothing but its kind is known; its options are checked before they are used. */
// Options of one recipe are never given to another: the id leads to the schema that checks them.
export type AnyRecipeKind = RecipeKind<object>;
const anyKind = <Options extends object>(kind: RecipeKind<Options>) => kind as unknown as AnyRecipeKind;

/** Every recipe, in the order in which they are offered; a new one is a file and a line here. */
export const RECIPE_KINDS: readonly AnyRecipeKind[] = [
  anyKind(shortPassesKind),
  anyKind(longFillKind),
  anyKind(pacedFramesKind),
  anyKind(blockLadderKind),
  anyKind(fileScatterKind),
  anyKind(existingMaterialKind),
  anyKind(replayKind),
  anyKind(copyKind),
  anyKind(untilDecidedKind),
];

/** The id of a recipe, as documents hold it. */
export const recipeIdSchema = () =>
  string()
    .oneOf(RECIPE_KINDS.map((kind) => kind.id))
    .required();

/** @throws Problem `bad-input` that lists what there is. */
export function recipeKindById(id: string): AnyRecipeKind {
  const kind = RECIPE_KINDS.find((one) => one.id === id);
  if (!kind) {
    const known = RECIPE_KINDS.map((one) => one.id).join(', ');
    throw badInput('recipe', `recipe: there is no recipe “${id}”. There is: ${known}.`);
  }
  return kind;
}

/** The recipe's options with its defaults. @throws Problem naming the option at fault. */
export function checkOptions(kind: AnyRecipeKind, input: unknown): object {
  if (input !== undefined && (typeof input !== 'object' || input === null || Array.isArray(input))) {
    throw badInput('options', 'options: must be an object of option names and values.');
  }
  try {
    // Strict checking does not fill in defaults, and without it “3” would pass for 3.
    return kind.options.validateSync({ ...kind.options.getDefault(), ...input }, { strict: true });
  } catch (error) {
    if (error instanceof ValidationError)
      throw new Problem('bad-input', schemaFault(error).sentence, { where: error.path || 'options' });
    throw error;
  }
}
