import { ValidationError } from 'yup';
import { Problem, badInput } from '#core/problem.ts';
import type { Recipe } from '#engine/recipes/recipe.ts';
import { shortPasses } from '#engine/recipes/short-passes.ts';

/** Every recipe; a new one is a file and a line here. */
const RECIPES: readonly Recipe<object>[] = [shortPasses];

export function recipeById(id: string): Recipe<object> {
  const recipe = RECIPES.find((one) => one.id === id);
  if (!recipe) {
    const known = RECIPES.map((one) => one.id).join(', ');
    throw badInput('recipe', `recipe: there is no recipe “${id}”. There is: ${known}.`);
  }
  return recipe;
}

/** The recipe's options with its defaults. @throws Problem naming the option at fault. */
export function checkOptions(recipe: Recipe<object>, input: unknown): object {
  if (input !== undefined && (typeof input !== 'object' || input === null || Array.isArray(input))) {
    throw badInput('options', 'options: must be an object of option names and values.');
  }
  try {
    // Strict checking does not fill in defaults, and without it “3” would pass for 3.
    return recipe.options.validateSync({ ...recipe.options.getDefault(), ...input }, { strict: true });
  } catch (error) {
    if (error instanceof ValidationError)
      throw new Problem('bad-input', error.message, { where: error.path || 'options' });
    throw error;
  }
}
