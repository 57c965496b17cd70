import type { Access, TokenScope } from '#core/6-exchange/api/wire.ts';
import { anything, get, json, operation, type RouteGroup } from '#server/routes/describe.ts';

export const accessRoutes: RouteGroup = {
  tag: { name: 'Access', description: 'What whoever asks may do.' },
  routes() {
    return [
      get(
        '/access',
        operation('readAccess', 'What whoever asks may do here', 200, json('What they may', anything)),
        (_request, response) => {
          const scope = response.locals['scope'] as TokenScope | undefined;
          response.json({ may: scope ?? 'everything' } satisfies Access);
        },
      ),
    ];
  },
};
