import { object } from 'yup';
import { Problem } from '#core/1-ground/problem.ts';
import { jsonSchemaOf } from '#core/1-ground/schema/json-schema.ts';
import { faultsSchema } from '#core/4-runs/stand-ins/faults.ts';
import { STAND_INS } from '#engine/volumes/stand-in/catalogue.ts';
import { validated } from '#server/http/validate.ts';
import { all, anything, body, byId, json, operation, type RouteGroup, put } from '#server/routes/describe.ts';

const faultsBody = object({ faults: faultsSchema }).noUnknown('body: “${unknown}” is not known.');

export const standInRoutes: RouteGroup = {
  tag: { name: 'Stand-ins', description: 'Drives that are only made up, and what may go wrong with them.' },
  routes({ volumes }) {
    return [
      /** Faults that are switched on in a stand-in, for the runs that start from now on. */
      put(
        '/stand-ins/{id}/faults',
        operation(
          'setFaults',
          'Switches faults on in a stand-in',
          200,
          json('Faults', anything),
          all(byId, body(jsonSchemaOf(faultsBody))),
        ),
        (request, response) => {
          const { faults } = validated(faultsBody, request.body);
          const { id } = request.params;
          if (!STAND_INS.some((one) => one.id === id)) {
            throw new Problem('unknown-volume', `There is no stand-in “${id}”.`, { status: 404, where: 'id' });
          }
          volumes.faults.set(id, faults);
          response.json({ faults });
        },
      ),
    ];
  },
};
