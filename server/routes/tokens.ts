import { object, string } from 'yup';
import { TOKEN_SCOPES } from '#core/6-exchange/api/wire.ts';
import { jsonSchemaOf } from '#core/1-ground/schema/json-schema.ts';
import { validated } from '#server/http/validate.ts';
import {
  all,
  anything,
  body,
  byId,
  get,
  json,
  list,
  nothing,
  operation,
  post,
  remove,
  type RouteGroup,
} from '#server/routes/describe.ts';
import { addToken, listTokens, revokeToken } from '#server/store/tokens.ts';

const newTokenSchema = object({
  name: string().trim().required('name: say whose it is.').max(80, 'name: is at most 80 characters long.'),
  /** Without one it may look. */
  scope: string().oneOf(TOKEN_SCOPES, `scope: is one of ${TOKEN_SCOPES.join(', ')}.`),
}).noUnknown('body: “${unknown}” is not known.');

export const tokenRoutes: RouteGroup = {
  tag: { name: 'Tokens', description: 'Who may come from other machines; for the machine’s own user alone.' },
  isOwn: true,
  routes({ db }) {
    return [
      get(
        '/tokens',
        operation('listTokens', 'Tokens, without what they are made of', 200, json('Tokens', list(anything))),
        async (_request, response) => {
          response.json(await listTokens(db));
        },
      ),
      post(
        '/tokens',
        operation(
          'addToken',
          'Makes a token, which is told this once',
          201,
          json('The token', anything),
          all(body(jsonSchemaOf(newTokenSchema)), { refuses: [409] }),
        ),
        async (request, response) => {
          const { name, scope } = validated(newTokenSchema, request.body);
          response.status(201).json(await addToken(db, name, scope ?? 'read'));
        },
      ),
      remove(
        '/tokens/{id}',
        operation('revokeToken', 'Revokes a token', 204, nothing('Revoked'), byId),
        async (request, response) => {
          await revokeToken(db, request.params.id);
          response.status(204).end();
        },
      ),
    ];
  },
};
