import { jsonSchemaOf } from '#core/1-ground/schema/json-schema.ts';
import { parseDocument } from '#core/1-ground/schema/parse-document.ts';
import { settingsChangeSchema, type SettingsChange } from '#core/6-exchange/archive/settings.ts';
import { anything, body, get, json, operation, patch, type RouteGroup } from '#server/routes/describe.ts';
import { changeSettings, findSettings } from '#server/store/settings.ts';

export const settingsRoutes: RouteGroup = {
  tag: { name: 'Settings', description: 'How the workspace is looked at and measured where nothing else is said.' },
  routes({ db }) {
    return [
      get(
        '/settings',
        operation(
          'readSettings',
          'Settings of the workspace; null where nobody changed any',
          200,
          json('Settings', { type: ['object', 'null'] }),
        ),
        async (_request, response) => {
          response.json((await findSettings(db))?.document ?? null);
        },
      ),
      patch(
        '/settings',
        operation(
          'changeSettings',
          'Changes what is named and leaves the rest',
          200,
          json('Settings', anything),
          body(jsonSchemaOf(settingsChangeSchema)),
        ),
        async (request, response) => {
          const change = parseDocument(settingsChangeSchema, request.body, 'settings') as SettingsChange;
          response.json(await changeSettings(db, change));
        },
      ),
    ];
  },
};
