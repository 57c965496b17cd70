import { array, object, string } from 'yup';
import { parseWorkload } from '#core/3-jobs/demand/workload.ts';
import { badInput } from '#core/1-ground/problem.ts';
import { validated } from '#server/http/validate.ts';
import { jsonSchemaOf } from '#core/1-ground/schema/json-schema.ts';
import {
  all,
  body,
  byId,
  json,
  list,
  nothing,
  operation,
  ref,
  type RouteGroup,
  get,
  put,
  remove,
} from '#server/routes/describe.ts';
import { deleteWorkload, listWorkloads, orderWorkloads, saveWorkload } from '#server/store/workloads.ts';

/** The order in which workloads are listed, by their ids. */
const orderSchema = object({
  ids: array(string().required().max(80)).max(1000).required('ids: must list the workloads.'),
}).noUnknown('body: “${unknown}” is not known.');

export const workloadRoutes: RouteGroup = {
  tag: { name: 'Workloads', description: 'What is asked of drives.' },
  routes({ db }) {
    return [
      get(
        '/workloads',
        operation('listWorkloads', 'Workloads', 200, json('Workloads', list(ref('Workload')))),
        async (_request, response) => {
          response.json(await listWorkloads(db));
        },
      ),
      /** Keeps a workload whole; what is saved by a person is no example any more. */
      put(
        '/workloads/{id}',
        operation('saveWorkload', 'Keeps a workload whole', 204, nothing('Kept'), all(byId, body(ref('Workload')))),
        async (request, response) => {
          const workload = parseWorkload(request.body);
          if (workload.id !== request.params.id) throw badInput('id', 'id: is another than in the address.');
          await saveWorkload(db, { ...workload, example: false });
          response.status(204).end();
        },
      ),
      remove(
        '/workloads/{id}',
        operation('deleteWorkload', 'Deletes a workload', 204, nothing('Deleted'), byId),
        async (request, response) => {
          await deleteWorkload(db, request.params.id);
          response.status(204).end();
        },
      ),
      put(
        '/workload-order',
        operation('orderWorkloads', 'Orders the workloads', 204, nothing('Kept'), body(jsonSchemaOf(orderSchema))),
        async (request, response) => {
          const { ids } = validated(orderSchema, request.body);
          await orderWorkloads(db, ids);
          response.status(204).end();
        },
      ),
    ];
  },
};
