import { mixed, number, object, string, type InferType } from 'yup';
import { jsonSchemaOf } from '#core/1-ground/schema/json-schema.ts';
import { RECIPE_KINDS, checkOptions, recipeKindById } from '#core/3-jobs/recipes/registry.ts';

/** How a workspace is looked at and measured where nothing else is said. There is one document of it in a workspace. */
export const SETTINGS_VERSION = 'settings/1';
export const SETTINGS_ID = 'workspace';

/** How much of a rate must be left over for *Holds*, and no *Tight*: at most twice what is asked for. */
const headroomShare = () => number().min(0).max(2);
/** Of pictures of traces. */
const traceAxis = () => string().oneOf(['bytes', 'seconds'] as const);
/** Options last used with each recipe, by its id; each is checked as it would be before a run. */
const recipeOptions = () =>
  mixed<Record<string, object>>((value): value is Record<string, object> => typeof value === 'object' && value !== null)
    .test('recipes', function (value) {
      try {
        for (const [id, options] of Object.entries(value ?? {})) checkOptions(recipeKindById(id), options);
        return true;
      } catch (error) {
        return this.createError({ message: (error as Error).message });
      }
    })
    .meta({
      jsonSchema: {
        type: 'object',
        properties: Object.fromEntries(RECIPE_KINDS.map(({ id, options }) => [id, jsonSchemaOf(options)])),
      },
    });

export const settingsSchema = object({
  tavrox: string()
    .oneOf([SETTINGS_VERSION] as const)
    .required(),
  id: string()
    .oneOf([SETTINGS_ID] as const)
    .required(),
  headroomShare: headroomShare().required(),
  traceAxis: traceAxis().required(),
  recipeOptions: recipeOptions().required(),
});
export type Settings = InferType<typeof settingsSchema>;

/** What of the settings is changed; options of the recipes that are named. */
export const settingsChangeSchema = object({
  headroomShare: headroomShare(),
  traceAxis: traceAxis(),
  recipeOptions: recipeOptions(),
}).noUnknown();
export type SettingsChange = Partial<Pick<Settings, 'headroomShare' | 'traceAxis' | 'recipeOptions'>>;

export const FIRST_SETTINGS: Settings = {
  tavrox: SETTINGS_VERSION,
  id: SETTINGS_ID,
  headroomShare: 0.25,
  traceAxis: 'bytes',
  recipeOptions: {},
};

/** Settings with a change in them: options of recipes that it does not name stay. */
export const changedSettings = (settings: Settings, change: SettingsChange): Settings => ({
  ...settings,
  ...change,
  recipeOptions: { ...settings.recipeOptions, ...change.recipeOptions },
});
