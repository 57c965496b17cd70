import { expose, proxy } from 'comlink';
import { describe, expect, it } from 'vitest';
import { badInput } from '#core/1-ground/problem.ts';
import { inWords, remoteWorker } from './remote.ts';

const functions = {
  double: inWords('It could not be doubled', (value: number, onStep: (value: number) => unknown) => {
    if (value < 0) throw badInput('value', 'The value must not be less than nothing.');
    if (value > 99) throw new Error('too large');
    onStep(value);
    return 2 * value;
  }),
};

/** A channel in place of a worker: this page has none. */
function channelWorker() {
  const { port1, port2 } = new MessageChannel();
  expose(functions, port2);
  const worker = Object.assign(port1, { terminate: () => port1.close(), onerror: null });
  port1.start();
  return worker as unknown as Worker;
}

describe('a worker that is called', () => {
  it('answers, and calls back on its way', async () => {
    const steps: number[] = [];
    const { call, unlessItFails, end } = remoteWorker<typeof functions>(channelWorker());
    await expect(
      unlessItFails(
        call.double(
          21,
          proxy((step: number) => steps.push(step)),
        ),
      ),
    ).resolves.toBe(42);
    await expect.poll(() => steps).toEqual([21]);
    end();
  });

  it.each([
    [-1, 'The value must not be less than nothing.'],
    [100, 'It could not be doubled: too large'],
  ])('says in a sentence what it could not do with %s', async (value, sentence) => {
    const { call, unlessItFails, end } = remoteWorker<typeof functions>(channelWorker());
    const nobody = proxy(() => undefined);
    await expect(unlessItFails(call.double(value, nobody))).rejects.toThrow(sentence);
    end();
  });

  it('rejects what it was asked for when it breaks off', async () => {
    const worker = channelWorker();
    const { unlessItFails, end } = remoteWorker<typeof functions>(worker);
    const answer = unlessItFails(new Promise<number>(() => undefined));
    worker.onerror!(Object.assign(new Event('error'), { message: 'out of memory' }) as ErrorEvent);
    await expect(answer).rejects.toThrow('It broke off (out of memory).');
    end();
  });
});
