import { setTimeout as wait } from 'node:timers/promises';
import * as chai from 'chai';
import { JestAsymmetricMatchers, JestChaiExpect, JestExtend } from '@vitest/expect';

/**
 * Runs test files where Vitest itself does not run, such as on Windows’ Node under Wine: what our tests use of it, one test
 * after the other in one process. `npm test` runs the same files with Vitest.
 */

chai.use(JestExtend);
chai.use(JestChaiExpect);
chai.use(JestAsymmetricMatchers);

type Body = (...values: never[]) => unknown;
interface Suite {
  name: string;
  isSkipped: boolean;
  before: Body[];
  after: Body[];
  beforeOne: Body[];
  afterOne: Body[];
  parts: (Suite | Test)[];
}
interface Test {
  name: string;
  isSkipped: boolean;
  run: () => unknown;
}

const suiteOf = (name: string, isSkipped: boolean): Suite => ({
  name,
  isSkipped,
  before: [],
  after: [],
  beforeOne: [],
  afterOne: [],
  parts: [],
});
let current = suiteOf('', false);

/** Names of cases hold their values as `%s` and `$name`. */
const nameOf = (name: string, values: readonly unknown[]): string => {
  let at = 0;
  return name.replace(/%[sdifjo]/g, () => String(values[at++]));
};
/** What follows a name: a body, with options of Vitest before or behind it. */
const bodyOf = (rest: readonly unknown[]): Body => rest.find((one) => typeof one === 'function') as Body;

type Declare = (name: string, values: readonly unknown[], isSkipped: boolean, body: Body) => void;

function declaring(declare: Declare) {
  const one = (isSkipped: boolean) => {
    const plain = (name: string, ...rest: unknown[]) => declare(name, [], isSkipped, bodyOf(rest));
    const each =
      (cases: readonly unknown[]) =>
      (name: string, ...rest: unknown[]) => {
        for (const values of cases.map((value): unknown[] => (Array.isArray(value) ? value : [value])))
          declare(nameOf(name, values), values, isSkipped, bodyOf(rest));
      };
    return Object.assign(plain, { each });
  };
  return Object.assign(one(false), { skip: one(true), skipIf: (skips: boolean) => one(skips) });
}

export const describe = declaring((name, values, isSkipped, body) => {
  const outer = current;
  current = suiteOf(name, isSkipped || outer.isSkipped);
  outer.parts.push(current);
  body(...(values as never[]));
  current = outer;
});
export const it = declaring((name, values, isSkipped, body) => {
  current.parts.push({ name, isSkipped: isSkipped || current.isSkipped, run: () => body(...(values as never[])) });
});
export const test = it;
export const beforeAll = (body: Body): void => void current.before.push(body);
export const afterAll = (body: Body): void => void current.after.push(body);
export const beforeEach = (body: Body): void => void current.beforeOne.push(body);
export const afterEach = (body: Body): void => void current.afterOne.push(body);

const PATIENCE_MILLISECONDS = 100_000;

/** Asks again until what is expected of the value holds. */
function poll(read: () => unknown, { timeout = PATIENCE_MILLISECONDS, interval = 50 } = {}) {
  return new Proxy(
    {},
    {
      get:
        (_target, matcher: string) =>
        async (...values: unknown[]) => {
          for (const end = Date.now() + timeout; ;) {
            try {
              const assertion = chai.expect(await read()) as unknown as Record<string, Body>;
              return assertion[matcher]!(...(values as never[]));
            } catch (error) {
              if (Date.now() > end) throw error;
              await wait(interval);
            }
          }
        },
    },
  );
}

export const expect = Object.assign(
  ((value: unknown, message?: string) => chai.expect(value, message)) as object,
  chai.expect,
  {
    poll,
  },
);

export const vi = {
  async waitUntil<T>(read: () => T, options: number | { timeout?: number; interval?: number } = {}): Promise<T> {
    const { timeout = PATIENCE_MILLISECONDS, interval = 50 } =
      typeof options === 'number' ? { timeout: options } : options;
    for (const end = Date.now() + timeout; ;) {
      const found = await read();
      if (found) return found;
      if (Date.now() > end) throw new Error('It did not become so in time.');
      await wait(interval);
    }
  },
};

export interface Outcome {
  passed: number;
  skipped: number;
  failed: { name: string; why: string }[];
}

async function carryOut(suite: Suite, path: string, outcome: Outcome, before: Body[], after: Body[]): Promise<void> {
  try {
    if (!suite.isSkipped) for (const body of suite.before) await body();
    for (const part of suite.parts) {
      const name = [path, part.name].filter(Boolean).join(' > ');
      if ('parts' in part) {
        await carryOut(part, name, outcome, [...before, ...suite.beforeOne], [...suite.afterOne, ...after]);
        continue;
      }
      if (part.isSkipped) {
        outcome.skipped += 1;
        continue;
      }
      try {
        for (const body of [...before, ...suite.beforeOne]) await body();
        await part.run();
        outcome.passed += 1;
      } catch (error) {
        outcome.failed.push({ name, why: (error as Error).stack ?? String(error) });
      } finally {
        for (const body of [...suite.afterOne, ...after]) await body();
      }
    }
    if (!suite.isSkipped) for (const body of suite.after) await body();
  } catch (error) {
    outcome.failed.push({ name: `${path} (around its tests)`, why: (error as Error).stack ?? String(error) });
  }
}

/** Carries out what a file declares when it is loaded. */
export async function runFile(name: string, load: () => Promise<unknown>): Promise<Outcome> {
  const outcome: Outcome = { passed: 0, skipped: 0, failed: [] };
  current = suiteOf(name, false);
  const file = current;
  try {
    await load();
  } catch (error) {
    outcome.failed.push({ name: `${name} (loading it)`, why: (error as Error).stack ?? String(error) });
    return outcome;
  }
  await carryOut(file, name, outcome, [], []);
  return outcome;
}
