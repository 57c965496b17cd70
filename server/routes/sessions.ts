import { object, string } from 'yup';
import { jsonSchemaOf } from '#core/1-ground/schema/json-schema.ts';
import { validated } from '#server/http/validate.ts';
import {
  anything,
  body,
  json,
  nothing,
  operation,
  query,
  type RouteGroup,
  get,
  post,
  remove,
} from '#server/routes/describe.ts';

const codeSchema = object({ code: string().max(200).required('key: must be given.') }).noUnknown(
  'body: “${unknown}” is not known.',
);
const challengeSchema = object({ challenge: string().min(16).max(200).required() });

export const sessionRoutes: RouteGroup = {
  tag: { name: 'Sessions', description: 'Who is let in.' },
  isOwn: true,
  routes({ gate, address }) {
    return [
      // What is asked before somebody is let in; see server/http/security.ts.
      post(
        '/sessions',
        operation('openSession', 'Trades the code of an address for a session', 201, json('The session', anything), {
          ...body(jsonSchemaOf(codeSchema)),
          security: [],
        }),
        (request, response) => {
          response.status(201).json({ session: gate.letIn(validated(codeSchema, request.body).code) });
        },
      ),
      get(
        '/challenge',
        operation(
          'answerChallenge',
          'Proves that this server holds the key, without saying it',
          200,
          json('The answer', anything),
          {
            ...query(
              'challenge',
              { type: 'string', minLength: 16, maxLength: 200 },
              true,
              'What nobody else was asked.',
            ),
            security: [],
          },
        ),
        (request, response) => {
          response.json({ answer: gate.answer(validated(challengeSchema, request.query).challenge) });
        },
      ),
      get(
        '/sessions',
        operation('countSessions', 'How many browsers are let in', 200, json('Their number', anything)),
        (_request, response) => {
          response.json({ browsers: gate.sessionCount() });
        },
      ),
      remove(
        '/sessions/others',
        operation('endOtherSessions', 'Ends all sessions but one’s own', 204, nothing('Ended')),
        (request, response) => {
          gate.endOthers(request);
          response.status(204).end();
        },
      ),
      post(
        '/addresses',
        operation('makeAddress', 'An address that lets one browser in, once', 201, json('It', anything)),
        (_request, response) => {
          response.status(201).json({ address: address(gate.newCode()) });
        },
      ),
    ];
  },
};
