import { number, object, string } from 'yup';
import { describe, expect, it } from 'vitest';
import { Problem } from '#core/1-ground/problem.ts';
import { oneOfKinds } from '#core/1-ground/schema/one-of-kinds.ts';
import { parseDocument } from '#core/1-ground/schema/parse-document.ts';
import { putSchema } from '#core/6-exchange/report/put.ts';

const kind = (name: string) => string().oneOf([name]).required();
const schema = oneOfKinds<{ kind: string }>([
  ['line', object({ kind: kind('line'), length: number().required() })],
  ['point', object({ kind: kind('point') })],
]);
const faultOf = (read: () => unknown): unknown => {
  try {
    return read();
  } catch (fault) {
    return fault;
  }
};

describe('one of several kinds', () => {
  it('is held to the schema of its own', () => {
    expect(schema.isValidSync({ kind: 'line', length: 2 })).toBe(true);
    expect(schema.isValidSync({ kind: 'line' })).toBe(false);
    expect(schema.isValidSync({ kind: 'point' })).toBe(true);
  });

  it.each(['constructor', 'toString', '__proto__', 'hasOwnProperty', 'ring', ''])(
    'that no kind has, such as “%s”, is a fault in words',
    (none) => {
      expect(schema.isValidSync({ kind: none })).toBe(false);
      expect(faultOf(() => parseDocument(putSchema, { kind: none, runId: 'run-1' }, 'body'))).toBeInstanceOf(Problem);
    },
  );

  it('is a fault where there is nothing', () => {
    for (const nothing of [null, undefined]) expect(schema.isValidSync(nothing)).toBe(false);
  });
});
