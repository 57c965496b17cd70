import { checkOptions, type AnyRecipeKind } from '#core/3-jobs/recipes/registry.ts';

/** Options last used with a recipe, or its defaults where what was kept no longer passes. */
export function optionsOf(kind: AnyRecipeKind, kept: Record<string, object>): object {
  try {
    return checkOptions(kind, kept[kind.id]);
  } catch {
    return checkOptions(kind, undefined);
  }
}
